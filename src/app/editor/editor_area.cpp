#include "app/editor/editor_area.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>

#include "app/base/text.h"
#include "app/command/command.h"
#include "app/editor/editor_keys.h"

namespace pantry::app {
namespace {

/// The command of the text that a key means.
const Command* textCommandOf(const QKeyEvent* event) {
    const bool isPlain = (event->modifiers() & (Qt::ControlModifier | Qt::AltModifier)) == 0;
    if (isPlain && (event->key() < Qt::Key_F1 || event->key() > Qt::Key_F35)) return nullptr;  // it writes
    const QKeySequence pressed(event->keyCombination());
    const auto means = [&](const Command& one) {
        return one.place == CommandPlace::Editor && !one.isOfWidget && one.keys.contains(pressed);
    };
    const auto found = std::ranges::find_if(commands(), means);
    return found == commands().end() ? nullptr : &*found;
}

}  // namespace

EditorArea::EditorArea(SqlEditor* owner) : QsciScintilla(owner), owner_(owner) {
    setUtf8(true);
    setEolMode(EolUnix);
    setFrameShape(QFrame::NoFrame);
    setIndentationsUseTabs(false);
    setTabWidth(4);
    setAutoIndent(true);
    setBackspaceUnindents(true);
    setBraceMatching(NoBraceMatch);
    setMarginType(kNumberMargin, NumberMargin);
    setMarginType(kRailMargin, TextMargin);
    setMarginWidth(kRailMargin, TextNotes::kRailWidth);
    setFolding(PlainFoldStyle, kFoldMargin);
    for (int margin = 3; margin < 5; ++margin) setMarginWidth(margin, 0);
    setMarginWidth(kFoldMargin, kFoldWidth);
    setExtraAscent(2);
    setExtraDescent(2);
    SendScintilla(SCI_SETLEXER, SCLEX_CONTAINER);
    SendScintilla(SCI_SETMULTIPLESELECTION, 1);
    SendScintilla(SCI_SETADDITIONALSELECTIONTYPING, 1);
    SendScintilla(SCI_SETMULTIPASTE, static_cast<unsigned long>(SC_MULTIPASTE_EACH));
    SendScintilla(SCI_SETSCROLLWIDTHTRACKING, 1);
    SendScintilla(SCI_SETSCROLLWIDTH, kNarrow);
    SendScintilla(SCI_SETLAYOUTCACHE, static_cast<unsigned long>(SC_CACHE_PAGE));
    SendScintilla(SCI_SETMARGINLEFT, 0, 4);
    SendScintilla(SCI_INDICSETSTYLE, kErrorIndicator, INDIC_SQUIGGLE);
    SendScintilla(SCI_INDICSETSTYLE, kJsonIndicator, INDIC_SQUIGGLE);
    for (const int hint : {kErrorHintIndicator, kWarningHintIndicator, kQuietHintIndicator})
        SendScintilla(SCI_INDICSETSTYLE, static_cast<unsigned long>(hint), INDIC_SQUIGGLE);
    SendScintilla(SCI_INDICSETSTYLE, kPlaceIndicator, INDIC_DOTS);
    SendScintilla(SCI_INDICSETSTYLE, kFoundIndicator, INDIC_STRAIGHTBOX);
    SendScintilla(SCI_INDICSETUNDER, kFoundIndicator, 1L);
    SendScintilla(SCI_SETAUTOMATICFOLD, static_cast<unsigned long>(SC_AUTOMATICFOLD_SHOW | SC_AUTOMATICFOLD_CHANGE));
    for (const int pair : {kPairIndicator, kLoneIndicator}) {
        SendScintilla(SCI_INDICSETSTYLE, pair, INDIC_STRAIGHTBOX);
        SendScintilla(SCI_INDICSETUNDER, static_cast<unsigned long>(pair), 1L);
    }
    SendScintilla(SCI_INDICSETSTYLE, kUseIndicator, INDIC_STRAIGHTBOX);
    SendScintilla(SCI_INDICSETUNDER, kUseIndicator, 1L);
    bindEditorKeys(*this);
    // How a break in a very long line looks: it is none of the text.
    SendScintilla(SCI_SETREPRESENTATION, base::SoftBreaks::kSign.data(), "\u21b5");
    connect(this, &QsciScintillaBase::SCN_MODIFIED, this, [this](int at, int kind, const char* changed, int length) {
        if (changed != nullptr) noteModified(at, kind, {changed, static_cast<std::size_t>(length)});
    });
    connect(this, &QsciScintillaBase::SCN_STYLENEEDED, this, [this](int end) { colourUpTo(end); });
    connect(this, &QsciScintilla::cursorPositionChanged, this, [this] { Q_EMIT owner_->caretMoved(); });
    connect(this, &QsciScintilla::linesChanged, this, [this] { fitNumbers(); });
    fitNumbers();
}

const exchange::JsonOutline* EditorArea::json() const {
    return notes.reading() != nullptr && notes.reading()->json() ? &*notes.reading()->json() : nullptr;
}

unsigned long EditorArea::shownAt(std::size_t offset) const {
    return shown.shownAt(offset, static_cast<std::size_t>(SendScintilla(SCI_GETLENGTH)));
}

std::string EditorArea::selection() const {
    const std::size_t start = textAt(SendScintilla(SCI_GETSELECTIONSTART));
    return shown.text().part(start, textAt(SendScintilla(SCI_GETSELECTIONEND)) - start);
}

void EditorArea::carryOut(const TextHint& hint) {
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

std::optional<TextGeometry::Extent> EditorArea::linesOf(std::size_t start, std::size_t end) const {
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

std::optional<TextGeometry::Extent> EditorArea::lineOf(std::size_t place) const {
    const long line = SendScintilla(SCI_LINEFROMPOSITION, shownAt(place));
    const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(line));
    const int top = static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, end));
    const bool isSeen = SendScintilla(SCI_GETLINEVISIBLE, static_cast<unsigned long>(line)) != 0;
    if (!isSeen || top < -textHeight(0) || top > viewport()->height()) return std::nullopt;
    return Extent{top, top + textHeight(static_cast<int>(line)),
                  static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, end))};
}

std::pair<std::size_t, std::size_t> EditorArea::bytesInSight() const {
    const long top = SendScintilla(SCI_GETFIRSTVISIBLELINE);
    const long below = std::min<long>(lines(), top + SendScintilla(SCI_LINESONSCREEN) + 2);
    const std::size_t first = textAt(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(top)));
    const std::size_t last = textAt(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(below)));
    return {first, below >= lines() ? shown.text().size() : last};
}

int EditorArea::textLeft() const {
    int left = 0;
    for (int margin = 0; margin < 5; ++margin) left += marginWidth(margin);
    return left;
}

/// A key of the text is the text's also where the window has the same one for something else.
bool EditorArea::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && textCommandOf(static_cast<QKeyEvent*>(event)) != nullptr) {
        event->accept();
        return true;
    }
    return QsciScintilla::event(event);
}

void EditorArea::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && closesOne()) return;
    if (const Command* meant = textCommandOf(event)) return Q_EMIT owner_->commandRequested(toQt(meant->id));
    if (isKeyOf("text.undo", event)) return undoStep();
    if (isKeyOf("text.redo", event)) return redoStep();
    if (takesSnippetKey(event)) return;
    if (waitsForOffer(event) || (popup->isVisible() && takesPopupKey(event))) return;
    const bool isTyping = !event->text().isEmpty() && event->text()[0].isPrint() &&
                          !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
    const bool isErasing = event->key() == Qt::Key_Backspace && popup->isVisible();
    if (takesClosing(event) || (isTyping && surrounds(event))) return popup->hide();
    const char closing = isTyping ? closingDue(event) : '\0';
    if (indentsRows(event)) return;
    followKey(event);
    stepOverBreak(event);
    const bool isNewLine = beginsLine(event);
    // One step back takes a line's indentation as well, and what closed itself.
    if (isNewLine || closing != '\0') SendScintilla(SCI_BEGINUNDOACTION);
    QsciScintilla::keyPressEvent(event);
    if (isNewLine) indentLine();
    if (closing != '\0') writeClosing(closing);
    if (isNewLine || closing != '\0') SendScintilla(SCI_ENDUNDOACTION);
    leaveBreak(event->key() == Qt::Key_Right);
    showLineStarts();
    if ((isTyping || event->key() == Qt::Key_Backspace) && filling_ && !filling_->isOver() && !choices_.empty()) {
        isPlaceTouched_ = true;
        return narrowChoices();
    }
    if (isTyping || isErasing) {
        const QChar typed = isTyping ? event->text()[0] : QChar();
        const bool continues = typed.isLetterOrNumber() || typed == QLatin1Char('_') || typed == QLatin1Char('.');
        if (!continues && !isErasing) popup->hide();
        // Behind a blank or a sign too: where a relation or the other side of a key comes next, that is offered.
        complete(false);
        if (typed == QLatin1Char('(') || typed == QLatin1Char(',')) Q_EMIT owner_->signatureRequested(caretOffset());
    } else if (popup->isVisible() && !event->text().isEmpty()) {
        popup->hide();
    }
}

/// Esc takes away what is open below the line, else all carets but one.
bool EditorArea::closesOne() {
    if (popup->isVisible()) return false;
    if (owner_->isSignatureShown()) {
        owner_->showSignature({});
        return true;
    }
    if (inset_ != nullptr) {
        showInset(nullptr);
        return true;
    }
    const bool isFilling = filling_ && !filling_->isOver();
    if (isFilling) {
        filling_->finish();
        markPlaces();
    }
    if (carets() < 2) return isFilling;
    const auto main = static_cast<unsigned long>(SendScintilla(SCI_GETMAINSELECTION));
    const long caret = SendScintilla(SCI_GETSELECTIONNCARET, main);
    SendScintilla(SCI_SETSELECTION, static_cast<unsigned long>(caret), caret);
    return true;
}

void EditorArea::focusOutEvent(QFocusEvent* event) {
    popup->hide();
    owner_->showSignature({});
    QsciScintilla::focusOutEvent(event);
}

void EditorArea::hideEvent(QHideEvent* event) {
    showInset(nullptr);
    QsciScintilla::hideEvent(event);
}

void EditorArea::resizeEvent(QResizeEvent* event) {
    QsciScintilla::resizeEvent(event);
    if (inset_ != nullptr) placeInset();
}

void EditorArea::wheelEvent(QWheelEvent* event) {
    const QScrollBar* bar = verticalScrollBar();
    const bool goesOn =
        event->angleDelta().y() < 0 && bar->value() == bar->maximum() && partEnd() < shown.text().size();
    const bool goesBack = event->angleDelta().y() > 0 && bar->value() == bar->minimum() && shown.partStart() > 0;
    if (shown.isPart() && (goesOn || goesBack)) centreOn(goesOn ? partEnd() : shown.partStart());
    QsciScintilla::wheelEvent(event);
}

void EditorArea::mouseReleaseEvent(QMouseEvent* event) {
    QsciScintilla::mouseReleaseEvent(event);
    if (addCaretAt(event)) return;
    leaveBreak(false);
}

void EditorArea::mousePressEvent(QMouseEvent* event) {
    popup->hide();
    const int statement = notes.markAt(event->pos());
    if (statement >= 0) return void(Q_EMIT owner_->markClicked(statement));
    if (const TextHint* hint = notes.hintAt(event->pos())) {
        if (hint->mend) return carryOut(*hint);
        return void(SendScintilla(SCI_GOTOPOS, shownAt(notes.startOf(*hint))));
    }
    if (event->modifiers() == Qt::ControlModifier && event->button() == Qt::LeftButton) {
        const long at = SendScintilla(SCI_POSITIONFROMPOINTCLOSE, static_cast<unsigned long>(event->pos().x()),
                                      static_cast<long>(event->pos().y()));
        if (at >= 0) return void(Q_EMIT owner_->nameChosen(textAt(at)));
    }
    caretsBefore_.clear();
    for (int i = 0; event->modifiers() == Qt::AltModifier && i < carets(); ++i) {
        const auto one = static_cast<unsigned long>(i);
        caretsBefore_.emplace_back(SendScintilla(SCI_GETSELECTIONNANCHOR, one),
                                   SendScintilla(SCI_GETSELECTIONNCARET, one));
    }
    QsciScintilla::mousePressEvent(event);
}

bool EditorArea::viewportEvent(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QsciScintilla::viewportEvent(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const long position = SendScintilla(SCI_POSITIONFROMPOINTCLOSE, static_cast<unsigned long>(help->pos().x()),
                                        static_cast<long>(help->pos().y()));
    const TextHint* hint = notes.hintAt(help->pos());
    if (hint == nullptr && position >= 0) hint = notes.hintAbout(textAt(position));
    hint != nullptr ? QToolTip::showText(help->globalPos(), hint->message, viewport()) : QToolTip::hideText();
    if (hint == nullptr && position >= 0) Q_EMIT owner_->nameAsked(textAt(position), help->globalPos());
    return true;
}

void EditorArea::paintEvent(QPaintEvent* event) {
    QsciScintilla::paintEvent(event);
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::TextAntialiasing);
    if (!shown.breaks().empty() || shown.isPart()) paintNumbers(painter);
    notes.paint(painter);
}

}  // namespace pantry::app
