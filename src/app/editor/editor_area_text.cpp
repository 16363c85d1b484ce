// Text in the component: all of it, or the part that it holds of a large one; long lines in rows.
#include "app/editor/editor_area.h"

#include <QKeyEvent>
#include <QMimeData>
#include <algorithm>

#include "core/base/utf8.h"
#include "core/sql/layout/indent.h"

namespace pantry::app {
namespace {

// What is pasted stays whole up to here, so that it can be taken back; more becomes a part. (The component counts the
// characters before the caret with each key, for assistive programs, so that a key costs the more the further down.)
constexpr long kMaxHeld = 4 << 20;

}  // namespace

void EditorArea::resetContent(const base::SharedText& text) {
    filling_.reset();
    noteEdit(0, shown.text().size(), text.size(), text);
    shown.setText(text);
    showAround(0);
}

void EditorArea::scrollToLeft() {
    SendScintilla(SCI_SETXOFFSET, 0UL);
    SendScintilla(SCI_SETSCROLLWIDTH, kNarrow);  // grows with what is painted
}

void EditorArea::noteEdit(std::size_t at, std::size_t removed, std::size_t inserted, const base::SharedText& after) {
    if (notes.reading() != nullptr) notes.edits().note(at, removed, inserted, after);
    if (filling_) filling_->noteEdit(at, removed, inserted);
    changedFrom_ = std::min(changedFrom_, at);
}

void EditorArea::showAround(std::size_t offset) {
    const std::string held = shown.showAround(offset);
    isShowing_ = true;
    const bool wasReadOnly = isReadOnly();  // for people: what is shown is chosen elsewhere
    setReadOnly(false);
    SendScintilla(SCI_SETUNDOCOLLECTION, 0UL);
    SendScintilla(SCI_CLEARALL);
    SendScintilla(SCI_APPENDTEXT, static_cast<unsigned long>(held.size()), held.data());
    SendScintilla(SCI_SETUNDOCOLLECTION, 1UL);
    SendScintilla(SCI_EMPTYUNDOBUFFER);
    setReadOnly(wasReadOnly);
    isShowing_ = false;
    fitNumbers();
    recolourFrom(0);
    Q_EMIT owner_->partChanged();
}

void EditorArea::centreOn(std::size_t offset) {
    const auto rowOf = [&] { return SendScintilla(SCI_LINEFROMPOSITION, shownAt(offset)); };
    const long above = rowOf() - SendScintilla(SCI_GETFIRSTVISIBLELINE);
    showAround(offset);
    SendScintilla(SCI_GOTOPOS, shownAt(offset));
    SendScintilla(SCI_SETFIRSTVISIBLELINE, static_cast<unsigned long>(std::max(0L, rowOf() - above)));
}

void EditorArea::reveal(std::size_t offset) {
    if (shown.isPart() && (offset < shown.partStart() || offset > partEnd())) showAround(offset);
}

void EditorArea::replaceAll(const std::string& with) {
    if (shown.isPart() || with.size() > base::ShownText::kWhole) {
        history_->note({0, shown.text().str(), with}, true);
        resetContent(with);
        return Q_EMIT owner_->textEdited();
    }
    const std::string rows = shown.rowsOfAll(with);
    SendScintilla(SCI_SETTARGETRANGE, 0UL, SendScintilla(SCI_GETLENGTH));
    SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(rows.size()), rows.data());
}

void EditorArea::replaceSelection(const std::string& with) {
    SendScintilla(SCI_TARGETFROMSELECTION);
    replaceTarget(with);
    SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(SendScintilla(SCI_GETTARGETEND)));
}

void EditorArea::insertAtOffset(std::size_t offset, const std::string& with) {
    reveal(offset);
    SendScintilla(SCI_SETTARGETRANGE, shownAt(offset), static_cast<long>(shownAt(offset)));
    replaceTarget(with);
}

void EditorArea::replaceTarget(const std::string& with) {
    const std::string rows = shown.rowsOf(with);
    SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(rows.size()), rows.data());
}

void EditorArea::noteModified(int at, int kind, std::string_view changed) {
    const bool isInserted = (kind & SC_MOD_INSERTTEXT) != 0;
    if (isShowing_ || (!isInserted && (kind & SC_MOD_DELETETEXT) == 0)) return;
    const auto place = static_cast<std::size_t>(at);
    std::size_t offset = 0;
    const base::SharedText before = shown.text();
    const std::size_t sizeBefore = before.size();  // breaks within a long line are none of the text
    if (isInserted) {
        const auto behind = static_cast<unsigned long>(place + changed.size());
        offset = shown.noteInserted(place, changed, static_cast<char>(SendScintilla(SCI_GETCHARAT, behind)));
        lookForLongRows(at, changed);
        if (hasHelpers()) colourAsBefore(at, static_cast<long>(changed.size()));
    } else {
        offset = shown.noteDeleted(place, changed.size());
    }
    const std::size_t size = shown.text().size();
    const std::size_t removed = size < sizeBefore ? sizeBefore - size : 0;
    const std::size_t inserted = size > sizeBefore ? size - sizeBefore : 0;
    noteStep(kind, {offset, before.part(offset, removed), shown.text().part(offset, inserted)});
    noteEdit(offset, removed, inserted, shown.text());
    fitNumbers();
    lookAtSize();
    if (inset_ != nullptr) showInset(nullptr);
    Q_EMIT owner_->textEdited();
}

void EditorArea::lookAtSize() {
    if (isHeldAsItShould()) return;
    QMetaObject::invokeMethod(
        this,
        [this] {
            if (!isHeldAsItShould()) centreOn(caretOffset());
        },
        Qt::QueuedConnection);
}

bool EditorArea::isHeldAsItShould() const {
    const bool isSmall = shown.isPart() && shown.text().size() <= base::ShownText::kWhole;
    return !isSmall && SendScintilla(SCI_GETLENGTH) <= kMaxHeld;
}

void EditorArea::followKey(const QKeyEvent* event) {
    if (!shown.isPart()) return;
    const bool isCtrl = (event->modifiers() & Qt::ControlModifier) != 0;
    if (isCtrl && event->key() == Qt::Key_A) return Q_EMIT owner_->partSelected();
    if (isCtrl && event->key() == Qt::Key_Home && shown.partStart() > 0) return centreOn(0);
    if (isCtrl && event->key() == Qt::Key_End && partEnd() < shown.text().size()) return centreOn(shown.text().size());
    const long row = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(SendScintilla(SCI_GETCURRENTPOS)));
    const long screen = SendScintilla(SCI_LINESONSCREEN) + 1;
    const bool isNearStart = row < screen && shown.partStart() > 0;
    const bool isNearEnd = row + screen >= lines() && partEnd() < shown.text().size();
    if ((isNearStart || isNearEnd) && !hasSelectedText()) centreOn(caretOffset());
}

void EditorArea::lookForLongRows(int at, std::string_view inserted) {
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

void EditorArea::breakRow(long line) {
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

/// Of a large text the part moves to where the line is.
void EditorArea::goToLine(long line) {
    std::size_t offset = 0;
    const std::string whole = shown.isPart() ? shown.text().str() : std::string();
    if (shown.isPart()) {
        for (long i = 1; i < line; ++i) {
            const std::size_t end = whole.find('\n', offset);
            if (end == std::string::npos) break;
            offset = end + 1;
        }
        return owner_->setCaret(offset);
    }
    for (int row = 0; row < lines(); ++row) {
        if (isContinuedRow(row) || numberOf(row) < std::max(1L, std::min<long>(line, numberOf(lines() - 1)))) continue;
        const auto start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(row));
        SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(start));
        return void(SendScintilla(SCI_VERTICALCENTRECARET));
    }
}

bool EditorArea::indentsRows(const QKeyEvent* event) {
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

bool EditorArea::beginsLine(const QKeyEvent* event) const {
    const bool isReturn = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    const bool isPlain =
        !event->modifiers().testFlag(Qt::ControlModifier) && !event->modifiers().testFlag(Qt::AltModifier);
    return isReturn && isPlain && carets() == 1 && hasHelpers() && json() == nullptr && notes.reading() != nullptr &&
           shown.breaks().empty();
}

void EditorArea::indentLine() {
    constexpr long kLongestLine = 4000;  // bytes; nobody indents behind a longer one
    const long caret = SendScintilla(SCI_GETCURRENTPOS);
    const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(caret));
    if (line == 0) return;
    const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line - 1));
    const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(line - 1));
    const bool closesNext = signAt(caret) == ')' && !isWaiting(caret);  // what closed itself is not meant yet
    if (end - start > kLongestLine || closesNext) return;
    const std::string before = shown.text().part(textAt(start), textAt(end) - textAt(start));
    const int steps = sql::indentBehind(before, notes.reading()->language());
    if (steps == 0) return;
    const auto at = static_cast<int>(line);
    setIndentation(at, std::max(0, indentation(at - 1) + steps * tabWidth()));
    SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(
                                   SendScintilla(SCI_GETLINEINDENTPOSITION, static_cast<unsigned long>(line))));
}

void EditorArea::stepOverBreak(const QKeyEvent* event) {
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

void EditorArea::leaveBreak(bool forward) {
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

void EditorArea::showLineStarts(bool alsoOfSelection) {
    constexpr long kRoom = 40;  // pixels behind the caret
    const long offset = SendScintilla(SCI_GETXOFFSET);
    if (offset == 0 || (!alsoOfSelection && SendScintilla(SCI_GETSELECTIONEMPTY) == 0)) return;
    const long caret = SendScintilla(SCI_POINTXFROMPOSITION, 0UL, SendScintilla(SCI_GETCURRENTPOS));
    if (caret + offset + kRoom < viewport()->width()) SendScintilla(SCI_SETXOFFSET, 0UL);
}

bool EditorArea::isContinuedRow(int line) const {
    const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
    return shown.breaks().isContinued(static_cast<std::size_t>(start));
}

std::pair<int, int> EditorArea::selectedLines() const {
    const long start = SendScintilla(SCI_GETSELECTIONSTART);
    const long end = SendScintilla(SCI_GETSELECTIONEND);
    const auto first = static_cast<int>(SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(start)));
    auto last = static_cast<int>(SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(end)));
    const bool isAtStart = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(last)) == end;
    if (isAtStart && last > first) --last;
    return {first, last};
}

long EditorArea::numberOf(long line) const {
    const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
    return static_cast<long>(shown.linesBefore()) + line + 1 -
           static_cast<long>(shown.breaks().rowsBefore(static_cast<std::size_t>(start)));
}

SqlEditor::CaretPlace EditorArea::caretPlace() const {
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

QMimeData* EditorArea::toMimeData(const QByteArray& copied, bool isRectangular) const {
    if (shown.breaks().empty()) return QsciScintilla::toMimeData(copied, isRectangular);
    const std::string whole = base::SoftBreaks::unbroken({copied.constData(), static_cast<std::size_t>(copied.size())});
    return QsciScintilla::toMimeData(QByteArray::fromStdString(whole), isRectangular);
}

QByteArray EditorArea::fromMimeData(const QMimeData* source, bool& isRectangular) const {
    QByteArray bytes = QsciScintilla::fromMimeData(source, isRectangular);
    bytes.replace(base::SoftBreaks::kSign.data(), "\uFFFD");
    const std::string_view view(bytes.constData(), static_cast<std::size_t>(bytes.size()));
    return QByteArray::fromStdString(shown.rowsOf(view));
}

}  // namespace pantry::app
