#pragma once

#include <QLabel>
#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "app/editor/text_notes.h"
#include "core/base/shared_text.h"
#include "core/base/text_history.h"
#include "core/snippet/template.h"
#include "core/sql/complete/completion.h"
#include "core/sql/meaning/pairs.h"
#include "core/sql/text/text_edit.h"
#include "core/work/text_reading.h"

namespace pantry::app {

class EditorArea;

/// The text of a sheet: colours, line numbers, statement rail with outcomes, completion. What it shows of the text is
/// found elsewhere, and told it for a version of the text; until the next is told, it shows the last one where that has
/// moved to. Offsets are bytes of the UTF-8 text.
///
/// Threads:  the window's thread.
class SqlEditor : public QWidget {
    Q_OBJECT

public:
    explicit SqlEditor(QWidget* parent = nullptr);
    ~SqlEditor() override;

    /// What was found in a version of the text: colours, statements, mistakes of JSON. Marks and hints are set for it
    /// afterwards. Of a text too large to be read it only edits: each key then costs the same, however long the text
    /// is.
    void setReading(const work::TextReadingPtr& reading);
    /// The answer to completionRequested(); nothing happens when something else was asked since, or written.
    void offer(const sql::Completion& completion, quint64 question);

    /// What is written; a copy is cheap, whatever its size.
    [[nodiscard]] const base::SharedText& text() const;
    /// Replaces everything and forgets what could be undone.
    void resetText(const base::SharedText& text);
    /// What can be undone is written down there from now on, and read from there; it outlives the editor. Without
    /// one, the editor has its own.
    void setHistory(base::TextHistory& history);
    /// Replaces everything as one step that can be undone.
    void replaceText(const std::string& text, std::size_t caret);
    /// Of a text of more than a megabyte a part is shown, and the part follows the caret.
    struct Part {
        long firstLine = 1;
        long lastLine = 1;
        bool isFirst = true;
        bool isLast = true;
    };
    [[nodiscard]] Part part() const;
    /// Goes to the part before or behind the one that is shown.
    void showPart(bool later);
    /// Puts text at the caret, in place of the selection.
    void insertText(const std::string& text);
    void insertAt(std::size_t offset, const std::string& text);
    /// Puts text below everything, after a blank line, with the caret behind it.
    void appendBelow(const std::string& text);

    [[nodiscard]] std::size_t caret() const;
    void setCaret(std::size_t offset);
    /// As people count, from 1, the column in characters; none where counting would take too long.
    struct CaretPlace {
        long line = 1;
        std::optional<long> column;
    };
    [[nodiscard]] CaretPlace caretPlace() const;
    [[nodiscard]] std::string selection() const;
    [[nodiscard]] std::size_t selectionStart() const;
    void select(std::size_t start, std::size_t end);

    /// Of statements that ran, in their order.
    void setMarks(std::vector<StatementMark> marks);
    [[nodiscard]] const std::vector<StatementMark>& marks() const;
    void setHints(std::vector<TextHint> hints);
    [[nodiscard]] const std::vector<TextHint>& hints() const;
    /// Carries out the mend at the caret: that of its line, else the next one; false when there is none.
    bool mend();
    /// What is marked at the caret, or right before it; nullptr when nothing is. Until the marks are others.
    [[nodiscard]] const TextHint* hintAtCaret() const;
    /// Underlines the token at a place of the text that was read last; -1 takes the line away.
    void setErrorAt(std::int64_t offset);

    /// What the whole text takes, with a line to go on in; in pixels.
    [[nodiscard]] int contentHeight() const;
    void setTextSize(int points);
    void complete();
    [[nodiscard]] bool isCompleting() const;
    void toggleComment();
    void undo();
    void redo();

    /// A text to look at: it is selected and copied, not changed.
    void setReadOnly(bool isReadOnly);

    // How it is shown
    void setWrapped(bool isWrapped);
    [[nodiscard]] bool isWrapped() const;
    void setBlanksShown(bool areShown);
    [[nodiscard]] bool areBlanksShown() const;
    void setNumbersShown(bool areShown);
    [[nodiscard]] bool areNumbersShown() const;
    /// Whether brackets and quotes close themselves.
    void setClosesPairs(bool closes);
    /// To a line, from 1; the last one when there are fewer.
    void goToLine(long line);
    /// To the bracket that belongs to the one at the caret.
    /// Marks what belongs together at the caret.
    void showPair(const std::optional<sql::TextPair>& pair);
    /// How deep each line of the text lies in what can be folded.
    void setFolds(const std::vector<sql::FoldLine>& folds);
    /// Folds away, or shows again, what begins at the caret's line, or else what it is in.
    void foldAtCaret();
    void foldEverything(bool isFolded);
    /// Of how many blanks a step of indentation is.
    void setIndentWidth(int blanks);

    /// Carries out changes of the text as one step; the caret stays on its character. In their order, none within
    /// another.
    void apply(const std::vector<sql::TextEdit>& edits);
    /// A caret for each place, which is selected: what is typed goes to all of them. The first one is the main one.
    void selectEach(const std::vector<sql::TextRange>& places);
    /// Marks where a name stands.
    void markUses(const std::vector<sql::TextRange>& places);

    /// Marks what was looked for.
    void markFound(const std::vector<sql::TextRange>& places);

    /// Ways of changing the lines that the selection touches, and the selection.
    enum class LineChange { MoveUp, MoveDown, Duplicate, Join, Sort };
    void changeLines(LineChange change);
    enum class Letters { Capital, Small };
    void changeLetters(Letters letters);
    /// Selects the word at the caret, or, when something is selected, also its next occurrence.
    void addNextOccurrence();
    /// Selects every occurrence of what is selected, or of the word at the caret; says how many.
    int selectAllOccurrences();
    /// One more caret in the line above the first one, or below the last one.
    void addCaret(bool isBelow);
    [[nodiscard]] int carets() const;

    /// What is shown below the caret's line until Esc, or until something is written; takes it. nullptr closes it.
    void showInset(QWidget* inset);
    [[nodiscard]] QWidget* inset() const;
    /// It has another height now.
    void placeInset();
    /// Where something that belongs to a byte of the text opens, on the screen: below its line.
    [[nodiscard]] QPoint pointBelow(std::size_t offset) const;
    /// Puts a template in place of bytes of the text, and goes through its places: Tab and Shift+Tab walk, Esc ends.
    /// `columns`: of a table, for the parts that are repeated.
    void fillIn(std::size_t start, std::size_t length, const snippet::Template& from, snippet::ColumnsOf columns);
    /// The place that is being filled in, and what stands in the place whose table its columns are of.
    [[nodiscard]] const snippet::Place* snippetPlace() const;
    [[nodiscard]] std::string snippetTable() const;
    /// What the place that is being filled in can be filled with, each with what it is.
    void offerForPlace(const std::vector<std::pair<std::string, std::string>>& choices);
    /// Whether a place of the template that was put in last, strings and comments included, stands open between two
    /// bytes of the text.
    [[nodiscard]] bool hasOpenPlace(std::size_t start, std::size_t end) const;
    /// Shows above the line which arguments the call at the caret takes; an empty text takes it away.
    void showSignature(const QString& richText);
    [[nodiscard]] bool isSignatureShown() const;
    /// Says what a name is at the pointer, while that is still there.
    void tellAt(const QPoint& global, const QString& text);

Q_SIGNALS:
    void textEdited();
    /// Somebody writes where something could be offered, or asks.
    void completionRequested(std::size_t caret, quint64 question, bool isAsked);
    void caretMoved();
    /// Another part of a large text is shown.
    void partChanged();
    /// Everything was to be selected, and only the part can be.
    void partSelected();
    /// The key of a command was pressed that works in the text.
    void commandRequested(const QString& id);
    /// A snippet was taken from the list, in place of these bytes.
    void snippetChosen(const QString& trigger, std::size_t start, std::size_t length);
    /// The arguments of a call are begun or gone on with, or the caret has moved while they are shown.
    void signatureRequested(std::size_t caret);
    /// Another place of a template is to be filled in.
    void placeEntered();
    /// The pointer rests on a byte of the text about which nothing else is to be said.
    void nameAsked(std::size_t offset, const QPoint& global);
    /// A byte of the text was clicked while Ctrl was held.
    void nameChosen(std::size_t offset);
    /// Rail or outcome of a statement was clicked.
    void markClicked(int statementIndex);

private:
    EditorArea* area_;
    QLabel* signature_;
};

}  // namespace pantry::app
