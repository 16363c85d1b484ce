// Colours, folds, numbers and underlines.
#include "app/editor/editor_area.h"

#include <QPainter>
#include <algorithm>

#include "app/base/text.h"
#include "app/editor/text_styles.h"
#include "app/look/theme.h"

namespace pantry::app {
namespace {

long rgb(const QColor& colour) { return colour.red() | colour.green() << 8 | colour.blue() << 16; }

}  // namespace

void EditorArea::setReading(const work::TextReadingPtr& reading) {
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

void EditorArea::colourUpTo(int end) {
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

void EditorArea::colourAsBefore(long at, long length) {
    if (at > SendScintilla(SCI_GETENDSTYLED)) return;  // nothing there has a colour yet
    const long before = at > 0 ? SendScintilla(SCI_GETSTYLEAT, static_cast<unsigned long>(at - 1)) : 0;
    SendScintilla(SCI_STARTSTYLING, static_cast<unsigned long>(at));
    SendScintilla(SCI_SETSTYLING, static_cast<unsigned long>(length), before);
}

void EditorArea::recolourFrom(std::size_t offset) {
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

void EditorArea::showJson() {
    const long length = SendScintilla(SCI_GETLENGTH);
    setMarginWidth(kRailMargin, json() != nullptr ? 0 : TextNotes::kRailWidth);
    SendScintilla(SCI_SETINDICATORCURRENT, kJsonIndicator);
    SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, length);
    if (json() == nullptr || !json()->problem) return setAccessibleDescription({});
    const std::size_t place = notes.edits().now(json()->problem->byteOffset);
    const auto at = std::min<long>(static_cast<long>(shownAt(place)), std::max(0L, length - 1));
    SendScintilla(SCI_INDICATORFILLRANGE, static_cast<unsigned long>(at), std::min(1L, length));
    const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(at));
    setAccessibleDescription(SqlEditor::tr("Line %1: %2").arg(numberOf(line)).arg(toQt(json()->problem->message)));
}

/// Only what is different is set: most of the time that is nothing. Rows that go on with a long line belong to it.
void EditorArea::setFolds(const std::vector<sql::FoldLine>& folds) {
    if (shown.isPart() || folds.empty()) return;
    std::size_t line = 0;
    for (long row = 0; row < lines(); ++row) {
        const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(row));
        const bool goesOn = shown.breaks().isContinued(static_cast<std::size_t>(start));
        if (row > 0 && !goesOn) ++line;
        const sql::FoldLine& one = folds[std::min(line, folds.size() - 1)];
        const int depth = one.depth + (goesOn && one.begins ? 1 : 0);
        const long level = (SC_FOLDLEVELBASE + depth) | (one.begins && !goesOn ? SC_FOLDLEVELHEADERFLAG : 0);
        if (SendScintilla(SCI_GETFOLDLEVEL, static_cast<unsigned long>(row)) == level) continue;
        SendScintilla(SCI_SETFOLDLEVEL, static_cast<unsigned long>(row), level);
    }
}

void EditorArea::foldAtCaret() {
    long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(SendScintilla(SCI_GETCURRENTPOS)));
    if ((SendScintilla(SCI_GETFOLDLEVEL, static_cast<unsigned long>(line)) & SC_FOLDLEVELHEADERFLAG) == 0)
        line = SendScintilla(SCI_GETFOLDPARENT, static_cast<unsigned long>(line));
    if (line < 0) return;
    SendScintilla(SCI_TOGGLEFOLD, static_cast<unsigned long>(line));
    const bool isFolded = SendScintilla(SCI_GETFOLDEXPANDED, static_cast<unsigned long>(line)) == 0;
    if (isFolded) goToLine(line + 1);  // the caret's own line is out of sight
}

void EditorArea::foldEverything(bool isFolded) {
    SendScintilla(SCI_FOLDALL, static_cast<unsigned long>(isFolded ? SC_FOLDACTION_CONTRACT : SC_FOLDACTION_EXPAND));
    if (isFolded)
        SendScintilla(SCI_ENSUREVISIBLE,
                      static_cast<unsigned long>(SendScintilla(
                          SCI_LINEFROMPOSITION, static_cast<unsigned long>(SendScintilla(SCI_GETCURRENTPOS)))));
}

void EditorArea::showPair(const std::optional<sql::TextPair>& pair) {
    const long length = SendScintilla(SCI_GETLENGTH);
    for (const int indicator : {kPairIndicator, kLoneIndicator}) {
        SendScintilla(SCI_SETINDICATORCURRENT, indicator);
        SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, length);
    }
    if (!pair) return;
    SendScintilla(SCI_SETINDICATORCURRENT, pair->other ? kPairIndicator : kLoneIndicator);
    const auto mark = [this](const sql::TextRange& range) {
        const unsigned long from = shownAt(range.start);
        SendScintilla(SCI_INDICATORFILLRANGE, from,
                      static_cast<long>(shownAt(range.start + range.length)) - static_cast<long>(from));
    };
    mark(pair->at);
    if (pair->other) mark(*pair->other);
}

void EditorArea::setNumbersShown(bool areShown) {
    areNumbersShown_ = areShown;
    fitNumbers();
}

void EditorArea::fitNumbers() {
    if (!areNumbersShown_) return setMarginWidth(kNumberMargin, 0);
    const auto last = static_cast<long>(shown.linesBefore()) + lines();
    setMarginWidth(kNumberMargin, QStringLiteral("  ") + QString::number(std::max(last, 100L)));
    const bool isCounted = !shown.breaks().empty() || shown.isPart();  // by us: the component counts what it holds
    setMarginType(kNumberMargin, isCounted ? SymbolMargin : NumberMargin);
}

void EditorArea::paintNumbers(QPainter& painter) {
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

void EditorArea::noteHelpers() {
    setMarginWidth(kFoldMargin, hasHelpers() ? kFoldWidth : 0);
    if (hasHelpers()) return recolourFrom(0);
    popup->hide();
    const long coloured = SendScintilla(SCI_GETENDSTYLED);
    SendScintilla(SCI_STARTSTYLING, 0UL);
    SendScintilla(SCI_SETSTYLING, static_cast<unsigned long>(coloured), static_cast<long>(TextStyle::Plain));
    viewport()->update();
}

void EditorArea::markHints() {
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

void EditorArea::applyTheme() {
    const Theme& theme = Theme::current();
    const QFont font = this->font();
    const QByteArray family = font.family().toUtf8();
    const auto styleAll = [&](long style) {
        SendScintilla(SCI_STYLESETFONT, static_cast<unsigned long>(style), family.constData());
        SendScintilla(SCI_STYLESETSIZEFRACTIONAL, static_cast<unsigned long>(style),
                      static_cast<long>(font.pointSizeF() * 100));
        SendScintilla(SCI_STYLESETFORE, static_cast<unsigned long>(style), rgb(theme.colour("ink")));
        SendScintilla(SCI_STYLESETBACK, static_cast<unsigned long>(style), rgb(theme.colour("card")));
    };
    styleAll(STYLE_DEFAULT);
    SendScintilla(SCI_STYLECLEARALL);
    for (const TextStyleLook& look : textStyleLooks()) {
        styleAll(static_cast<long>(look.style));
        const auto style = static_cast<unsigned long>(look.style);
        SendScintilla(SCI_STYLESETFORE, style, rgb(theme.colour(look.role)));
        SendScintilla(SCI_STYLESETBOLD, style, static_cast<long>(look.isBold));
        SendScintilla(SCI_STYLESETITALIC, style, static_cast<long>(look.isItalic));
    }
    styleAll(STYLE_LINENUMBER);
    SendScintilla(SCI_STYLESETFORE, static_cast<unsigned long>(STYLE_LINENUMBER), rgb(theme.colour("quiet")));
    setPaper(theme.colour("card"));
    setMarginsBackgroundColor(theme.colour("card"));
    setMarginsForegroundColor(theme.colour("quiet"));
    setCaretForegroundColor(theme.colour("ink"));
    setSelectionBackgroundColor(theme.tinted(theme.colour("juniper"), 0.28));
    SendScintilla(SCI_SETSELFORE, 0UL, 0L);
    setMatchedBraceBackgroundColor(theme.colour("selection"));
    setMatchedBraceForegroundColor(theme.colour("juniper"));
    setUnmatchedBraceForegroundColor(theme.colour("tomato"));
    setUnmatchedBraceBackgroundColor(theme.colour("card"));
    SendScintilla(SCI_INDICSETFORE, static_cast<unsigned long>(kJsonIndicator), rgb(theme.colour("tomato")));
    setFoldMarginColors(theme.colour("card"), theme.colour("card"));
    for (unsigned long marker = SC_MARKNUM_FOLDEREND; marker <= SC_MARKNUM_FOLDEROPEN; ++marker) {
        SendScintilla(SCI_MARKERSETFORE, marker, rgb(theme.colour("card")));
        SendScintilla(SCI_MARKERSETBACK, marker, rgb(theme.colour("quiet")));
    }
    for (const auto& [indicator, role] :
         {std::pair(kErrorHintIndicator, "tomato"), std::pair(kWarningHintIndicator, "marigold"),
          std::pair(kQuietHintIndicator, "quiet")}) {
        SendScintilla(SCI_INDICSETFORE, static_cast<unsigned long>(indicator), rgb(theme.colour(role)));
    }
    SendScintilla(SCI_INDICSETFORE, static_cast<unsigned long>(kPlaceIndicator), rgb(theme.colour("beet")));
    SendScintilla(SCI_INDICSETFORE, static_cast<unsigned long>(kUseIndicator), rgb(theme.colour("juniper")));
    SendScintilla(SCI_INDICSETALPHA, static_cast<unsigned long>(kUseIndicator), 40L);
    SendScintilla(SCI_INDICSETOUTLINEALPHA, static_cast<unsigned long>(kUseIndicator), 90L);
    SendScintilla(SCI_INDICSETFORE, static_cast<unsigned long>(kFoundIndicator), rgb(theme.colour("marigold")));
    SendScintilla(SCI_INDICSETALPHA, static_cast<unsigned long>(kFoundIndicator), 70L);
    SendScintilla(SCI_INDICSETOUTLINEALPHA, static_cast<unsigned long>(kFoundIndicator), 120L);
    for (const auto& [indicator, role] : {std::pair(kPairIndicator, "juniper"), std::pair(kLoneIndicator, "tomato")}) {
        SendScintilla(SCI_INDICSETFORE, static_cast<unsigned long>(indicator), rgb(theme.colour(role)));
        SendScintilla(SCI_INDICSETALPHA, static_cast<unsigned long>(indicator), 45L);
        SendScintilla(SCI_INDICSETOUTLINEALPHA, static_cast<unsigned long>(indicator), 160L);
    }
    SendScintilla(SCI_SETADDITIONALCARETFORE, static_cast<unsigned long>(rgb(theme.colour("juniper"))));
    const QColor selected = theme.tinted(theme.colour("juniper"), 0.28);
    SendScintilla(SCI_SETADDITIONALSELBACK, static_cast<unsigned long>(rgb(selected)));
    SendScintilla(SCI_SETADDITIONALSELALPHA, static_cast<unsigned long>(SC_ALPHA_NOALPHA));
    SendScintilla(SCI_INDICSETFORE, static_cast<unsigned long>(kErrorIndicator), rgb(theme.colour("tomato")));
    fitNumbers();
    recolourFrom(0);
}

}  // namespace pantry::app
