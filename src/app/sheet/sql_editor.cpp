#include "app/sheet/sql_editor.h"

#include <Qsci/qscicommandset.h>
#include <Qsci/qsciscintilla.h>

#include <QApplication>
#include <QKeyEvent>
#include <QPainter>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <optional>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/sheet/completion_popup.h"
#include "app/theme/theme.h"
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
constexpr long kMostJsonBytes = 4 << 20;  // more is shown without colours: each key looks through all of it
constexpr int kCompleteFrom = 2;          // letters typed before the list opens by itself

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
        SendScintilla(SCI_SETMARGINLEFT, 0, 4);
        SendScintilla(SCI_INDICSETSTYLE, kErrorIndicator, INDIC_SQUIGGLE);
        SendScintilla(SCI_INDICSETSTYLE, kJsonIndicator, INDIC_SQUIGGLE);
        SendScintilla(SCI_INDICSETSTYLE, kParameterIndicator, INDIC_DOTS);
        for (const int key : kOurKeys) {
            if (QsciCommand* command = standardCommands()->boundTo(key)) {
                if (command->key() == key) command->setKey(0);
                if (command->alternateKey() == key) command->setAlternateKey(0);
            }
        }
        connect(this, &QsciScintillaBase::SCN_STYLENEEDED, this, [this](int end) { colourUpTo(end); });
        connect(this, &QsciScintilla::cursorPositionChanged, this, [this] { Q_EMIT owner_->caretMoved(); });
        connect(this, &QsciScintilla::linesChanged, this, [this] { fitNumbers(); });
        fitNumbers();
    }

    const sql::Script* script = nullptr;
    std::optional<exchange::JsonOutline> json;  // of a text that means to be JSON
    std::function<sql::Completion(std::size_t)> completer;
    std::vector<StatementMark> marks;
    CompletionPopup* popup = nullptr;

    [[nodiscard]] std::size_t caretOffset() const { return static_cast<std::size_t>(SendScintilla(SCI_GETCURRENTPOS)); }

    [[nodiscard]] std::string bytes(long start, long end) const {
        std::string out(static_cast<std::size_t>(end - start), '\0');
        if (out.empty()) return out;
        const auto* all = reinterpret_cast<const char*>(SendScintillaPtrResult(SCI_GETCHARACTERPOINTER));
        return {all + start, all + end};
    }

    /// Colours from the line of the first byte not coloured yet up to `end`.
    void colourUpTo(int end) {
        const long from =
            SendScintilla(SCI_POSITIONFROMLINE, SendScintilla(SCI_LINEFROMPOSITION, SendScintilla(SCI_GETENDSTYLED)));
        const long length = SendScintilla(SCI_GETLENGTH);
        const long to = std::min<long>(std::max<long>(end, from), length);
        SendScintilla(SCI_STARTSTYLING, from);
        if (json) return colourJson(from, to);
        const bool isFresh = script != nullptr && static_cast<long>(script->text().size()) == length;
        if (!isFresh) {  // the script follows in a moment, and we are asked again
            SendScintilla(SCI_SETSTYLING, to - from, kPlain);
            return;
        }
        std::string styles(static_cast<std::size_t>(to - from), kPlain);
        const auto& tokens = script->tokens();
        auto token = std::ranges::upper_bound(tokens, static_cast<std::uint32_t>(from), {}, &sql::Token::start);
        if (token != tokens.begin()) --token;
        for (; token != tokens.end() && token->start < to; ++token) {
            const Style style = styleOf(*token, roleOf(static_cast<std::size_t>(token - tokens.begin())));
            const long first = std::max<long>(token->start, from);
            const long last = std::min<long>(token->end(), to);
            for (long i = first; i < last; ++i) styles[static_cast<std::size_t>(i - from)] = style;
        }
        SendScintilla(SCI_SETSTYLINGEX, static_cast<unsigned long>(styles.size()), styles.data());
    }

    void colourJson(long from, long to) {
        std::string styles(static_cast<std::size_t>(to - from), kPlain);
        const auto& tokens = json->tokens;
        auto token =
            std::ranges::upper_bound(tokens, static_cast<std::uint32_t>(from), {}, &exchange::JsonToken::start);
        if (token != tokens.begin()) --token;
        for (; token != tokens.end() && token->start < to; ++token) {
            const long last = std::min<long>(token->start + token->length, to);
            for (long i = std::max<long>(token->start, from); i < last; ++i) {
                styles[static_cast<std::size_t>(i - from)] = styleOf(token->kind);
            }
        }
        SendScintilla(SCI_SETSTYLINGEX, static_cast<unsigned long>(styles.size()), styles.data());
    }

    /// A text that means to be JSON has JSON's colours, folds and mistakes instead of those of statements.
    void readJson() {
        const long length = SendScintilla(SCI_GETLENGTH);
        const bool wasJson = json.has_value();
        json.reset();
        const bool isJson = length <= kMostJsonBytes && exchange::looksLikeJson(bytes(0, firstText() + 1));
        if (isJson) json = exchange::outlineJson(bytes(0, length));
        if (!json && !wasJson) return;
        setMarginWidth(kFoldMargin, json ? kFoldWidth : 0);
        setMarginWidth(kRailMargin, json ? 0 : kRailWidth);
        setFoldLevels();
        SendScintilla(SCI_SETINDICATORCURRENT, kJsonIndicator);
        SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, length);
        if (!json || !json->problem) return setAccessibleDescription({});
        const auto at = std::min<long>(static_cast<long>(json->problem->byteOffset), std::max(0L, length - 1));
        SendScintilla(SCI_INDICATORFILLRANGE, static_cast<unsigned long>(at), std::min(1L, length));
        const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(at));
        setAccessibleDescription(SqlEditor::tr("Line %1: %2").arg(line + 1).arg(toQt(json->problem->message)));
    }

    /// Where the first character stands that is no blank.
    [[nodiscard]] long firstText() const {
        const long length = SendScintilla(SCI_GETLENGTH);
        long at = 0;
        while (at < length && SendScintilla(SCI_GETCHARAT, static_cast<unsigned long>(at)) <= ' ') ++at;
        return std::min(at, length - 1);
    }

    void setFoldLevels() {
        std::vector<int> deeper(static_cast<std::size_t>(lines()) + 1, 0);  // than the line before
        std::vector<char> opens(deeper.size(), 0);
        const auto lineOf = [this](std::uint32_t offset) {
            return static_cast<std::size_t>(SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(offset)));
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

    void recolour() {
        readJson();
        SendScintilla(SCI_STARTSTYLING, 0UL);
        colourUpTo(static_cast<int>(SendScintilla(SCI_GETLENGTH)));
        viewport()->update();
    }

    void fitNumbers() { setMarginWidth(kNumberMargin, QStringLiteral("  ") + QString::number(std::max(lines(), 100))); }

    /// Opens, refreshes or closes the list of completions.
    void complete(bool isAsked) {
        if (!completer || json) return;
        const sql::Completion completion = completer(caretOffset());
        const bool isWorthIt = isAsked || completion.prefix.size() >= kCompleteFrom || isAfterDot();
        const bool isWhole =
            completion.items.size() == 1 && completion.items[0].text.size() == completion.prefix.size();
        if (completion.items.empty() || !isWorthIt || (isWhole && !isAsked)) return popup->hide();
        const auto position = static_cast<long>(completion.start);
        const QPoint inArea(static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, position)),
                            static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, position)));
        popup->offer(completion, viewport()->mapTo(popup->parentWidget(), inArea), textHeight(0));
    }

    [[nodiscard]] bool isAfterDot() const {
        const std::size_t at = caretOffset();
        return at > 0 && SendScintilla(SCI_GETCHARAT, static_cast<unsigned long>(at - 1)) == '.';
    }

    void takeCompletion() {
        const sql::Completion& c = popup->completion();
        const int index = popup->currentIndex();
        popup->hide();
        if (index < 0 || index >= static_cast<int>(c.items.size())) return;
        const std::string& text = c.items[static_cast<std::size_t>(index)].text;
        SendScintilla(SCI_SETTARGETRANGE, static_cast<unsigned long>(c.start), static_cast<long>(c.start + c.length));
        SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(text.size()), text.data());
        SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(c.start + text.size()));
    }

protected:
    void keyPressEvent(QKeyEvent* event) override {
        if (popup->isVisible() && takesPopupKey(event)) return;
        const bool isTyping = !event->text().isEmpty() && event->text()[0].isPrint() &&
                              !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
        const bool isErasing = event->key() == Qt::Key_Backspace && popup->isVisible();
        QsciScintilla::keyPressEvent(event);
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

    void mousePressEvent(QMouseEvent* event) override {
        popup->hide();
        const int statement = markAt(event->pos());
        if (statement >= 0) return void(Q_EMIT owner_->markClicked(statement));
        QsciScintilla::mousePressEvent(event);
    }

    void paintEvent(QPaintEvent* event) override {
        QsciScintilla::paintEvent(event);
        QPainter painter(viewport());
        painter.setRenderHint(QPainter::TextAntialiasing);
        paintMarks(painter);
    }

private:
    struct Extent {
        int top;
        int bottom;
        int textEnd;  // x behind the first line's text
    };

    /// Where a statement is drawn; nothing when it is out of sight.
    [[nodiscard]] std::optional<Extent> extentOf(std::size_t index) const {
        const auto& span = script->statements()[index].span;
        const long firstLine = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(span.start));
        const long lastLine = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(span.end()));
        const long topLine = SendScintilla(SCI_GETFIRSTVISIBLELINE);
        const long shown = SendScintilla(SCI_LINESONSCREEN);
        if (lastLine < topLine || firstLine > topLine + shown) return std::nullopt;
        const int height = static_cast<int>(SendScintilla(SCI_TEXTHEIGHT, static_cast<unsigned long>(firstLine)));
        const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(firstLine));
        return Extent{static_cast<int>(firstLine - topLine) * height, static_cast<int>(lastLine - topLine + 1) * height,
                      static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, end))};
    }

    [[nodiscard]] bool canPaint() const {
        return !json && script != nullptr && script->statements().size() == marks.size() &&
               static_cast<long>(script->text().size()) == SendScintilla(SCI_GETLENGTH);
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
        font.setPixelSize(12);
        return font;
    }

    /// What is wrong with a JSON text stands behind the line where it is.
    void paintJsonProblem(QPainter& painter) {
        const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(json->problem->byteOffset));
        const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(line));
        const int top = static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, end));
        if (SendScintilla(SCI_GETLINEVISIBLE, static_cast<unsigned long>(line)) == 0) return;
        const Extent extent{top, top + textHeight(static_cast<int>(line)),
                            static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, end))};
        paintNote(painter, extent,
                  {.mood = StatementMark::Mood::Bad, .words = toQt(json->problem->message), .after = {}});
    }

    void paintMarks(QPainter& painter) {
        if (json && json->problem) return paintJsonProblem(painter);
        if (!canPaint()) return;
        const Theme& theme = Theme::current();
        const int railX = marginWidth(kNumberMargin) + 3;
        const std::size_t current = script->indexAt(caretOffset()).value_or(marks.size());
        const std::map<int, std::size_t> notes = notesByLine();
        for (std::size_t i = 0; i < marks.size(); ++i) {
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
        for (std::size_t i = 0; i < marks.size(); ++i) {
            const auto extent = extentOf(i);
            if (!extent || marks[i].words.isEmpty()) continue;
            const auto [at, isFirst] = notes.emplace(extent->top, i);
            if (!isFirst && rank(i) >= rank(at->second)) at->second = i;
        }
        return notes;
    }

    void paintNote(QPainter& painter, const Extent& extent, const StatementMark& mark) {
        const Theme& theme = Theme::current();
        QFont font = noteFont();
        font.setWeight(QFont::DemiBold);
        const int height = textHeight(0);
        const int left = extent.textEnd + 26;
        const int room = viewport()->width() - left - 8;
        if (room < 40) return;
        const QFontMetrics strong(font);
        const QString words = strong.elidedText(signFor(mark.mood) + mark.words, Qt::ElideRight, room);
        painter.setFont(font);
        painter.setPen(theme.colour(roleFor(mark.mood)));
        painter.drawText(QRect(left, extent.top, room, height), Qt::AlignVCenter, words);
        const int used = strong.horizontalAdvance(words);
        font.setWeight(QFont::Normal);
        painter.setFont(font);
        painter.setPen(theme.colour("quiet"));
        if (used + 20 < room) {
            painter.drawText(QRect(left + used, extent.top, room - used, height), Qt::AlignVCenter,
                             QFontMetrics(font).elidedText(mark.after, Qt::ElideRight, room - used));
        }
    }

    /// The statement whose rail or outcome is at a point; -1 for none.
    [[nodiscard]] int markAt(const QPoint& point) const {
        if (!canPaint()) return -1;
        const int railX = marginWidth(kNumberMargin);
        const std::map<int, std::size_t> notes = notesByLine();
        for (std::size_t i = 0; i < marks.size(); ++i) {
            const auto extent = extentOf(i);
            if (!extent || point.y() < extent->top || point.y() >= extent->bottom) continue;
            const auto note = notes.find(extent->top);
            if (note != notes.end() && note->second != i) continue;
            if (marks[i].words.isEmpty()) return -1;
            const bool onRail = point.x() >= railX && point.x() < railX + kRailWidth;
            const bool onNote = point.y() < extent->top + textHeight(0) && point.x() > extent->textEnd + 20;
            return onRail || onNote ? static_cast<int>(i) : -1;
        }
        return -1;
    }

    SqlEditor* owner_;
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
    connect(area_, &QsciScintilla::textChanged, this, [this] {
        Q_EMIT textEdited();
        // Colour again from the edited statement on: a quote may have changed everything below.
        area_->recolour();
    });
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

std::string SqlEditor::text() const { return area_->bytes(0, area_->SendScintilla(QsciScintillaBase::SCI_GETLENGTH)); }

void SqlEditor::resetText(const std::string& text) {
    replaceText(text, 0);
    area_->SendScintilla(QsciScintillaBase::SCI_EMPTYUNDOBUFFER);
}

void SqlEditor::replaceText(const std::string& text, std::size_t caret) {
    area_->SendScintilla(QsciScintillaBase::SCI_BEGINUNDOACTION);
    area_->SendScintilla(QsciScintillaBase::SCI_SETTARGETRANGE, 0UL,
                         area_->SendScintilla(QsciScintillaBase::SCI_GETLENGTH));
    area_->SendScintilla(QsciScintillaBase::SCI_REPLACETARGET, static_cast<unsigned long>(text.size()), text.data());
    area_->SendScintilla(QsciScintillaBase::SCI_ENDUNDOACTION);
    setCaret(caret);
}

void SqlEditor::insertText(const std::string& text) {
    area_->SendScintilla(QsciScintillaBase::SCI_REPLACESEL, text.c_str());
}

void SqlEditor::insertAt(std::size_t offset, const std::string& text) {
    area_->SendScintilla(QsciScintillaBase::SCI_INSERTTEXT, static_cast<unsigned long>(offset), text.c_str());
}

void SqlEditor::appendBelow(const std::string& added) {
    const std::string before = text();
    std::string separator;
    if (!before.empty()) separator = before.ends_with("\n\n") ? "" : before.ends_with('\n') ? "\n" : "\n\n";
    const std::size_t start = before.size() + separator.size();
    const std::string piece = separator + added;
    area_->SendScintilla(QsciScintillaBase::SCI_APPENDTEXT, static_cast<unsigned long>(piece.size()), piece.data());
    setCaret(start + added.size());
}

std::size_t SqlEditor::caret() const { return area_->caretOffset(); }

void SqlEditor::setCaret(std::size_t offset) {
    area_->SendScintilla(QsciScintillaBase::SCI_GOTOPOS, static_cast<unsigned long>(offset));
    area_->SendScintilla(QsciScintillaBase::SCI_SCROLLCARET);
}

std::size_t SqlEditor::selectionStart() const {
    return static_cast<std::size_t>(area_->SendScintilla(QsciScintillaBase::SCI_GETSELECTIONSTART));
}

std::string SqlEditor::selection() const {
    return area_->bytes(area_->SendScintilla(QsciScintillaBase::SCI_GETSELECTIONSTART),
                        area_->SendScintilla(QsciScintillaBase::SCI_GETSELECTIONEND));
}

void SqlEditor::select(std::size_t start, std::size_t end) {
    area_->SendScintilla(QsciScintillaBase::SCI_SETSEL, static_cast<unsigned long>(start), static_cast<long>(end));
}

void SqlEditor::setMarks(std::vector<StatementMark> marks) {
    area_->marks = std::move(marks);
    area_->viewport()->update();
}

void SqlEditor::setErrorAt(std::int64_t offset) {
    const long length = area_->SendScintilla(QsciScintillaBase::SCI_GETLENGTH);
    area_->SendScintilla(QsciScintillaBase::SCI_SETINDICATORCURRENT, kErrorIndicator);
    area_->SendScintilla(QsciScintillaBase::SCI_INDICATORCLEARRANGE, 0UL, length);
    if (offset < 0 || offset >= length) return;
    long end = area_->SendScintilla(QsciScintillaBase::SCI_WORDENDPOSITION, static_cast<unsigned long>(offset), 1L);
    end = std::max<long>(end, offset + 1);
    area_->SendScintilla(QsciScintillaBase::SCI_INDICATORFILLRANGE, static_cast<unsigned long>(offset), end - offset);
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
    int fromLine = 0;
    int toLine = 0;
    int column = 0;
    if (area_->hasSelectedText()) {
        int toColumn = 0;
        area_->getSelection(&fromLine, &column, &toLine, &toColumn);
        if (toColumn == 0 && toLine > fromLine) --toLine;
    } else {
        area_->getCursorPosition(&fromLine, &column);
        toLine = fromLine;
    }
    bool isAllComment = true;
    for (int line = fromLine; line <= toLine; ++line) {
        const QString text = area_->text(line).trimmed();
        isAllComment = isAllComment && (text.isEmpty() || text.startsWith(QLatin1String("--")));
    }
    area_->beginUndoAction();
    for (int line = fromLine; line <= toLine; ++line) {
        const QString text = area_->text(line);
        if (text.trimmed().isEmpty()) continue;
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
    area_->SendScintilla(Base::SCI_INDICSETFORE, static_cast<unsigned long>(kErrorIndicator),
                         rgb(theme.colour("tomato")));
    area_->fitNumbers();
    area_->recolour();
}

}  // namespace pantry::app
