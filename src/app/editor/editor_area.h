#pragma once

#include <Qsci/qsciscintilla.h>

#include <QPointer>
#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "app/editor/completion_popup.h"
#include "app/editor/sql_editor.h"
#include "app/editor/text_notes.h"
#include "core/base/shown_text.h"
#include "core/base/text_history.h"
#include "core/snippet/session.h"

namespace pantry::app {

/// The editor component with our colours and what we paint over it.
class EditorArea : public QsciScintilla, public TextGeometry {
public:
    enum Margin { kNumberMargin, kRailMargin, kFoldMargin };
    static constexpr int kFoldWidth = 14;  ///< of the margin for folds, there before any are known: no text moves
    /// Of what is marked in the text; a later one lies above the others where they meet.
    enum Indicator {
        kErrorIndicator = 9,
        kPlaceIndicator,  ///< of a template

        kJsonIndicator,
        kQuietHintIndicator,
        kUseIndicator,
        kPairIndicator,
        kLoneIndicator,  ///< a bracket whose other one is missing
        kFoundIndicator,
        kWarningHintIndicator,
        kErrorHintIndicator
    };
    static constexpr unsigned long kNarrow = 100;  ///< pixels that can be scrolled through while nothing wider is shown

    explicit EditorArea(SqlEditor* owner);
    base::ShownText shown;
    TextNotes notes{*this};
    CompletionPopup* popup = nullptr;

    /// Whether the text is looked at: it may be too large for colours, marks and completion.
    [[nodiscard]] bool hasHelpers() const { return notes.reading() == nullptr || !notes.reading()->isTooLarge(); }
    /// What was found in a text that means to be JSON.
    [[nodiscard]] const exchange::JsonOutline* json() const;

    /// Where a place of the component is in the text.
    [[nodiscard]] std::size_t textAt(long place) const { return shown.textAt(static_cast<std::size_t>(place)); }
    /// Where a byte of the text stands in the component; at its edge when it does not hold that byte.
    [[nodiscard]] unsigned long shownAt(std::size_t offset) const;
    [[nodiscard]] std::size_t partEnd() const { return textAt(SendScintilla(SCI_GETLENGTH)); }
    [[nodiscard]] std::size_t caretOffset() const { return textAt(SendScintilla(SCI_GETCURRENTPOS)); }
    [[nodiscard]] std::string selection() const;
    void resetContent(const base::SharedText& text);
    /// As wide as what is shown from now on, not as what was shown before.
    void scrollToLeft();
    void noteEdit(std::size_t at, std::size_t removed, std::size_t inserted, const base::SharedText& after);

    // What can be undone (editor_area_history.cpp)
    void setHistory(base::TextHistory& history) { history_ = &history; }
    void forgetSteps();
    void undo() override { undoStep(); }
    void redo() override { redoStep(); }
    void undoStep();
    void redoStep();

    /// Makes the component hold a place of the text. It forgets its steps; ours stay.
    void showAround(std::size_t offset);

    /// Moves the part so that there is text on both sides of a place of it, which stays where it is on the screen.
    void centreOn(std::size_t offset);

    /// Makes the component hold a place, when it does not.
    void reveal(std::size_t offset);

    /// Puts a text in place of all, as one step that can be undone.
    void replaceAll(const std::string& with);
    void replaceSelection(const std::string& with);
    void insertAtOffset(std::size_t offset, const std::string& with);

    /// Colours from the line of the first byte not coloured yet up to `end`. While what was read is older than the
    /// text, bytes keep the colours that they have: what is read next says it better, in a moment.
    void colourUpTo(int end);

    /// What is typed looks like what stands before it until it is read: nothing flickers.
    void colourAsBefore(long at, long length);

    /// Shows what was found in a version of the text, which may be the one before the last key.
    void setReading(const work::TextReadingPtr& reading);

    void showPair(const std::optional<sql::TextPair>& pair);
    /// How deep the lines lie in what can be folded; of a text that is shown as it is.
    void setFolds(const std::vector<sql::FoldLine>& folds);
    /// Whether a key begins a line of SQL, which is to stand as deep as the formatter would put it.
    [[nodiscard]] bool beginsLine(const QKeyEvent* event) const;
    void indentLine();
    void foldAtCaret();
    void foldEverything(bool isFolded);
    /// Folds and mistakes of a text that means to be JSON.
    void showJson();

    /// From the statement at a place of the text on, everything is to have its colours anew; what is seen is coloured
    /// when it is painted. A quote may have changed everything below, and nothing above.
    void recolourFrom(std::size_t offset);
    void fitNumbers();
    void setNumbersShown(bool areShown);
    void setClosesPairs(bool closes) { closesPairs_ = closes; }
    [[nodiscard]] bool areNumbersShown() const { return areNumbersShown_; }
    void goToLine(long line);

    /// What looks at the whole text with each key is on or off now.
    void noteHelpers();

    // Filling in a template (editor_area_snippet.cpp)
    void fillIn(std::size_t start, std::size_t length, const snippet::Template& from, snippet::ColumnsOf columns);
    [[nodiscard]] const std::optional<snippet::Session>& filling() const { return filling_; }
    void offerForPlace(const std::vector<std::pair<std::string, std::string>>& choices);
    /// The text of the template as it stands now.
    [[nodiscard]] std::string filledText() const;

    // Many carets and whole lines (editor_area_carets.cpp)
    void apply(const std::vector<sql::TextEdit>& edits);
    void selectEach(const std::vector<sql::TextRange>& places);
    void markUses(const std::vector<sql::TextRange>& places);
    void markFound(const std::vector<sql::TextRange>& places);
    void changeLines(SqlEditor::LineChange change);
    void changeLetters(SqlEditor::Letters letters);
    bool addNextOccurrence();
    int selectAllOccurrences();
    void addCaret(bool isBelow);
    [[nodiscard]] int carets() const { return static_cast<int>(SendScintilla(SCI_GETSELECTIONS)); }
    void showInset(QWidget* inset);
    [[nodiscard]] QWidget* inset() const { return inset_; }
    void placeInset();

    /// Whether a line of the component is a further row of a long line.
    [[nodiscard]] bool isContinuedRow(int line) const;

    /// The lines that the selection touches, or that of the caret.
    [[nodiscard]] std::pair<int, int> selectedLines() const;

    /// The number that people give a line of the component, which may be one of several rows of a long line.
    [[nodiscard]] long numberOf(long line) const;
    [[nodiscard]] SqlEditor::CaretPlace caretPlace() const;

    /// Asks what could stand at the caret; offer() shows it. `isAsked`: by somebody, and not only by a letter.
    void complete(bool isAsked);

    /// Opens, refreshes or closes the list of completions.
    void offer(const sql::Completion& completion, quint64 question);
    void takeCompletion();

    /// FROM on a line of its own behind the list, before the caret's name is written.
    void writeFrom(const std::string& from, std::size_t at);
    [[nodiscard]] std::string lineEnd() const;
    void markHints();
    void applyTheme();

    /// Changes the text as a hint proposes, as a step of its own; the caret stays on its character.
    void carryOut(const TextHint& hint);

    // Where lines are drawn
    [[nodiscard]] std::optional<Extent> linesOf(std::size_t start, std::size_t end) const override;
    [[nodiscard]] std::optional<Extent> lineOf(std::size_t place) const override;
    [[nodiscard]] std::pair<std::size_t, std::size_t> bytesInSight() const override;
    [[nodiscard]] std::size_t caretByte() const override { return caretOffset(); }
    [[nodiscard]] int shownWidth() const override { return viewport()->width(); }
    [[nodiscard]] int lineHeight() const override { return textHeight(0); }
    [[nodiscard]] int railLeft() const override { return marginWidth(kNumberMargin); }
    /// Where the text begins, behind the margins.
    [[nodiscard]] int textLeft() const override;

    /// What is scrolled to the side goes back to where lines begin, as soon as the caret is in sight there; while
    /// something is selected only when that is said.
    void showLineStarts(bool alsoOfSelection = false);

protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

    /// A key that takes from the list waits until the list is that of the letters before it.
    bool waitsForOffer(const QKeyEvent* event);
    bool takesPopupKey(QKeyEvent* event);
    void focusOutEvent(QFocusEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

    /// At the edge of a part, the wheel goes on into the next one.
    void wheelEvent(QWheelEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

    /// What is copied is the text, and what is put in has its long lines broken before it is laid out.
    QMimeData* toMimeData(const QByteArray& copied, bool isRectangular) const override;
    QByteArray fromMimeData(const QMimeData* source, bool& isRectangular) const override;
    void mousePressEvent(QMouseEvent* event) override;

    /// The whole message, which may not find room behind its line.
    bool viewportEvent(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void replaceTarget(const std::string& with);

    /// Keeps the text in step with the component, so that nobody has to read all of it after each key.
    void noteModified(int at, int kind, std::string_view changed);
    void noteStep(int kind, base::TextChange change);
    void carryOut(const base::TextStep& changes);

    /// What the component holds becomes a part, or all again, as soon as it can take it.
    void lookAtSize();
    [[nodiscard]] bool isHeldAsItShould() const;

    /// A key at the edge of a part means what lies beyond: the part moves first. Ctrl with Home and End mean the text.
    void followKey(const QKeyEvent* event);

    /// A row that grew too long is broken as soon as the component can take it.
    void lookForLongRows(int at, std::string_view inserted);
    void breakRow(long line);

    /// Tab moves lines in; of a line in several rows only the first can be meant.
    bool indentsRows(const QKeyEvent* event);

    /// At a break, a key means the character beyond it.
    void stepOverBreak(const QKeyEvent* event);

    /// Neither the caret nor the other end of the selection stays within a break, where a key would tear it.
    void leaveBreak(bool forward);

    /// The component would count the rows of a long line.
    void paintNumbers(QPainter& painter);
    bool takesSnippetKey(const QKeyEvent* event);
    void goToPlace(bool isNext);
    void enterPlace();
    void markPlaces();
    void renewRepeated();
    void narrowChoices();
    void fillPlaceWith(const std::string& text);
    bool closesOne();

    // What closes itself (editor_area_closing.cpp)
    bool takesClosing(const QKeyEvent* event);
    bool surrounds(const QKeyEvent* event);
    [[nodiscard]] char closingDue(const QKeyEvent* event) const;
    void writeClosing(char closing);
    /// Behind the name of a function that was chosen from the list.
    void closeCall();
    void forgetClosing(long place);
    [[nodiscard]] bool isWaiting(long place) const;
    [[nodiscard]] bool isCaretInText(long caret) const;
    [[nodiscard]] char signAt(long place) const;

    void markRanges(int indicator, const std::vector<sql::TextRange>& places, std::size_t most);
    void moveLines(int first, int last, bool isDown);
    void selectWord();
    bool addCaretAt(const QMouseEvent* event);

    SqlEditor* owner_;
    bool areNumbersShown_ = true;
    bool closesPairs_ = true;
    std::vector<long> closings_;  // how far from the end signs stand that closed themselves
    std::optional<snippet::Session> filling_;
    snippet::ColumnsOf columnsOf_;
    std::vector<std::pair<std::string, std::string>> choices_;  // of the place that is being filled in
    bool isPlaceTouched_ = false;                               // something was typed into it
    QPointer<QWidget> inset_;
    std::vector<std::pair<long, long>>
        caretsBefore_;  // anchor and caret of each, before the mouse was pressed with Alt
    base::TextHistory ownHistory_;
    base::TextHistory* history_ = &ownHistory_;
    bool isRepeating_ = false;     // what the history says is carried out
    bool isShowing_ = false;       // the component is being filled, and the text stays
    std::size_t changedFrom_ = 0;  // the first byte that was changed since the text was coloured

    // What completion was asked for last
    quint64 question_ = 0;
    bool isAsked_ = false;
    base::SharedText askedFor_;
    std::size_t askedAt_ = 0;
    bool isAnswerDue_ = false;
    Qt::Key waitingKey_ = Qt::Key_unknown;  // pressed while the answer is due
};

}  // namespace pantry::app
