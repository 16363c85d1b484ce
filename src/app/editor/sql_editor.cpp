#include "app/editor/sql_editor.h"

#include <QCursor>
#include <QToolTip>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

#include "app/base/object_names.h"
#include "app/editor/completion_popup.h"
#include "app/editor/editor_area.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {

SqlEditor::SqlEditor(QWidget* parent) : QWidget(parent), area_(new EditorArea(this)) {
    auto* layout = new QVBoxLayout(this);
    setObjectName(QStringLiteral("editorFrame"));
    setAttribute(Qt::WA_StyledBackground);
    layout->setContentsMargins(0, 7, 0, 0);
    layout->addWidget(area_);
    area_->setObjectName(QLatin1String(objectName::kEditor));
    area_->setAccessibleName(tr("SQL text"));
    area_->popup = new CompletionPopup(this);
    setFocusProxy(area_);
    signature_ = makeLabel({}, "signature", this);
    name(signature_, objectName::kSignature, tr("Arguments of the call"));
    signature_->setTextFormat(Qt::RichText);
    signature_->hide();
    connect(this, &SqlEditor::caretMoved, this, [this] {
        if (signature_->isVisible()) Q_EMIT signatureRequested(caret());
    });
    connect(area_->popup, &CompletionPopup::chosen, this, [this] { area_->takeCompletion(); });
    connect(&Theme::current(), &Theme::changed, this, [this] { area_->applyTheme(); });
    area_->applyTheme();
    setTextSize(10);
}

/// The area goes first: it tells its owner when it loses the focus.
SqlEditor::~SqlEditor() { delete area_; }

void SqlEditor::setReading(const work::TextReadingPtr& reading) { area_->setReading(reading); }

void SqlEditor::offer(const sql::Completion& completion, quint64 question) { area_->offer(completion, question); }

const base::SharedText& SqlEditor::text() const { return area_->shown.text(); }

void SqlEditor::setHistory(base::TextHistory& history) { area_->setHistory(history); }

void SqlEditor::resetText(const base::SharedText& text) {
    area_->forgetSteps();
    area_->resetContent(text);
    area_->scrollToLeft();
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
    area_->replaceAll(text);
    area_->scrollToLeft();
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
    const unsigned long at = area_->shownAt(offset);
    area_->SendScintilla(QsciScintillaBase::SCI_ENSUREVISIBLE,
                         static_cast<unsigned long>(area_->SendScintilla(QsciScintillaBase::SCI_LINEFROMPOSITION, at)));
    area_->SendScintilla(QsciScintillaBase::SCI_GOTOPOS, at);
    area_->SendScintilla(QsciScintillaBase::SCI_SCROLLCARET);
    area_->showLineStarts();
}

std::size_t SqlEditor::selectionStart() const {
    return area_->textAt(area_->SendScintilla(QsciScintillaBase::SCI_GETSELECTIONSTART));
}

std::string SqlEditor::selection() const { return area_->selection(); }

void SqlEditor::select(std::size_t start, std::size_t end) {
    area_->reveal(start);
    area_->SendScintilla(QsciScintillaBase::SCI_SETSEL, area_->shownAt(start), static_cast<long>(area_->shownAt(end)));
    area_->showLineStarts(true);
}

void SqlEditor::setMarks(std::vector<StatementMark> marks) {
    area_->notes.setMarks(std::move(marks));
    area_->viewport()->update();
}

const std::vector<StatementMark>& SqlEditor::marks() const { return area_->notes.marks(); }

void SqlEditor::setHints(std::vector<TextHint> hints) {
    area_->notes.setHints(std::move(hints));
    area_->markHints();
    area_->viewport()->update();
}

const std::vector<TextHint>& SqlEditor::hints() const { return area_->notes.hints(); }

const TextHint* SqlEditor::hintAtCaret() const {
    const std::size_t at = area_->caretOffset();
    const TextHint* hint = area_->notes.hintAbout(at);
    return hint == nullptr && at > 0 ? area_->notes.hintAbout(at - 1) : hint;
}

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
    area_->SendScintilla(QsciScintillaBase::SCI_SETINDICATORCURRENT, EditorArea::kErrorIndicator);
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
    area_->applyTheme();
}

void SqlEditor::complete() { area_->complete(true); }

bool SqlEditor::isCompleting() const { return area_->popup->isVisible(); }

void SqlEditor::undo() { area_->undoStep(); }
void SqlEditor::redo() { area_->redoStep(); }

void SqlEditor::setReadOnly(bool isReadOnly) { area_->setReadOnly(isReadOnly); }

void SqlEditor::setWrapped(bool isWrapped) {
    area_->setWrapMode(isWrapped ? QsciScintilla::WrapWord : QsciScintilla::WrapNone);
    area_->setWrapIndentMode(QsciScintilla::WrapIndentIndented);
}
bool SqlEditor::isWrapped() const { return area_->wrapMode() != QsciScintilla::WrapNone; }
void SqlEditor::setBlanksShown(bool areShown) {
    area_->setWhitespaceVisibility(areShown ? QsciScintilla::WsVisible : QsciScintilla::WsInvisible);
}
bool SqlEditor::areBlanksShown() const { return area_->whitespaceVisibility() != QsciScintilla::WsInvisible; }
void SqlEditor::setNumbersShown(bool areShown) { area_->setNumbersShown(areShown); }
bool SqlEditor::areNumbersShown() const { return area_->areNumbersShown(); }
void SqlEditor::setClosesPairs(bool closes) { area_->setClosesPairs(closes); }
void SqlEditor::goToLine(long line) { area_->goToLine(line); }
void SqlEditor::showPair(const std::optional<sql::TextPair>& pair) { area_->showPair(pair); }
void SqlEditor::setFolds(const std::vector<sql::FoldLine>& folds) { area_->setFolds(folds); }
void SqlEditor::foldAtCaret() { area_->foldAtCaret(); }
void SqlEditor::setIndentWidth(int blanks) { area_->setTabWidth(blanks); }
void SqlEditor::foldEverything(bool isFolded) { area_->foldEverything(isFolded); }

void SqlEditor::apply(const std::vector<sql::TextEdit>& edits) { area_->apply(edits); }
void SqlEditor::selectEach(const std::vector<sql::TextRange>& places) { area_->selectEach(places); }
void SqlEditor::markUses(const std::vector<sql::TextRange>& places) { area_->markUses(places); }
void SqlEditor::markFound(const std::vector<sql::TextRange>& places) { area_->markFound(places); }
void SqlEditor::changeLines(LineChange change) { area_->changeLines(change); }
void SqlEditor::changeLetters(Letters letters) { area_->changeLetters(letters); }
void SqlEditor::addNextOccurrence() { area_->addNextOccurrence(); }
int SqlEditor::selectAllOccurrences() { return area_->selectAllOccurrences(); }
void SqlEditor::addCaret(bool isBelow) { area_->addCaret(isBelow); }
int SqlEditor::carets() const { return area_->carets(); }
void SqlEditor::showInset(QWidget* inset) { area_->showInset(inset); }
QWidget* SqlEditor::inset() const { return area_->inset(); }

void SqlEditor::fillIn(std::size_t start, std::size_t length, const snippet::Template& from,
                       snippet::ColumnsOf columns) {
    area_->fillIn(start, length, from, std::move(columns));
}

const snippet::Place* SqlEditor::snippetPlace() const { return area_->filling() ? area_->filling()->place() : nullptr; }

std::string SqlEditor::snippetTable() const {
    const snippet::Place* place = snippetPlace();
    return place == nullptr ? std::string() : area_->filling()->valueOf(place->of, area_->filledText());
}

void SqlEditor::offerForPlace(const std::vector<std::pair<std::string, std::string>>& choices) {
    area_->offerForPlace(choices);
}

bool SqlEditor::hasOpenPlace(std::size_t start, std::size_t end) const {
    if (!area_->filling()) return false;
    const std::vector<sql::TextRange> open = area_->filling()->unfilled(area_->filledText());
    return std::ranges::any_of(open, [&](const sql::TextRange& one) { return start <= one.start && one.start < end; });
}

void SqlEditor::showSignature(const QString& richText) {
    signature_->setText(richText);
    signature_->setVisible(!richText.isEmpty());
    if (richText.isEmpty()) return;
    signature_->adjustSize();
    const QPoint below = mapFromGlobal(pointBelow(caret()));
    const int top = below.y() - area_->lineHeight() - signature_->height() - 2;
    // In the first line there is no room above; the list stands below.
    const int left = std::clamp(below.x(), 0, std::max(0, width() - signature_->width()));
    signature_->move(left, top >= 0 ? top : below.y() + 2);
    signature_->raise();
}

bool SqlEditor::isSignatureShown() const { return signature_->isVisible(); }

void SqlEditor::placeInset() { area_->placeInset(); }

QPoint SqlEditor::pointBelow(std::size_t offset) const {
    const auto at = static_cast<long>(area_->shownAt(offset));
    const QPoint inArea(static_cast<int>(area_->SendScintilla(QsciScintillaBase::SCI_POINTXFROMPOSITION, 0UL, at)),
                        static_cast<int>(area_->SendScintilla(QsciScintillaBase::SCI_POINTYFROMPOSITION, 0UL, at)));
    return area_->viewport()->mapToGlobal(inArea + QPoint(0, area_->lineHeight()));
}

void SqlEditor::tellAt(const QPoint& global, const QString& text) {
    const QPoint pointer = area_->viewport()->mapFromGlobal(QCursor::pos());
    if (area_->viewport()->rect().contains(pointer)) QToolTip::showText(global, text, area_->viewport());
}

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

}  // namespace pantry::app

#include "moc_sql_editor.cpp"
