#include "app/editor/sql_editor.h"

#include <Qsci/qsciscintilla.h>

#include <QApplication>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>
#include <QToolTip>
#include <QVBoxLayout>
#include <algorithm>
#include <optional>
#include <utility>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/editor/completion_popup.h"
#include "app/editor/editor_keys.h"
#include "app/editor/text_styles.h"
#include "app/look/theme.h"
#include "core/base/shown_text.h"
#include "core/base/utf8.h"

namespace pantry::app {
namespace {

constexpr int kErrorIndicator = 9;
constexpr int kParameterIndicator = 10;
constexpr int kNumberMargin = 0;
constexpr int kRailMargin = 1;
constexpr int kFoldMargin = 2;
constexpr int kFoldWidth = 14;
constexpr int kJsonIndicator = 11;
constexpr int kErrorHintIndicator = 15;  // above the others where they meet
constexpr int kWarningHintIndicator = 14;
constexpr int kQuietHintIndicator = 12;
// What is pasted stays whole up to here, so that it can be taken back; more becomes a part. (The component counts the
// characters before the caret with each key, for assistive programs, so that a key costs the more the further down.)
constexpr long kMaxHeld = 4 << 20;
constexpr unsigned long kNarrow = 100;  // pixels that can be scrolled through while nothing wider is shown

long rgb(const QColor& colour) { return colour.red() | colour.green() << 8 | colour.blue() << 16; }

}  // namespace

/// The editor component with our colours and what we paint over it.
class SqlEditor::Area : public QsciScintilla, public TextGeometry {
public:
    explicit Area(SqlEditor* owner) : QsciScintilla(owner), owner_(owner) {
        setUtf8(true);
        setEolMode(EolUnix);
        setFrameShape(QFrame::NoFrame);
        setIndentationsUseTabs(false);
        setTabWidth(4);
        setAutoIndent(true);
        setBackspaceUnindents(true);
        setBraceMatching(SloppyBraceMatch);
        setMarginType(kNumberMargin, NumberMargin);
        setMarginType(kRailMargin, TextMargin);
        setMarginWidth(kRailMargin, TextNotes::kRailWidth);
        setFolding(PlainFoldStyle, kFoldMargin);
        for (int margin = 2; margin < 5; ++margin) setMarginWidth(margin, 0);
        setExtraAscent(2);
        setExtraDescent(2);
        SendScintilla(SCI_SETLEXER, SCLEX_CONTAINER);
        SendScintilla(SCI_SETMULTIPLESELECTION, 1);
        SendScintilla(SCI_SETADDITIONALSELECTIONTYPING, 1);
        SendScintilla(SCI_SETSCROLLWIDTHTRACKING, 1);
        SendScintilla(SCI_SETSCROLLWIDTH, kNarrow);
        SendScintilla(SCI_SETLAYOUTCACHE, static_cast<unsigned long>(SC_CACHE_PAGE));
        SendScintilla(SCI_SETMARGINLEFT, 0, 4);
        SendScintilla(SCI_INDICSETSTYLE, kErrorIndicator, INDIC_SQUIGGLE);
        SendScintilla(SCI_INDICSETSTYLE, kJsonIndicator, INDIC_SQUIGGLE);
        for (const int hint : {kErrorHintIndicator, kWarningHintIndicator, kQuietHintIndicator})
            SendScintilla(SCI_INDICSETSTYLE, static_cast<unsigned long>(hint), INDIC_SQUIGGLE);
        SendScintilla(SCI_INDICSETSTYLE, kParameterIndicator, INDIC_DOTS);
        bindEditorKeys(*this);
        // How a break in a very long line looks: it is none of the text.
        SendScintilla(SCI_SETREPRESENTATION, base::SoftBreaks::kSign.data(), "\u21b5");
        connect(this, &QsciScintillaBase::SCN_MODIFIED, this,
                [this](int at, int kind, const char* changed, int length) {
                    if (changed != nullptr) noteModified(at, kind, {changed, static_cast<std::size_t>(length)});
                });
        connect(this, &QsciScintillaBase::SCN_STYLENEEDED, this, [this](int end) { colourUpTo(end); });
        connect(this, &QsciScintilla::cursorPositionChanged, this, [this] { Q_EMIT owner_->caretMoved(); });
        connect(this, &QsciScintilla::linesChanged, this, [this] { fitNumbers(); });
        fitNumbers();
    }

    base::ShownText shown;
    TextNotes notes{*this};
    CompletionPopup* popup = nullptr;

    /// Whether the text is looked at: it may be too large for colours, marks and completion.
    [[nodiscard]] bool hasHelpers() const { return notes.reading() == nullptr || !notes.reading()->isTooLarge(); }
    /// What was found in a text that means to be JSON.
    [[nodiscard]] const exchange::JsonOutline* json() const {
        return notes.reading() != nullptr && notes.reading()->json() ? &*notes.reading()->json() : nullptr;
    }

    /// Where a place of the component is in the text.
    [[nodiscard]] std::size_t textAt(long place) const { return shown.textAt(static_cast<std::size_t>(place)); }
    /// Where a byte of the text stands in the component; at its edge when it does not hold that byte.
    [[nodiscard]] unsigned long shownAt(std::size_t offset) const {
        return shown.shownAt(offset, static_cast<std::size_t>(SendScintilla(SCI_GETLENGTH)));
    }
    [[nodiscard]] std::size_t partEnd() const { return textAt(SendScintilla(SCI_GETLENGTH)); }
    [[nodiscard]] std::size_t caretOffset() const { return textAt(SendScintilla(SCI_GETCURRENTPOS)); }
    [[nodiscard]] std::string selection() const {
        const std::size_t start = textAt(SendScintilla(SCI_GETSELECTIONSTART));
        return shown.text().part(start, textAt(SendScintilla(SCI_GETSELECTIONEND)) - start);
    }

    void resetContent(const base::SharedText& text) {
        noteEdit(0, shown.text().size(), text.size(), text);
        shown.setText(text);
        showAround(0);
    }

    void noteEdit(std::size_t at, std::size_t removed, std::size_t inserted, const base::SharedText& after) {
        if (notes.reading() != nullptr) notes.edits().note(at, removed, inserted, after);
        changedFrom_ = std::min(changedFrom_, at);
    }

    /// Makes the component hold a place of the text, and forgets what could be undone.
    void showAround(std::size_t offset) {
        const std::string held = shown.showAround(offset);
        isShowing_ = true;
        SendScintilla(SCI_SETUNDOCOLLECTION, 0UL);
        SendScintilla(SCI_CLEARALL);
        SendScintilla(SCI_APPENDTEXT, static_cast<unsigned long>(held.size()), held.data());
        SendScintilla(SCI_SETUNDOCOLLECTION, 1UL);
        SendScintilla(SCI_EMPTYUNDOBUFFER);
        isShowing_ = false;
        fitNumbers();
        recolourFrom(0);
        Q_EMIT owner_->partChanged();
    }

    /// Moves the part so that there is text on both sides of a place of it, which stays where it is on the screen.
    void centreOn(std::size_t offset) {
        const auto rowOf = [&] { return SendScintilla(SCI_LINEFROMPOSITION, shownAt(offset)); };
        const long above = rowOf() - SendScintilla(SCI_GETFIRSTVISIBLELINE);
        showAround(offset);
        SendScintilla(SCI_GOTOPOS, shownAt(offset));
        SendScintilla(SCI_SETFIRSTVISIBLELINE, static_cast<unsigned long>(std::max(0L, rowOf() - above)));
    }

    /// Makes the component hold a place, when it does not.
    void reveal(std::size_t offset) {
        if (shown.isPart() && (offset < shown.partStart() || offset > partEnd())) showAround(offset);
    }

    /// Puts a text in place of all, as one step that can be undone as long as the component holds all of it.
    void replaceAll(const std::string& with) {
        if (shown.isPart() || with.size() > base::ShownText::kWhole) {
            resetContent(with);
            return Q_EMIT owner_->textEdited();
        }
        const std::string rows = shown.rowsOfAll(with);
        SendScintilla(SCI_SETTARGETRANGE, 0UL, SendScintilla(SCI_GETLENGTH));
        SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(rows.size()), rows.data());
    }
    void replaceSelection(const std::string& with) {
        SendScintilla(SCI_TARGETFROMSELECTION);
        replaceTarget(with);
        SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(SendScintilla(SCI_GETTARGETEND)));
    }
    void insertAtOffset(std::size_t offset, const std::string& with) {
        reveal(offset);
        SendScintilla(SCI_SETTARGETRANGE, shownAt(offset), static_cast<long>(shownAt(offset)));
        replaceTarget(with);
    }

    /// Colours from the line of the first byte not coloured yet up to `end`. While what was read is older than the
    /// text, bytes keep the colours that they have: what is read next says it better, in a moment.
    void colourUpTo(int end) {
        const long from =
            SendScintilla(SCI_POSITIONFROMLINE, SendScintilla(SCI_LINEFROMPOSITION, SendScintilla(SCI_GETENDSTYLED)));
        const long length = SendScintilla(SCI_GETLENGTH);
        const long to = std::min<long>(std::max<long>(end, from), length);
        if (!hasHelpers()) return void(SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(length)));
        if (!notes.isFresh()) {
            changedFrom_ = std::min(changedFrom_, textAt(from));
            return void(SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(to)));
        }
        SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(from));
        const std::string styles = shown.breaks().spread(
            static_cast<std::size_t>(from), static_cast<std::size_t>(to - from),
            stylesOf(*notes.reading(), textAt(from), textAt(to)), static_cast<char>(TextStyle::Plain));
        SendScintilla(SCI_SETSTYLINGEX, static_cast<unsigned long>(styles.size()), styles.data());
    }

    /// What is typed looks like what stands before it until it is read: nothing flickers.
    void colourAsBefore(long at, long length) {
        if (at > SendScintilla(SCI_GETENDSTYLED)) return;  // nothing there has a colour yet
        const long before = at > 0 ? SendScintilla(SCI_GETSTYLEAT, static_cast<unsigned long>(at - 1)) : 0;
        SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(at));
        SendScintilla(SCI_SETSTYLING, static_cast<unsigned long>(length), before);
    }

    /// Shows what was found in a version of the text, which may be the one before the last key.
    void setReading(const work::TextReadingPtr& reading) {
        const bool wasJson = json() != nullptr;
        const bool hadHelpers = hasHelpers();
        const bool isOfNow = reading->text().isCopyOf(shown.text());
        if (isOfNow || (notes.reading() == nullptr && reading->isTooLarge())) {
            notes.edits().forget();
        } else if (!notes.edits().settle(reading->text())) {
            return;  // of a text that was taken away since; the next one is on its way
        }
        const bool isLookedAtAnew = notes.reading() == nullptr || notes.reading()->language() != reading->language();
        notes.setReading(reading);
        if (hadHelpers != hasHelpers()) noteHelpers();
        if (json() != nullptr || wasJson) showJson();
        if (isOfNow) recolourFrom(isLookedAtAnew ? 0 : std::exchange(changedFrom_, shown.text().size()));
        viewport()->update();
    }

    /// Folds and mistakes of a text that means to be JSON.
    void showJson() {
        const long length = SendScintilla(SCI_GETLENGTH);
        setMarginWidth(kFoldMargin, json() != nullptr ? kFoldWidth : 0);
        setMarginWidth(kRailMargin, json() != nullptr ? 0 : TextNotes::kRailWidth);
        if (notes.isFresh()) setFoldLevels();
        SendScintilla(SCI_SETINDICATORCURRENT, kJsonIndicator);
        SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, length);
        if (json() == nullptr || !json()->problem) return setAccessibleDescription({});
        const std::size_t place = notes.edits().now(json()->problem->byteOffset);
        const auto at = std::min<long>(static_cast<long>(shownAt(place)), std::max(0L, length - 1));
        SendScintilla(SCI_INDICATORFILLRANGE, static_cast<unsigned long>(at), std::min(1L, length));
        const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(at));
        setAccessibleDescription(SqlEditor::tr("Line %1: %2").arg(numberOf(line)).arg(toQt(json()->problem->message)));
    }

    void setFoldLevels() {
        std::vector<int> deeper(static_cast<std::size_t>(lines()) + 1, 0);  // than the line before
        std::vector<char> opens(deeper.size(), 0);
        const auto lineOf = [this](std::uint32_t offset) {
            return static_cast<std::size_t>(SendScintilla(SCI_LINEFROMPOSITION, shownAt(offset)));
        };
        for (const exchange::JsonFold& pair : json() != nullptr ? json()->folds : std::vector<exchange::JsonFold>()) {
            const std::size_t first = lineOf(pair.open);
            const std::size_t last = lineOf(pair.close);
            if (first == last) continue;
            opens[first] = 1;
            ++deeper[first + 1];
            if (last + 1 < deeper.size()) --deeper[last + 1];
        }
        int level = SC_FOLDLEVELBASE;
        for (std::size_t line = 0; line + 1 < deeper.size(); ++line) {
            level += deeper[line];
            SendScintilla(SCI_SETFOLDLEVEL, static_cast<unsigned long>(line),
                          static_cast<long>(opens[line] != 0 ? level | SC_FOLDLEVELHEADERFLAG : level));
        }
    }

    /// From the statement at a place of the text on, everything is to have its colours anew; what is seen is coloured
    /// when it is painted. A quote may have changed everything below, and nothing above.
    void recolourFrom(std::size_t offset) {
        long from = 0;
        if (notes.isFresh() && json() == nullptr) {
            const auto& statements = notes.reading()->script().statements();
            const auto at = std::ranges::lower_bound(statements, offset, {},
                                                     [](const auto& statement) { return statement.span.regionEnd; });
            if (at != statements.begin()) from = static_cast<long>(shownAt((at - 1)->span.regionEnd));
        }
        if (from < SendScintilla(SCI_GETENDSTYLED)) SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(from));
        viewport()->update();
    }

    void fitNumbers() {
        const auto last = static_cast<long>(shown.linesBefore()) + lines();
        setMarginWidth(kNumberMargin, QStringLiteral("  ") + QString::number(std::max(last, 100L)));
        const bool isCounted = !shown.breaks().empty() || shown.isPart();  // by us: the component counts what it holds
        setMarginType(kNumberMargin, isCounted ? SymbolMargin : NumberMargin);
    }

    /// What looks at the whole text with each key is on or off now.
    void noteHelpers() {
        setBraceMatching(hasHelpers() ? SloppyBraceMatch : NoBraceMatch);
        if (hasHelpers()) return recolourFrom(0);
        popup->hide();
        const long coloured = SendScintilla(SCI_GETENDSTYLED);
        SendScintilla(SCI_STARTSTYLING, 0UL);
        SendScintilla(SCI_SETSTYLING, static_cast<unsigned long>(coloured), static_cast<long>(TextStyle::Plain));
        viewport()->update();
    }

    /// Whether a line of the component is a further row of a long line.
    [[nodiscard]] bool isContinuedRow(int line) const {
        const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
        return shown.breaks().isContinued(static_cast<std::size_t>(start));
    }

    /// The lines that the selection touches, or that of the caret.
    [[nodiscard]] std::pair<int, int> selectedLines() const {
        const long start = SendScintilla(SCI_GETSELECTIONSTART);
        const long end = SendScintilla(SCI_GETSELECTIONEND);
        const auto first = static_cast<int>(SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(start)));
        auto last = static_cast<int>(SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(end)));
        const bool isAtStart = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(last)) == end;
        if (isAtStart && last > first) --last;
        return {first, last};
    }

    /// The number that people give a line of the component, which may be one of several rows of a long line.
    [[nodiscard]] long numberOf(long line) const {
        const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
        return static_cast<long>(shown.linesBefore()) + line + 1 -
               static_cast<long>(shown.breaks().rowsBefore(static_cast<std::size_t>(start)));
    }

    [[nodiscard]] SqlEditor::CaretPlace caretPlace() const {
        const long caret = SendScintilla(SCI_GETCURRENTPOS);
        long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(caret));
        const long number = numberOf(line);
        long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
        while (line > 0 && shown.breaks().isContinued(static_cast<std::size_t>(start))) {
            start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(--line));
            constexpr long kMaxCounted = 1 << 20;
            if (caret - start > kMaxCounted) return {.line = number, .column = std::nullopt};
        }
        const std::size_t from = textAt(start);
        const std::string before = shown.text().part(from, caretOffset() - from);
        return {.line = number, .column = static_cast<long>(base::codePointCount(before)) + 1};
    }

    /// Asks what could stand at the caret; offer() shows it. `isAsked`: by somebody, and not only by a letter.
    void complete(bool isAsked) {
        if (json() != nullptr || !hasHelpers()) return;
        isAsked_ = isAsked;
        askedFor_ = shown.text();
        askedAt_ = caretOffset();
        isAnswerDue_ = true;
        Q_EMIT owner_->completionRequested(askedAt_, ++question_);
    }

    /// Opens, refreshes or closes the list of completions.
    void offer(const sql::Completion& completion, quint64 question) {
        const bool isOfNow = caretOffset() == askedAt_ && askedFor_.isCopyOf(shown.text());
        if (!isAnswerDue_ || question != question_ || !isOfNow) return;
        isAnswerDue_ = false;
        const Qt::Key waiting = std::exchange(waitingKey_, Qt::Key_unknown);
        const bool isWorthIt = isAsked_ || completion.opens;
        const bool isWhole =
            completion.items.size() == 1 && completion.items[0].text.size() == completion.prefix.size();
        if (completion.items.empty() || !isWorthIt || (isWhole && !isAsked_)) {
            popup->hide();
        } else {
            const auto position = static_cast<long>(shownAt(completion.start));
            const QPoint inArea(static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, position)),
                                static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, position)));
            popup->offer(completion, viewport()->mapTo(popup->parentWidget(), inArea), textHeight(0));
        }
        if (waiting == Qt::Key_unknown) return;
        QKeyEvent key(QEvent::KeyPress, waiting, Qt::NoModifier,
                      waiting == Qt::Key_Tab ? QStringLiteral("\t") : QStringLiteral("\n"));
        keyPressEvent(&key);
    }

    void takeCompletion() {
        const sql::Completion& c = popup->completion();
        const int index = popup->currentIndex();
        popup->hide();
        if (index < 0 || index >= static_cast<int>(c.items.size())) return;
        const sql::CompletionItem& item = c.items[static_cast<std::size_t>(index)];
        std::string chosen = item.text;
        const std::size_t end = c.start + c.length;
        if (chosen.back() == '(' && shown.text().part(end, 1) == "(") chosen.pop_back();
        SendScintilla(SCI_BEGINUNDOACTION);  // one step back takes all of it
        if (!item.from.empty() && c.fromAt >= end) writeFrom(item.from, c.fromAt);
        SendScintilla(SCI_SETTARGETRANGE, shownAt(c.start), static_cast<long>(shownAt(end)));
        SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(chosen.size()), chosen.data());
        SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(SendScintilla(SCI_GETTARGETEND)));
        SendScintilla(SCI_ENDUNDOACTION);
        if (chosen.back() == '.') complete(false);
    }

    /// FROM on a line of its own behind the list, before the caret's name is written.
    void writeFrom(const std::string& from, std::size_t at) {
        const std::string line = lineEnd() + from;
        SendScintilla(SCI_SETTARGETRANGE, shownAt(at), static_cast<long>(shownAt(at)));
        SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(line.size()), line.data());
    }

    [[nodiscard]] std::string lineEnd() const {
        const bool isWindows = SendScintilla(SCI_GETEOLMODE) == SC_EOL_CRLF;
        return isWindows ? "\r\n" : "\n";
    }

    void markHints() {
        const std::pair<sql::Severity, int> kinds[] = {{sql::Severity::Error, kErrorHintIndicator},
                                                       {sql::Severity::Warning, kWarningHintIndicator},
                                                       {sql::Severity::Hint, kQuietHintIndicator}};
        for (const auto& [severity, indicator] : kinds) {
            SendScintilla(SCI_SETINDICATORCURRENT, indicator);
            SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, static_cast<long>(SendScintilla(SCI_GETLENGTH)));
            for (const TextHint& hint : notes.hints()) {
                if (hint.severity != severity) continue;
                const unsigned long from = shownAt(notes.startOf(hint));
                const auto length = static_cast<long>(shownAt(notes.endOf(hint))) - static_cast<long>(from);
                SendScintilla(SCI_INDICATORFILLRANGE, from, std::max(1L, length));
            }
        }
    }

    /// Changes the text as a hint proposes, as a step of its own; the caret stays on its character.
    void carryOut(const TextHint& hint) {
        if (!hint.mend) return;
        const sql::TextEdit mend = *hint.mend;
        const std::size_t start = notes.edits().now(mend.start);
        const std::size_t end = notes.edits().now(mend.start + mend.length);
        std::vector<TextHint> others = notes.hints();  // it is not carried out twice, however fast somebody is
        std::erase_if(others, [&](const TextHint& one) { return one.start == hint.start; });
        notes.setHints(std::move(others));
        SendScintilla(SCI_SETTARGETRANGE, shownAt(start), static_cast<long>(shownAt(end)));
        replaceTarget(mend.text);
    }

    // Where lines are drawn
    [[nodiscard]] std::optional<Extent> linesOf(std::size_t start, std::size_t end) const override {
        const long firstLine = SendScintilla(SCI_LINEFROMPOSITION, shownAt(start));
        const long lastLine = SendScintilla(SCI_LINEFROMPOSITION, shownAt(end));
        const long topLine = SendScintilla(SCI_GETFIRSTVISIBLELINE);
        const long onScreen = SendScintilla(SCI_LINESONSCREEN);
        if (lastLine < topLine || firstLine > topLine + onScreen) return std::nullopt;
        const int height = static_cast<int>(SendScintilla(SCI_TEXTHEIGHT, static_cast<unsigned long>(firstLine)));
        const long lineEnd = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(firstLine));
        return Extent{static_cast<int>(firstLine - topLine) * height, static_cast<int>(lastLine - topLine + 1) * height,
                      static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, lineEnd))};
    }
    [[nodiscard]] std::optional<Extent> lineOf(std::size_t place) const override {
        const long line = SendScintilla(SCI_LINEFROMPOSITION, shownAt(place));
        const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(line));
        const int top = static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, end));
        const bool isSeen = SendScintilla(SCI_GETLINEVISIBLE, static_cast<unsigned long>(line)) != 0;
        if (!isSeen || top < -textHeight(0) || top > viewport()->height()) return std::nullopt;
        return Extent{top, top + textHeight(static_cast<int>(line)),
                      static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, end))};
    }
    [[nodiscard]] std::pair<std::size_t, std::size_t> bytesInSight() const override {
        const long top = SendScintilla(SCI_GETFIRSTVISIBLELINE);
        const long below = std::min<long>(lines(), top + SendScintilla(SCI_LINESONSCREEN) + 2);
        const std::size_t first = textAt(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(top)));
        const std::size_t last = textAt(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(below)));
        return {first, below >= lines() ? shown.text().size() : last};
    }
    [[nodiscard]] std::size_t caretByte() const override { return caretOffset(); }
    [[nodiscard]] int shownWidth() const override { return viewport()->width(); }
    [[nodiscard]] int lineHeight() const override { return textHeight(0); }
    [[nodiscard]] int railLeft() const override { return marginWidth(kNumberMargin); }
    /// Where the text begins, behind the margins.
    [[nodiscard]] int textLeft() const override {
        int left = 0;
        for (int margin = 0; margin < 5; ++margin) left += marginWidth(margin);
        return left;
    }

protected:
    void keyPressEvent(QKeyEvent* event) override {
        if (waitsForOffer(event) || (popup->isVisible() && takesPopupKey(event))) return;
        const bool isTyping = !event->text().isEmpty() && event->text()[0].isPrint() &&
                              !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
        const bool isErasing = event->key() == Qt::Key_Backspace && popup->isVisible();
        if (indentsRows(event)) return;
        followKey(event);
        stepOverBreak(event);
        QsciScintilla::keyPressEvent(event);
        leaveBreak(event->key() == Qt::Key_Right);
        if (isTyping || isErasing) {
            const QChar typed = isTyping ? event->text()[0] : QChar();
            const bool continues = typed.isLetterOrNumber() || typed == QLatin1Char('_') || typed == QLatin1Char('.');
            if (!continues && !isErasing) popup->hide();
            // Behind a blank or a sign too: where a relation or the other side of a key comes next, that is offered.
            complete(false);
        } else if (popup->isVisible() && !event->text().isEmpty()) {
            popup->hide();
        }
    }

    /// A key that takes from the list waits until the list is that of the letters before it.
    bool waitsForOffer(const QKeyEvent* event) {
        const bool isTaking = event->key() == Qt::Key_Tab || event->key() == Qt::Key_Return;
        const bool isPlain = (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier | Qt::AltModifier)) == 0;
        if (!isTaking || !isPlain || !isAnswerDue_ || !popup->isVisible()) {
            waitingKey_ = Qt::Key_unknown;
            return false;
        }
        waitingKey_ = static_cast<Qt::Key>(event->key());
        return true;
    }

    bool takesPopupKey(QKeyEvent* event) {
        switch (event->key()) {
            case Qt::Key_Down: popup->move(1); return true;
            case Qt::Key_Up: popup->move(-1); return true;
            case Qt::Key_PageDown: popup->move(8); return true;
            case Qt::Key_PageUp: popup->move(-8); return true;
            case Qt::Key_Escape: popup->hide(); return true;
            case Qt::Key_Return:
            case Qt::Key_Enter:
                if (popup->isMovedTo()) break;
                popup->hide();  // a line ends as it always does, unless somebody has chosen
                return false;
            case Qt::Key_Tab: break;
            case Qt::Key_Left:
            case Qt::Key_Right:
            case Qt::Key_Home:
            case Qt::Key_End: popup->hide(); return false;
            default: return false;
        }
        if (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier)) return false;
        takeCompletion();
        return true;
    }

    void focusOutEvent(QFocusEvent* event) override {
        popup->hide();
        QsciScintilla::focusOutEvent(event);
    }

    /// At the edge of a part, the wheel goes on into the next one.
    void wheelEvent(QWheelEvent* event) override {
        const QScrollBar* bar = verticalScrollBar();
        const bool goesOn =
            event->angleDelta().y() < 0 && bar->value() == bar->maximum() && partEnd() < shown.text().size();
        const bool goesBack = event->angleDelta().y() > 0 && bar->value() == bar->minimum() && shown.partStart() > 0;
        if (shown.isPart() && (goesOn || goesBack)) centreOn(goesOn ? partEnd() : shown.partStart());
        QsciScintilla::wheelEvent(event);
    }

    void mouseReleaseEvent(QMouseEvent* event) override {
        QsciScintilla::mouseReleaseEvent(event);
        leaveBreak(false);
    }

    /// What is copied is the text, and what is put in has its long lines broken before it is laid out.
    QMimeData* toMimeData(const QByteArray& copied, bool isRectangular) const override {
        if (shown.breaks().empty()) return QsciScintilla::toMimeData(copied, isRectangular);
        const std::string whole =
            base::SoftBreaks::unbroken({copied.constData(), static_cast<std::size_t>(copied.size())});
        return QsciScintilla::toMimeData(QByteArray::fromStdString(whole), isRectangular);
    }
    QByteArray fromMimeData(const QMimeData* source, bool& isRectangular) const override {
        QByteArray bytes = QsciScintilla::fromMimeData(source, isRectangular);
        bytes.replace(base::SoftBreaks::kSign.data(), "\uFFFD");
        const std::string_view view(bytes.constData(), static_cast<std::size_t>(bytes.size()));
        return QByteArray::fromStdString(shown.rowsOf(view));
    }

    void mousePressEvent(QMouseEvent* event) override {
        popup->hide();
        const int statement = notes.markAt(event->pos());
        if (statement >= 0) return void(Q_EMIT owner_->markClicked(statement));
        if (const TextHint* hint = notes.hintAt(event->pos())) {
            if (hint->mend) return carryOut(*hint);
            return void(SendScintilla(SCI_GOTOPOS, shownAt(notes.startOf(*hint))));
        }
        QsciScintilla::mousePressEvent(event);
    }

    /// The whole message, which may not find room behind its line.
    bool viewportEvent(QEvent* event) override {
        if (event->type() != QEvent::ToolTip) return QsciScintilla::viewportEvent(event);
        const auto* help = static_cast<QHelpEvent*>(event);
        const long position = SendScintilla(SCI_POSITIONFROMPOINTCLOSE, static_cast<unsigned long>(help->pos().x()),
                                            static_cast<long>(help->pos().y()));
        const TextHint* hint = notes.hintAt(help->pos());
        if (hint == nullptr && position >= 0) hint = notes.hintAbout(textAt(position));
        hint != nullptr ? QToolTip::showText(help->globalPos(), hint->message, viewport()) : QToolTip::hideText();
        return true;
    }

    void paintEvent(QPaintEvent* event) override {
        QsciScintilla::paintEvent(event);
        QPainter painter(viewport());
        painter.setRenderHint(QPainter::TextAntialiasing);
        if (!shown.breaks().empty() || shown.isPart()) paintNumbers(painter);
        notes.paint(painter);
    }

private:
    void replaceTarget(const std::string& with) {
        const std::string rows = shown.rowsOf(with);
        SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(rows.size()), rows.data());
    }

    /// Keeps the text in step with the component, so that nobody has to read all of it after each key.
    void noteModified(int at, int kind, std::string_view changed) {
        const bool isInserted = (kind & SC_MOD_INSERTTEXT) != 0;
        if (isShowing_ || (!isInserted && (kind & SC_MOD_DELETETEXT) == 0)) return;
        const auto place = static_cast<std::size_t>(at);
        std::size_t offset = 0;
        const std::size_t sizeBefore = shown.text().size();  // breaks within a long line are none of the text
        if (isInserted) {
            const auto behind = static_cast<unsigned long>(place + changed.size());
            offset = shown.noteInserted(place, changed, static_cast<char>(SendScintilla(SCI_GETCHARAT, behind)));
            lookForLongRows(at, changed);
            if (hasHelpers()) colourAsBefore(at, static_cast<long>(changed.size()));
        } else {
            offset = shown.noteDeleted(place, changed.size());
        }
        const std::size_t size = shown.text().size();
        noteEdit(offset, size < sizeBefore ? sizeBefore - size : 0, size > sizeBefore ? size - sizeBefore : 0,
                 shown.text());
        fitNumbers();
        lookAtSize();
        Q_EMIT owner_->textEdited();
    }

    /// What the component holds becomes a part, or all again, as soon as it can take it.
    void lookAtSize() {
        if (isHeldAsItShould()) return;
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (!isHeldAsItShould()) centreOn(caretOffset());
            },
            Qt::QueuedConnection);
    }
    [[nodiscard]] bool isHeldAsItShould() const {
        const bool isSmall = shown.isPart() && shown.text().size() <= base::ShownText::kWhole;
        return !isSmall && SendScintilla(SCI_GETLENGTH) <= kMaxHeld;
    }

    /// A key at the edge of a part means what lies beyond: the part moves first. Ctrl with Home and End mean the text.
    void followKey(const QKeyEvent* event) {
        if (!shown.isPart()) return;
        const bool isCtrl = (event->modifiers() & Qt::ControlModifier) != 0;
        if (isCtrl && event->key() == Qt::Key_A) return Q_EMIT owner_->partSelected();
        if (isCtrl && event->key() == Qt::Key_Home && shown.partStart() > 0) return centreOn(0);
        if (isCtrl && event->key() == Qt::Key_End && partEnd() < shown.text().size())
            return centreOn(shown.text().size());
        const long row =
            SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(SendScintilla(SCI_GETCURRENTPOS)));
        const long screen = SendScintilla(SCI_LINESONSCREEN) + 1;
        const bool isNearStart = row < screen && shown.partStart() > 0;
        const bool isNearEnd = row + screen >= lines() && partEnd() < shown.text().size();
        if ((isNearStart || isNearEnd) && !hasSelectedText()) centreOn(caretOffset());
    }

    /// A row that grew too long is broken as soon as the component can take it.
    void lookForLongRows(int at, std::string_view inserted) {
        if (!shown.mayBreak()) return;
        const long first = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(at));
        const long last = first + static_cast<long>(std::ranges::count(inserted, '\n'));
        for (long line = first; line <= last; ++line) {
            const auto length = SendScintilla(SCI_LINELENGTH, static_cast<unsigned long>(line));
            if (length <= static_cast<long>(base::SoftBreaks::kLongestRow)) continue;
            QMetaObject::invokeMethod(
                this, [this, line] { breakRow(line); }, Qt::QueuedConnection);
            return;
        }
    }

    void breakRow(long line) {
        const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
        const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(line));
        if (start < 0) return;
        const std::size_t offset = textAt(start);
        const std::string row = shown.text().part(offset, textAt(end) - offset);
        if (!base::SoftBreaks::areNeeded(row)) return;
        const std::string rows = base::SoftBreaks::broken(row);
        SendScintilla(SCI_BEGINUNDOACTION);
        for (std::size_t i = rows.find(base::SoftBreaks::kBreak); i != std::string::npos;
             i = rows.find(base::SoftBreaks::kBreak, i + 1)) {
            SendScintilla(SCI_INSERTTEXT, static_cast<unsigned long>(start) + i, base::SoftBreaks::kBreak.data());
        }
        SendScintilla(SCI_ENDUNDOACTION);
    }

    /// Tab moves lines in; of a line in several rows only the first can be meant.
    bool indentsRows(const QKeyEvent* event) {
        const bool isTab = event->key() == Qt::Key_Tab || event->key() == Qt::Key_Backtab;
        if (!isTab || shown.breaks().empty() || !hasSelectedText()) return false;
        const auto [first, last] = selectedLines();
        if (first == last) return false;
        beginUndoAction();
        for (int line = first; line <= last; ++line) {
            const int by = event->key() == Qt::Key_Tab ? tabWidth() : -tabWidth();
            if (!isContinuedRow(line)) setIndentation(line, std::max(0, indentation(line) + by));
        }
        endUndoAction();
        return true;
    }

    /// At a break, a key means the character beyond it.
    void stepOverBreak(const QKeyEvent* event) {
        if (shown.breaks().empty() || hasSelectedText()) return;
        const auto caret = static_cast<std::size_t>(SendScintilla(SCI_GETCURRENTPOS));
        const auto [start, end] = shown.breaks().around(caret);
        if (start == end) return;
        const int pressed = event->key();
        if ((pressed == Qt::Key_Backspace || pressed == Qt::Key_Left) && caret == end) {
            SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(start));
        } else if ((pressed == Qt::Key_Delete || pressed == Qt::Key_Right) && caret == start) {
            SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(end));
        }
    }

    /// Neither the caret nor the other end of the selection stays within a break, where a key would tear it.
    void leaveBreak(bool forward) {
        if (shown.breaks().empty()) return;
        const auto settled = [&](long at) {
            const auto [start, end] = shown.breaks().around(static_cast<std::size_t>(at));
            const bool isWithin = start < static_cast<std::size_t>(at) && static_cast<std::size_t>(at) < end;
            return isWithin ? static_cast<long>(forward ? end : start) : at;
        };
        const long caret = SendScintilla(SCI_GETCURRENTPOS);
        const long anchor = SendScintilla(SCI_GETANCHOR);
        if (settled(caret) == caret && settled(anchor) == anchor) return;
        SendScintilla(SCI_SETSEL, static_cast<unsigned long>(settled(anchor)), settled(caret));
    }

    /// The component would count the rows of a long line.
    void paintNumbers(QPainter& painter) {
        painter.setFont(font());
        painter.setPen(Theme::current().colour("quiet"));
        const long top = SendScintilla(SCI_GETFIRSTVISIBLELINE);
        const long onScreen = SendScintilla(SCI_LINESONSCREEN) + 1;
        const int height = textHeight(0);
        for (long i = 0; i < onScreen; ++i) {
            const long line = SendScintilla(SCI_DOCLINEFROMVISIBLE, static_cast<unsigned long>(top + i));
            if (line >= lines()) return;
            const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
            if (shown.breaks().isContinued(static_cast<std::size_t>(start))) continue;
            const QRect place(0, static_cast<int>(i) * height, marginWidth(kNumberMargin) - 3, height);
            painter.drawText(place, Qt::AlignRight | Qt::AlignVCenter, QString::number(numberOf(line)));
        }
    }

    SqlEditor* owner_;
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

SqlEditor::SqlEditor(QWidget* parent) : QWidget(parent), area_(new Area(this)) {
    auto* layout = new QVBoxLayout(this);
    setObjectName(QStringLiteral("editorFrame"));
    setAttribute(Qt::WA_StyledBackground);
    layout->setContentsMargins(0, 7, 0, 0);
    layout->addWidget(area_);
    area_->setObjectName(QLatin1String(objectName::kEditor));
    area_->setAccessibleName(tr("SQL text"));
    area_->popup = new CompletionPopup(this);
    setFocusProxy(area_);
    connect(area_->popup, &CompletionPopup::chosen, this, [this] { area_->takeCompletion(); });
    connect(&Theme::current(), &Theme::changed, this, &SqlEditor::applyTheme);
    applyTheme();
    setTextSize(10);
}

SqlEditor::~SqlEditor() = default;

void SqlEditor::setReading(const work::TextReadingPtr& reading) { area_->setReading(reading); }

void SqlEditor::offer(const sql::Completion& completion, quint64 question) { area_->offer(completion, question); }

const base::SharedText& SqlEditor::text() const { return area_->shown.text(); }

void SqlEditor::resetText(const base::SharedText& text) {
    area_->resetContent(text);
    Q_EMIT textEdited();
}

SqlEditor::Part SqlEditor::part() const {
    const auto first = static_cast<long>(area_->shown.linesBefore()) + 1;
    return {.firstLine = first,
            .lastLine = area_->numberOf(area_->lines() - 1),
            .isFirst = area_->shown.partStart() == 0,
            .isLast = area_->partEnd() == text().size()};
}

void SqlEditor::showPart(bool later) {
    area_->centreOn(later ? area_->partEnd() : area_->shown.partStart());
    area_->setFocus();
}

void SqlEditor::replaceText(const std::string& text, std::size_t caret) {
    area_->SendScintilla(QsciScintillaBase::SCI_BEGINUNDOACTION);
    area_->replaceAll(text);
    area_->SendScintilla(QsciScintillaBase::SCI_ENDUNDOACTION);
    area_->SendScintilla(QsciScintillaBase::SCI_SETXOFFSET, 0UL);
    area_->SendScintilla(QsciScintillaBase::SCI_SETSCROLLWIDTH, kNarrow);  // grows with what is painted
    setCaret(caret);
}

void SqlEditor::insertText(const std::string& text) { area_->replaceSelection(text); }

void SqlEditor::insertAt(std::size_t offset, const std::string& text) { area_->insertAtOffset(offset, text); }

void SqlEditor::appendBelow(const std::string& added) {
    const std::size_t size = text().size();
    const std::string before = text().part(size - std::min<std::size_t>(size, 2), 2);
    std::string separator;
    if (!before.empty()) separator = before.ends_with("\n\n") ? "" : before.ends_with('\n') ? "\n" : "\n\n";
    insertAt(size, separator + added);
    setCaret(size + separator.size() + added.size());
}

std::size_t SqlEditor::caret() const { return area_->caretOffset(); }

SqlEditor::CaretPlace SqlEditor::caretPlace() const { return area_->caretPlace(); }

void SqlEditor::setCaret(std::size_t offset) {
    area_->reveal(offset);
    area_->SendScintilla(QsciScintillaBase::SCI_GOTOPOS, area_->shownAt(offset));
    area_->SendScintilla(QsciScintillaBase::SCI_SCROLLCARET);
}

std::size_t SqlEditor::selectionStart() const {
    return area_->textAt(area_->SendScintilla(QsciScintillaBase::SCI_GETSELECTIONSTART));
}

std::string SqlEditor::selection() const { return area_->selection(); }

void SqlEditor::select(std::size_t start, std::size_t end) {
    area_->reveal(start);
    area_->SendScintilla(QsciScintillaBase::SCI_SETSEL, area_->shownAt(start), static_cast<long>(area_->shownAt(end)));
}

void SqlEditor::setMarks(std::vector<StatementMark> marks) {
    area_->notes.setMarks(std::move(marks));
    area_->viewport()->update();
}

void SqlEditor::setHints(std::vector<TextHint> hints) {
    area_->notes.setHints(std::move(hints));
    area_->markHints();
    area_->viewport()->update();
}

const std::vector<TextHint>& SqlEditor::hints() const { return area_->notes.hints(); }

/// The hint nearest to the caret, one on its line before others.
bool SqlEditor::mend() {
    const std::size_t caret = area_->caretOffset();
    const auto lineOf = [&](std::size_t offset) {
        return area_->SendScintilla(QsciScintillaBase::SCI_LINEFROMPOSITION, area_->shownAt(offset));
    };
    const auto distance = [&](const TextHint& hint) {
        const std::size_t start = area_->notes.startOf(hint);
        const std::size_t end = area_->notes.endOf(hint);
        const std::size_t apart = caret < start ? start - caret : caret > end ? caret - end : 0;
        return std::pair(lineOf(start) != lineOf(caret), apart);
    };
    const TextHint* nearest = nullptr;
    for (const TextHint& hint : area_->notes.hints()) {
        if (hint.mend && (nearest == nullptr || distance(hint) < distance(*nearest))) nearest = &hint;
    }
    if (nearest == nullptr) return false;
    area_->carryOut(*nearest);
    return true;
}

void SqlEditor::setErrorAt(std::int64_t offset) {
    const long length = area_->SendScintilla(QsciScintillaBase::SCI_GETLENGTH);
    area_->SendScintilla(QsciScintillaBase::SCI_SETINDICATORCURRENT, kErrorIndicator);
    area_->SendScintilla(QsciScintillaBase::SCI_INDICATORCLEARRANGE, 0UL, length);
    if (offset < 0) return;
    const std::size_t place = area_->notes.edits().now(static_cast<std::size_t>(offset));
    if (place >= text().size()) return;
    const auto at = static_cast<long>(area_->shownAt(place));
    long end = area_->SendScintilla(QsciScintillaBase::SCI_WORDENDPOSITION, static_cast<unsigned long>(at), 1L);
    end = std::max<long>(end, at + 1);
    area_->SendScintilla(QsciScintillaBase::SCI_INDICATORFILLRANGE, static_cast<unsigned long>(at), end - at);
}

int SqlEditor::contentHeight() const {
    const auto lines = area_->SendScintilla(QsciScintillaBase::SCI_GETLINECOUNT);
    const auto height = area_->SendScintilla(QsciScintillaBase::SCI_TEXTHEIGHT, 0UL);
    constexpr long kMaxLines = 10'000;
    return static_cast<int>((std::min(lines, kMaxLines) + 1) * height) + 16;
}

void SqlEditor::setTextSize(int points) {
    QFont font(QStringLiteral("Hack"));
    font.setStyleHint(QFont::Monospace);
    font.setPointSize(points);
    area_->setFont(font);
    applyTheme();
}

void SqlEditor::complete() { area_->complete(true); }

bool SqlEditor::isCompleting() const { return area_->popup->isVisible(); }

void SqlEditor::undo() { area_->undo(); }
void SqlEditor::redo() { area_->redo(); }

/// Puts -- before each selected line, or takes it away when every one has it.
void SqlEditor::toggleComment() {
    const auto [fromLine, toLine] = area_->selectedLines();
    const bool hadSelection = area_->hasSelectedText();
    bool isAllComment = true;
    for (int line = fromLine; line <= toLine; ++line) {
        const QString text = area_->text(line).trimmed();
        if (area_->isContinuedRow(line)) continue;
        isAllComment = isAllComment && (text.isEmpty() || text.startsWith(QLatin1String("--")));
    }
    area_->beginUndoAction();
    for (int line = fromLine; line <= toLine; ++line) {
        const QString text = area_->text(line);
        if (text.trimmed().isEmpty() || area_->isContinuedRow(line)) continue;
        if (!isAllComment) {
            area_->insertAt(QStringLiteral("-- "), line, 0);
            continue;
        }
        const auto at = static_cast<int>(text.indexOf(QLatin1String("--")));
        const int length = text.mid(at).startsWith(QLatin1String("-- ")) ? 3 : 2;
        area_->setSelection(line, at, line, at + length);
        area_->removeSelectedText();
    }
    area_->endUndoAction();
    if (!hadSelection) return;
    // The lines stay chosen, so that the same key takes back what it did.
    const QString last = area_->text(toLine);
    const auto lineEnd = static_cast<int>(last.endsWith(QLatin1Char('\n')) ? last.size() - 1 : last.size());
    area_->setSelection(fromLine, 0, toLine, lineEnd);
}

void SqlEditor::applyTheme() {
    using Base = QsciScintillaBase;
    const Theme& theme = Theme::current();
    const QFont font = area_->font();
    const QByteArray family = font.family().toUtf8();
    const auto styleAll = [&](long style) {
        area_->SendScintilla(Base::SCI_STYLESETFONT, static_cast<unsigned long>(style), family.constData());
        area_->SendScintilla(Base::SCI_STYLESETSIZEFRACTIONAL, static_cast<unsigned long>(style),
                             static_cast<long>(font.pointSizeF() * 100));
        area_->SendScintilla(Base::SCI_STYLESETFORE, static_cast<unsigned long>(style), rgb(theme.colour("ink")));
        area_->SendScintilla(Base::SCI_STYLESETBACK, static_cast<unsigned long>(style), rgb(theme.colour("card")));
    };
    styleAll(Base::STYLE_DEFAULT);
    area_->SendScintilla(Base::SCI_STYLECLEARALL);
    for (const TextStyleLook& look : textStyleLooks()) {
        styleAll(static_cast<long>(look.style));
        const auto style = static_cast<unsigned long>(look.style);
        area_->SendScintilla(Base::SCI_STYLESETFORE, style, rgb(theme.colour(look.role)));
        area_->SendScintilla(Base::SCI_STYLESETBOLD, style, static_cast<long>(look.isBold));
        area_->SendScintilla(Base::SCI_STYLESETITALIC, style, static_cast<long>(look.isItalic));
    }
    styleAll(Base::STYLE_LINENUMBER);
    area_->SendScintilla(Base::SCI_STYLESETFORE, static_cast<unsigned long>(Base::STYLE_LINENUMBER),
                         rgb(theme.colour("quiet")));
    area_->setPaper(theme.colour("card"));
    area_->setMarginsBackgroundColor(theme.colour("card"));
    area_->setMarginsForegroundColor(theme.colour("quiet"));
    area_->setCaretForegroundColor(theme.colour("ink"));
    area_->setSelectionBackgroundColor(theme.tinted(theme.colour("juniper"), 0.28));
    area_->SendScintilla(Base::SCI_SETSELFORE, 0UL, 0L);
    area_->setMatchedBraceBackgroundColor(theme.colour("selection"));
    area_->setMatchedBraceForegroundColor(theme.colour("juniper"));
    area_->setUnmatchedBraceForegroundColor(theme.colour("tomato"));
    area_->setUnmatchedBraceBackgroundColor(theme.colour("card"));
    area_->SendScintilla(Base::SCI_INDICSETFORE, static_cast<unsigned long>(kJsonIndicator),
                         rgb(theme.colour("tomato")));
    area_->setFoldMarginColors(theme.colour("card"), theme.colour("card"));
    for (unsigned long marker = Base::SC_MARKNUM_FOLDEREND; marker <= Base::SC_MARKNUM_FOLDEROPEN; ++marker) {
        area_->SendScintilla(Base::SCI_MARKERSETFORE, marker, rgb(theme.colour("card")));
        area_->SendScintilla(Base::SCI_MARKERSETBACK, marker, rgb(theme.colour("quiet")));
    }
    for (const auto& [indicator, role] :
         {std::pair(kErrorHintIndicator, "tomato"), std::pair(kWarningHintIndicator, "marigold"),
          std::pair(kQuietHintIndicator, "quiet")}) {
        area_->SendScintilla(Base::SCI_INDICSETFORE, static_cast<unsigned long>(indicator), rgb(theme.colour(role)));
    }
    area_->SendScintilla(Base::SCI_INDICSETFORE, static_cast<unsigned long>(kErrorIndicator),
                         rgb(theme.colour("tomato")));
    area_->fitNumbers();
    area_->recolourFrom(0);
}

}  // namespace pantry::app
