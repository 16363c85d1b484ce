#include "app/editor/sql_editor.h"

#include <Qsci/qscicommandset.h>
#include <Qsci/qsciscintilla.h>

#include <QApplication>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <optional>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/editor/completion_popup.h"
#include "app/look/theme.h"
#include "core/base/shown_text.h"
#include "core/base/utf8.h"
#include "core/exchange/json_outline.h"

namespace pantry::app {
namespace {

enum Style : char { kPlain, kKeyword, kFunction, kText, kNumber, kComment, kParameter, kType, kForeign };

struct StyleLook {
    Style style;
    const char* role;
    bool isBold;
    bool isItalic;
};
constexpr StyleLook kLooks[] = {
    {kPlain, "ink", false, false},      {kKeyword, "juniper", true, false}, {kFunction, "beet", false, false},
    {kText, "sage", false, false},      {kNumber, "cocoa", false, false},   {kComment, "quiet", false, true},
    {kParameter, "beet", false, false}, {kType, "juniper", false, false},   {kForeign, "marigold", false, true}};

constexpr int kErrorIndicator = 9;
constexpr int kParameterIndicator = 10;
constexpr int kNumberMargin = 0;
constexpr int kRailMargin = 1;
constexpr int kRailWidth = 12;
constexpr int kFoldMargin = 2;
constexpr int kFoldWidth = 14;
constexpr int kJsonIndicator = 11;
constexpr int kHintIndicator = 12;
// What is pasted stays whole up to here, so that it can be taken back; more becomes a part. (The component counts the
// characters before the caret with each key, for assistive programs, so that a key costs the more the further down.)
constexpr long kMostHeld = 4 << 20;
constexpr int kCompleteFrom = 2;  // letters typed before the list opens by itself

constexpr int withCtrl(Qt::Key key) { return static_cast<int>(Qt::ControlModifier) | static_cast<int>(key); }
constexpr int withCtrlShift(Qt::Key key) { return withCtrl(key) | static_cast<int>(Qt::ShiftModifier); }

/// Keys that the component binds and the program means otherwise.
constexpr int kOurKeys[] = {
    withCtrl(Qt::Key_T),      withCtrl(Qt::Key_D),      withCtrl(Qt::Key_L),      withCtrl(Qt::Key_R),
    withCtrl(Qt::Key_W),      withCtrl(Qt::Key_E),      withCtrl(Qt::Key_J),      withCtrl(Qt::Key_B),
    withCtrl(Qt::Key_Slash),  withCtrl(Qt::Key_U),      withCtrl(Qt::Key_Return), withCtrl(Qt::Key_Plus),
    withCtrl(Qt::Key_Minus),  withCtrl(Qt::Key_Equal),  withCtrl(Qt::Key_F),      withCtrlShift(Qt::Key_Return),
    withCtrlShift(Qt::Key_T), withCtrlShift(Qt::Key_L), withCtrlShift(Qt::Key_U), static_cast<int>(Qt::Key_Escape)};

Style styleOf(const sql::Token& token, sql::TokenRole role) {
    using sql::TokenKind;
    switch (token.kind) {
        case TokenKind::LineComment:
        case TokenKind::BlockComment:
        case TokenKind::ExecutableComment: return kComment;
        case TokenKind::String: return kText;
        case TokenKind::Number: return kNumber;
        case TokenKind::Parameter:
        case TokenKind::Variable: return kParameter;
        case TokenKind::BackslashLine:
        case TokenKind::DelimiterLine:
        case TokenKind::CopyData: return kForeign;
        default: break;
    }
    switch (role) {
        case sql::TokenRole::Keyword: return kKeyword;
        case sql::TokenRole::Function: return kFunction;
        case sql::TokenRole::Type: return kType;
        default: return kPlain;
    }
}

Style styleOf(exchange::JsonTokenKind kind) {
    switch (kind) {
        case exchange::JsonTokenKind::Name: return kKeyword;
        case exchange::JsonTokenKind::String: return kText;
        case exchange::JsonTokenKind::Number: return kNumber;
        case exchange::JsonTokenKind::Word: return kFunction;
        case exchange::JsonTokenKind::Unknown: return kForeign;
        default: return kPlain;
    }
}

long rgb(const QColor& colour) { return colour.red() | colour.green() << 8 | colour.blue() << 16; }

}  // namespace

/// The editor component with our colours and what we paint over it.
class SqlEditor::Area : public QsciScintilla {
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
        setMarginWidth(kRailMargin, kRailWidth);
        setFolding(PlainFoldStyle, kFoldMargin);
        for (int margin = 2; margin < 5; ++margin) setMarginWidth(margin, 0);
        setExtraAscent(2);
        setExtraDescent(2);
        SendScintilla(SCI_SETLEXER, SCLEX_CONTAINER);
        SendScintilla(SCI_SETMULTIPLESELECTION, 1);
        SendScintilla(SCI_SETADDITIONALSELECTIONTYPING, 1);
        SendScintilla(SCI_SETSCROLLWIDTHTRACKING, 1);
        SendScintilla(SCI_SETSCROLLWIDTH, 100);
        SendScintilla(SCI_SETLAYOUTCACHE, static_cast<unsigned long>(SC_CACHE_PAGE));
        SendScintilla(SCI_SETMARGINLEFT, 0, 4);
        SendScintilla(SCI_INDICSETSTYLE, kErrorIndicator, INDIC_SQUIGGLE);
        SendScintilla(SCI_INDICSETSTYLE, kJsonIndicator, INDIC_SQUIGGLE);
        SendScintilla(SCI_INDICSETSTYLE, kHintIndicator, INDIC_SQUIGGLE);
        SendScintilla(SCI_INDICSETSTYLE, kParameterIndicator, INDIC_DOTS);
        for (const int key : kOurKeys) {
            if (QsciCommand* command = standardCommands()->boundTo(key)) {
                if (command->key() == key) command->setKey(0);
                if (command->alternateKey() == key) command->setAlternateKey(0);
            }
        }
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
    bool hasHelpers = true;  // colours, marks, completion: all that looks at the whole text
    const sql::Script* script = nullptr;
    std::optional<exchange::JsonOutline> json;  // of a text that means to be JSON
    std::function<sql::Completion(std::size_t)> completer;
    std::vector<StatementMark> marks;
    std::vector<TextHint> hints;
    CompletionPopup* popup = nullptr;

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
        shown.setText(text);
        showAround(0);
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
        recolour();
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

    /// Colours from the line of the first byte not coloured yet up to `end`.
    void colourUpTo(int end) {
        const long from =
            SendScintilla(SCI_POSITIONFROMLINE, SendScintilla(SCI_LINEFROMPOSITION, SendScintilla(SCI_GETENDSTYLED)));
        const long length = SendScintilla(SCI_GETLENGTH);
        const long to = std::min<long>(std::max<long>(end, from), length);
        if (!hasHelpers) return void(SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(length)));
        SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(from));
        if (!json && !isFresh()) {  // the script follows in a moment, and we are asked again
            return void(SendScintilla(SCI_SETSTYLING, static_cast<unsigned long>(to - from), kPlain));
        }
        const std::size_t first = textAt(from);
        const std::size_t last = textAt(to);
        const std::string styles =
            shown.breaks().spread(static_cast<std::size_t>(from), static_cast<std::size_t>(to - from),
                                  json ? jsonStyles(first, last) : sqlStyles(first, last), kPlain);
        SendScintilla(SCI_SETSTYLINGEX, static_cast<unsigned long>(styles.size()), styles.data());
    }

    [[nodiscard]] bool isFresh() const { return script != nullptr && script->text().size() == shown.text().size(); }

    /// A style for each byte of the text from one place to another.
    template <class Tokens, class StyleOf>
    [[nodiscard]] static std::string stylesOf(const Tokens& tokens, std::size_t from, std::size_t to,
                                              const StyleOf& styleOfToken) {
        using Token = typename Tokens::value_type;
        std::string styles(to - from, kPlain);
        auto token = std::ranges::upper_bound(tokens, static_cast<std::uint32_t>(from), {}, &Token::start);
        if (token != tokens.begin()) --token;
        for (; token != tokens.end() && token->start < to; ++token) {
            const std::size_t first = std::max<std::size_t>(token->start, from);
            const std::size_t last = std::min<std::size_t>(token->start + token->length, to);
            if (first < last) styles.replace(first - from, last - first, last - first, styleOfToken(token));
        }
        return styles;
    }
    [[nodiscard]] std::string sqlStyles(std::size_t from, std::size_t to) const {
        const auto& tokens = script->tokens();
        return stylesOf(tokens, from, to, [&](auto token) {
            return styleOf(*token, roleOf(static_cast<std::size_t>(token - tokens.begin())));
        });
    }
    [[nodiscard]] std::string jsonStyles(std::size_t from, std::size_t to) const {
        return stylesOf(json->tokens, from, to, [](auto token) { return styleOf(token->kind); });
    }

    /// A text that means to be JSON has JSON's colours, folds and mistakes instead of those of statements.
    void readJson() {
        const long length = SendScintilla(SCI_GETLENGTH);
        const bool wasJson = json.has_value();
        json.reset();
        if (hasHelpers && exchange::looksLikeJson(shown.text().part(0, firstText() + 1))) {
            json = exchange::outlineJson(shown.text().str());
        }
        if (!json && !wasJson) return;
        setMarginWidth(kFoldMargin, json ? kFoldWidth : 0);
        setMarginWidth(kRailMargin, json ? 0 : kRailWidth);
        setFoldLevels();
        SendScintilla(SCI_SETINDICATORCURRENT, kJsonIndicator);
        SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, length);
        if (!json || !json->problem) return setAccessibleDescription({});
        const auto at = std::min<long>(static_cast<long>(shownAt(json->problem->byteOffset)), std::max(0L, length - 1));
        SendScintilla(SCI_INDICATORFILLRANGE, static_cast<unsigned long>(at), std::min(1L, length));
        const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(at));
        setAccessibleDescription(SqlEditor::tr("Line %1: %2").arg(numberOf(line)).arg(toQt(json->problem->message)));
    }

    /// Where the first character stands that is no blank.
    [[nodiscard]] std::size_t firstText() const {
        constexpr std::size_t kLooked = 4096;
        return std::min(shown.text().part(0, kLooked).find_first_not_of(" \t\r\n"), kLooked);
    }

    void setFoldLevels() {
        std::vector<int> deeper(static_cast<std::size_t>(lines()) + 1, 0);  // than the line before
        std::vector<char> opens(deeper.size(), 0);
        const auto lineOf = [this](std::uint32_t offset) {
            return static_cast<std::size_t>(SendScintilla(SCI_LINEFROMPOSITION, shownAt(offset)));
        };
        for (const exchange::JsonFold& pair : json ? json->folds : std::vector<exchange::JsonFold>()) {
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

    [[nodiscard]] sql::TokenRole roleOf(std::size_t token) const {
        const auto& statements = script->statements();
        auto s = std::ranges::upper_bound(statements, token, {}, [](const auto& st) { return st.span.firstToken; });
        if (s == statements.begin()) return sql::TokenRole::Plain;
        --s;
        if (token >= s->span.endToken) return sql::TokenRole::Plain;
        return s->tree->roles[token - s->span.firstToken];
    }

    /// Everything is to have its colours anew; what is seen is coloured when it is painted.
    void recolour() { recolourFrom(0); }

    /// From the statement at a place of the text on: a quote may have changed everything below, and nothing above.
    void recolourFrom(std::size_t offset) {
        if (!hasHelpers && !json) return;
        readJson();
        long from = 0;
        if (!json && isFresh()) {
            const auto& statements = script->statements();
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

    /// Turns on or off what looks at the whole text with each key.
    void setHelpers(bool on) {
        if (hasHelpers == on) return;
        hasHelpers = on;
        setBraceMatching(on ? SloppyBraceMatch : NoBraceMatch);
        if (on) return recolour();
        popup->hide();
        readJson();
        const long coloured = SendScintilla(SCI_GETENDSTYLED);
        SendScintilla(SCI_STARTSTYLING, 0UL);
        SendScintilla(SCI_SETSTYLING, static_cast<unsigned long>(coloured), kPlain);
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
            constexpr long kMostCounted = 1 << 20;
            if (caret - start > kMostCounted) return {.line = number, .column = std::nullopt};
        }
        const std::size_t from = textAt(start);
        const std::string before = shown.text().part(from, caretOffset() - from);
        return {.line = number, .column = static_cast<long>(base::codePointCount(before)) + 1};
    }

    /// Opens, refreshes or closes the list of completions.
    void complete(bool isAsked) {
        if (!completer || json || !hasHelpers) return;
        const sql::Completion completion = completer(caretOffset());
        const bool isWorthIt = isAsked || completion.prefix.size() >= kCompleteFrom || isAfterDot();
        const bool isWhole =
            completion.items.size() == 1 && completion.items[0].text.size() == completion.prefix.size();
        if (completion.items.empty() || !isWorthIt || (isWhole && !isAsked)) return popup->hide();
        const auto position = static_cast<long>(shownAt(completion.start));
        const QPoint inArea(static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, position)),
                            static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, position)));
        popup->offer(completion, viewport()->mapTo(popup->parentWidget(), inArea), textHeight(0));
    }

    [[nodiscard]] bool isAfterDot() const {
        const std::size_t at = caretOffset();
        return at > 0 && shown.text().part(at - 1, 1) == ".";
    }

    void takeCompletion() {
        const sql::Completion& c = popup->completion();
        const int index = popup->currentIndex();
        popup->hide();
        if (index < 0 || index >= static_cast<int>(c.items.size())) return;
        const std::string& chosen = c.items[static_cast<std::size_t>(index)].text;
        SendScintilla(SCI_SETTARGETRANGE, shownAt(c.start), static_cast<long>(shownAt(c.start + c.length)));
        SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(chosen.size()), chosen.data());
        SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(SendScintilla(SCI_GETTARGETEND)));
    }

    void markHints() {
        SendScintilla(SCI_SETINDICATORCURRENT, kHintIndicator);
        SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, static_cast<long>(SendScintilla(SCI_GETLENGTH)));
        for (const TextHint& hint : hints) {
            const unsigned long from = shownAt(hint.start);
            SendScintilla(SCI_INDICATORFILLRANGE, from,
                          static_cast<long>(shownAt(hint.start + hint.length)) - static_cast<long>(from));
        }
    }

    /// Changes the text as a hint proposes, as a step of its own; the caret stays on its character.
    void carryOut(TextHint hint) {
        if (!hint.mend) return;
        SendScintilla(SCI_SETTARGETRANGE, shownAt(hint.mend->start),
                      static_cast<long>(shownAt(hint.mend->start + hint.mend->length)));
        replaceTarget(hint.mend->text);
    }

protected:
    void keyPressEvent(QKeyEvent* event) override {
        if (popup->isVisible() && takesPopupKey(event)) return;
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
            if (continues || isErasing) {
                complete(false);
            } else {
                popup->hide();
            }
        } else if (popup->isVisible() && !event->text().isEmpty()) {
            popup->hide();
        }
    }

    bool takesPopupKey(QKeyEvent* event) {
        switch (event->key()) {
            case Qt::Key_Down: popup->move(1); return true;
            case Qt::Key_Up: popup->move(-1); return true;
            case Qt::Key_PageDown: popup->move(8); return true;
            case Qt::Key_PageUp: popup->move(-8); return true;
            case Qt::Key_Escape: popup->hide(); return true;
            case Qt::Key_Tab:
            case Qt::Key_Return:
            case Qt::Key_Enter:
                if (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier)) return false;
                takeCompletion();
                return true;
            case Qt::Key_Left:
            case Qt::Key_Right:
            case Qt::Key_Home:
            case Qt::Key_End: popup->hide(); return false;
            default: return false;
        }
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
        const int statement = markAt(event->pos());
        if (statement >= 0) return void(Q_EMIT owner_->markClicked(statement));
        if (const TextHint* hint = hintAt(event->pos())) return carryOut(*hint);
        QsciScintilla::mousePressEvent(event);
    }

    void paintEvent(QPaintEvent* event) override {
        QsciScintilla::paintEvent(event);
        QPainter painter(viewport());
        painter.setRenderHint(QPainter::TextAntialiasing);
        if (!shown.breaks().empty() || shown.isPart()) paintNumbers(painter);
        paintMarks(painter);
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
        if (isInserted) {
            const auto behind = static_cast<unsigned long>(place + changed.size());
            offset = shown.noteInserted(place, changed, static_cast<char>(SendScintilla(SCI_GETCHARAT, behind)));
            lookForLongRows(at, changed);
        } else {
            offset = shown.noteDeleted(place, changed.size());
        }
        fitNumbers();
        lookAtSize();
        Q_EMIT owner_->textEdited();
        recolourFrom(offset);
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
        return !isSmall && SendScintilla(SCI_GETLENGTH) <= kMostHeld;
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

    struct Extent {
        int top;
        int bottom;
        int textEnd;  // x behind the first line's text
    };

    /// Where a statement is drawn; nothing when it is out of sight.
    [[nodiscard]] std::optional<Extent> extentOf(std::size_t index) const {
        const auto& span = script->statements()[index].span;
        const long firstLine = SendScintilla(SCI_LINEFROMPOSITION, shownAt(span.start));
        const long lastLine = SendScintilla(SCI_LINEFROMPOSITION, shownAt(span.end()));
        const long topLine = SendScintilla(SCI_GETFIRSTVISIBLELINE);
        const long onScreen = SendScintilla(SCI_LINESONSCREEN);
        if (lastLine < topLine || firstLine > topLine + onScreen) return std::nullopt;
        const int height = static_cast<int>(SendScintilla(SCI_TEXTHEIGHT, static_cast<unsigned long>(firstLine)));
        const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(firstLine));
        return Extent{static_cast<int>(firstLine - topLine) * height, static_cast<int>(lastLine - topLine + 1) * height,
                      static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, end))};
    }

    /// The statements of which something may be in sight: from one up to another.
    [[nodiscard]] std::pair<std::size_t, std::size_t> inSight() const {
        const long top = SendScintilla(SCI_GETFIRSTVISIBLELINE);
        const long below = std::min<long>(lines(), top + SendScintilla(SCI_LINESONSCREEN) + 2);
        const std::size_t first = textAt(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(top)));
        const std::size_t last = textAt(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(below)));
        const auto& all = script->statements();
        const auto from = std::ranges::lower_bound(all, first, {}, [](const auto& s) { return s.span.end(); });
        const auto to = std::ranges::upper_bound(all, below >= lines() ? shown.text().size() : last, {},
                                                 [](const auto& s) { return s.span.start; });
        return {static_cast<std::size_t>(from - all.begin()), static_cast<std::size_t>(to - all.begin())};
    }

    [[nodiscard]] bool canPaint() const {
        return !json && hasHelpers && isFresh() && script->statements().size() == marks.size();
    }

    static const char* roleFor(StatementMark::Mood mood) {
        switch (mood) {
            case StatementMark::Mood::Good: return "sage";
            case StatementMark::Mood::Going:
            case StatementMark::Mood::Part: return "juniper";
            case StatementMark::Mood::Bad: return "tomato";
            case StatementMark::Mood::Stopped: return "marigold";
            case StatementMark::Mood::None: break;
        }
        return "line";
    }

    static QString signFor(StatementMark::Mood mood) {
        switch (mood) {
            case StatementMark::Mood::Good: return QStringLiteral("✓ ");
            case StatementMark::Mood::Bad: return QStringLiteral("✗ ");
            case StatementMark::Mood::Going: return QStringLiteral("… ");
            default: return {};
        }
    }

    QFont noteFont() const {
        QFont font = QApplication::font();
        font.setFamily(QStringLiteral("Inter"));
        font.setPixelSize(Theme::px(12));
        return font;
    }

    /// The line of a place, as statements have theirs; nothing when it is folded or out of sight.
    [[nodiscard]] std::optional<Extent> lineExtent(std::size_t offset) {
        const long line = SendScintilla(SCI_LINEFROMPOSITION, shownAt(offset));
        const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(line));
        const int top = static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, end));
        const bool isSeen = SendScintilla(SCI_GETLINEVISIBLE, static_cast<unsigned long>(line)) != 0;
        if (!isSeen || top < -textHeight(0) || top > viewport()->height()) return std::nullopt;
        return Extent{top, top + textHeight(static_cast<int>(line)),
                      static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, end))};
    }

    /// What is wrong with a JSON text stands behind the line where it is.
    void paintJsonProblem(QPainter& painter) {
        const auto extent = lineExtent(json->problem->byteOffset);
        if (!extent) return;
        paintNote(painter, *extent,
                  {.mood = StatementMark::Mood::Bad, .words = toQt(json->problem->message), .after = {}});
    }

    [[nodiscard]] static StatementMark noteOf(const TextHint& hint) {
        return {.mood = StatementMark::Mood::Stopped,
                .words = hint.message,
                .after = hint.mend ? SqlEditor::tr("  %1 mends it").arg(keyText("editor.mend")) : QString()};
    }
    void paintHints(QPainter& painter) {
        for (const TextHint& hint : hints) {
            if (const auto extent = lineExtent(hint.start)) paintNote(painter, *extent, noteOf(hint));
        }
    }
    /// The hint whose words are at a point; none else.
    [[nodiscard]] const TextHint* hintAt(const QPoint& point) {
        for (const TextHint& hint : hints) {
            const auto extent = lineExtent(hint.start);
            if (extent && noteRect(*extent, noteOf(hint)).contains(point)) return &hint;
        }
        return nullptr;
    }

    void paintMarks(QPainter& painter) {
        if (json && json->problem) return paintJsonProblem(painter);
        if (!canPaint()) return;
        paintHints(painter);
        const Theme& theme = Theme::current();
        const int railX = marginWidth(kNumberMargin) + 3;
        const std::size_t current = script->indexAt(caretOffset()).value_or(marks.size());
        const std::map<int, std::size_t> notes = notesByLine();
        const auto [first, end] = inSight();
        for (std::size_t i = first; i < end; ++i) {
            const auto extent = extentOf(i);
            if (!extent) continue;
            const StatementMark& mark = marks[i];
            const auto note = notes.find(extent->top);
            if (note != notes.end() && note->second != i) continue;
            QColor rail = theme.colour(roleFor(mark.mood));
            if (mark.mood == StatementMark::Mood::None && i == current) rail = theme.colour("juniper");
            painter.fillRect(QRect(railX, extent->top + 1, 3, extent->bottom - extent->top - 2), rail);
            if (!mark.words.isEmpty()) paintNote(painter, *extent, mark);
        }
    }

    /// Of several statements that begin on one line, the one whose outcome stands behind it: one that failed, else that
    /// at the caret, else the last that ran. By the line's upper edge.
    [[nodiscard]] std::map<int, std::size_t> notesByLine() const {
        const std::size_t current = script->indexAt(caretOffset()).value_or(marks.size());
        const auto rank = [&](std::size_t i) {
            return marks[i].mood == StatementMark::Mood::Bad ? 2 : i == current ? 1 : 0;
        };
        std::map<int, std::size_t> notes;
        const auto [first, end] = inSight();
        for (std::size_t i = first; i < end; ++i) {
            const auto extent = extentOf(i);
            if (!extent || marks[i].words.isEmpty()) continue;
            const auto [at, isFirst] = notes.emplace(extent->top, i);
            if (!isFirst && rank(i) >= rank(at->second)) at->second = i;
        }
        return notes;
    }

    /// Where the words behind a line stand: behind its text, never over the margin; where a long line leaves no room,
    /// over its end.
    [[nodiscard]] QRect noteRect(const Extent& extent, const StatementMark& mark) const {
        constexpr int kApart = 26;
        constexpr int kEdge = 8;
        constexpr int kLeastRoom = 220;
        QFont font = noteFont();
        font.setWeight(QFont::DemiBold);
        const int wanted = QFontMetrics(font).horizontalAdvance(signFor(mark.mood) + mark.words) + 2;
        const int right = viewport()->width() - kEdge;
        const int behind = std::max(extent.textEnd, textLeft() - kApart + kEdge) + kApart;
        const int left = std::min(behind, right - std::min(wanted, kLeastRoom));
        return {left, extent.top, std::max(0, right - left), textHeight(0)};
    }
    /// Where the text begins, behind the margins.
    [[nodiscard]] int textLeft() const {
        int width = 0;
        for (int margin = 0; margin < 5; ++margin) width += marginWidth(margin);
        return width;
    }

    void paintNote(QPainter& painter, const Extent& extent, const StatementMark& mark) {
        const Theme& theme = Theme::current();
        const QRect place = noteRect(extent, mark);
        QFont font = noteFont();
        font.setWeight(QFont::DemiBold);
        const QFontMetrics strong(font);
        if (place.left() < extent.textEnd) {
            painter.fillRect(place.adjusted(-6, 0, 8, 0), theme.colour("card"));
        }
        const QString words = strong.elidedText(signFor(mark.mood) + mark.words, Qt::ElideRight, place.width());
        painter.setFont(font);
        painter.setPen(theme.colour(roleFor(mark.mood)));
        painter.drawText(place, Qt::AlignVCenter, words);
        const int used = strong.horizontalAdvance(words);
        font.setWeight(QFont::Normal);
        painter.setFont(font);
        painter.setPen(theme.colour("quiet"));
        if (used + 20 < place.width()) {
            painter.drawText(place.adjusted(used, 0, 0, 0), Qt::AlignVCenter,
                             QFontMetrics(font).elidedText(mark.after, Qt::ElideRight, place.width() - used));
        }
    }

    /// The statement whose rail or outcome is at a point; -1 for none.
    [[nodiscard]] int markAt(const QPoint& point) const {
        if (!canPaint()) return -1;
        const int railX = marginWidth(kNumberMargin);
        const std::map<int, std::size_t> notes = notesByLine();
        const auto [first, end] = inSight();
        for (std::size_t i = first; i < end; ++i) {
            const auto extent = extentOf(i);
            if (!extent || point.y() < extent->top || point.y() >= extent->bottom) continue;
            const auto note = notes.find(extent->top);
            if (note != notes.end() && note->second != i) continue;
            if (marks[i].words.isEmpty()) return -1;
            const bool onRail = point.x() >= railX && point.x() < railX + kRailWidth;
            const bool onNote = noteRect(*extent, marks[i]).adjusted(-6, 0, 8, 0).contains(point);
            return onRail || onNote ? static_cast<int>(i) : -1;
        }
        return -1;
    }

    SqlEditor* owner_;
    bool isShowing_ = false;  // the component is being filled, and the text stays
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

void SqlEditor::setScript(const sql::Script* script) {
    area_->script = script;
    area_->recolour();
}

void SqlEditor::setCompleter(std::function<sql::Completion(std::size_t)> completer) {
    area_->completer = std::move(completer);
}

const base::SharedText& SqlEditor::text() const { return area_->shown.text(); }

void SqlEditor::setHelpers(bool on) { area_->setHelpers(on); }

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
    area_->marks = std::move(marks);
    area_->viewport()->update();
}

void SqlEditor::setHints(std::vector<TextHint> hints) {
    if (hints.empty() && area_->hints.empty()) return;
    area_->hints = std::move(hints);
    area_->markHints();
    area_->viewport()->update();
}

bool SqlEditor::mend() {
    const std::size_t caret = area_->caretOffset();
    const auto lineOf = [&](std::size_t offset) {
        return area_->SendScintilla(QsciScintillaBase::SCI_LINEFROMPOSITION, area_->shownAt(offset));
    };
    const auto isHere = [&](const TextHint& hint) { return hint.mend && lineOf(hint.start) >= lineOf(caret); };
    auto hint = std::ranges::find_if(area_->hints, isHere);
    if (hint == area_->hints.end()) {
        hint = std::ranges::find_if(area_->hints, [](const TextHint& one) { return one.mend.has_value(); });
    }
    if (hint == area_->hints.end()) return false;
    area_->carryOut(*hint);
    return true;
}

void SqlEditor::setErrorAt(std::int64_t offset) {
    const long length = area_->SendScintilla(QsciScintillaBase::SCI_GETLENGTH);
    area_->SendScintilla(QsciScintillaBase::SCI_SETINDICATORCURRENT, kErrorIndicator);
    area_->SendScintilla(QsciScintillaBase::SCI_INDICATORCLEARRANGE, 0UL, length);
    if (offset < 0 || static_cast<std::size_t>(offset) >= text().size()) return;
    const auto at = static_cast<long>(area_->shownAt(static_cast<std::size_t>(offset)));
    long end = area_->SendScintilla(QsciScintillaBase::SCI_WORDENDPOSITION, static_cast<unsigned long>(at), 1L);
    end = std::max<long>(end, at + 1);
    area_->SendScintilla(QsciScintillaBase::SCI_INDICATORFILLRANGE, static_cast<unsigned long>(at), end - at);
}

int SqlEditor::contentHeight() const {
    const auto lines = area_->SendScintilla(QsciScintillaBase::SCI_GETLINECOUNT);
    const auto height = area_->SendScintilla(QsciScintillaBase::SCI_TEXTHEIGHT, 0UL);
    constexpr long kMostLines = 10'000;
    return static_cast<int>((std::min(lines, kMostLines) + 1) * height) + 16;
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
    for (const StyleLook& look : kLooks) {
        styleAll(look.style);
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
    area_->SendScintilla(Base::SCI_INDICSETFORE, static_cast<unsigned long>(kHintIndicator),
                         rgb(theme.colour("marigold")));
    area_->SendScintilla(Base::SCI_INDICSETFORE, static_cast<unsigned long>(kErrorIndicator),
                         rgb(theme.colour("tomato")));
    area_->fitNumbers();
    area_->recolour();
}

}  // namespace pantry::app
