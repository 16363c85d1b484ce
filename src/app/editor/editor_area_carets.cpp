// Many carets, whole lines, and what is shown below the line of the caret.
#include <QLayout>
#include <QMouseEvent>
#include <algorithm>

#include "app/editor/editor_area.h"
#include "core/base/line_edits.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kInsetApart = 4;  // pixels, from the line above it

}  // namespace

void EditorArea::apply(const std::vector<sql::TextEdit>& edits) {
    SendScintilla(SCI_BEGINUNDOACTION);
    for (auto edit = edits.rbegin(); edit != edits.rend(); ++edit) {  // from the end on, so that places stay true
        reveal(edit->start);
        SendScintilla(SCI_SETTARGETRANGE, shownAt(edit->start), static_cast<long>(shownAt(edit->start + edit->length)));
        replaceTarget(edit->text);
    }
    SendScintilla(SCI_ENDUNDOACTION);
}

void EditorArea::selectEach(const std::vector<sql::TextRange>& places) {
    if (places.empty()) return;
    reveal(places.front().start);
    const auto endOf = [](const sql::TextRange& one) { return one.start + one.length; };
    SendScintilla(SCI_SETSELECTION, shownAt(endOf(places.front())), static_cast<long>(shownAt(places.front().start)));
    for (std::size_t i = 1; i < places.size(); ++i) {
        SendScintilla(SCI_ADDSELECTION, shownAt(endOf(places[i])), static_cast<long>(shownAt(places[i].start)));
    }
    SendScintilla(SCI_SETMAINSELECTION, 0UL);
    SendScintilla(SCI_SCROLLCARET);
    viewport()->update();
}

void EditorArea::markUses(const std::vector<sql::TextRange>& places) {
    markRanges(kUseIndicator, places, places.size());
}

/// Of very many the first ones: nobody looks at all of them, and each costs time.
void EditorArea::markFound(const std::vector<sql::TextRange>& places) {
    constexpr std::size_t kMostMarked = 5'000;
    markRanges(kFoundIndicator, places, kMostMarked);
}

void EditorArea::markRanges(int indicator, const std::vector<sql::TextRange>& places, std::size_t most) {
    SendScintilla(SCI_SETINDICATORCURRENT, indicator);
    SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, static_cast<long>(SendScintilla(SCI_GETLENGTH)));
    for (std::size_t i = 0; i < std::min(places.size(), most); ++i) {
        const unsigned long from = shownAt(places[i].start);
        const auto length = static_cast<long>(shownAt(places[i].start + places[i].length)) - static_cast<long>(from);
        SendScintilla(SCI_INDICATORFILLRANGE, from, length);
    }
}

// ---- Carets ----

void EditorArea::selectWord() {
    const auto caret = static_cast<unsigned long>(SendScintilla(SCI_GETCURRENTPOS));
    const long start = SendScintilla(SCI_WORDSTARTPOSITION, caret, 1L);
    const long end = SendScintilla(SCI_WORDENDPOSITION, caret, 1L);
    SendScintilla(SCI_SETSELECTION, static_cast<unsigned long>(end), start);
}

/// Whether there was one more.
bool EditorArea::addNextOccurrence() {
    if (SendScintilla(SCI_GETSELECTIONEMPTY) != 0) {
        selectWord();
        return SendScintilla(SCI_GETSELECTIONEMPTY) == 0;
    }
    const auto main = static_cast<unsigned long>(SendScintilla(SCI_GETMAINSELECTION));
    const long start = SendScintilla(SCI_GETSELECTIONNSTART, main);
    const long end = SendScintilla(SCI_GETSELECTIONNEND, main);
    const std::string wanted = shown.text().part(textAt(start), textAt(end) - textAt(start));
    const long length = SendScintilla(SCI_GETLENGTH);
    SendScintilla(SCI_SETSEARCHFLAGS, static_cast<unsigned long>(SCFIND_MATCHCASE));
    const auto isTaken = [this](long at) {
        for (int i = 0; i < carets(); ++i) {
            if (SendScintilla(SCI_GETSELECTIONNSTART, static_cast<unsigned long>(i)) == at) return true;
        }
        return false;
    };
    // To the end of the text, then from its beginning.
    for (const auto& [from, to] : {std::pair(end, length), std::pair(0L, start)}) {
        SendScintilla(SCI_SETTARGETRANGE, static_cast<unsigned long>(from), to);
        const long at = SendScintilla(SCI_SEARCHINTARGET, static_cast<unsigned long>(wanted.size()), wanted.data());
        if (at < 0 || isTaken(at)) continue;
        SendScintilla(SCI_ADDSELECTION, static_cast<unsigned long>(SendScintilla(SCI_GETTARGETEND)), at);
        SendScintilla(SCI_SCROLLCARET);
        return true;
    }
    return false;
}

int EditorArea::selectAllOccurrences() {
    if (SendScintilla(SCI_GETSELECTIONEMPTY) != 0) selectWord();
    if (SendScintilla(SCI_GETSELECTIONEMPTY) != 0) return 0;
    while (addNextOccurrence()) {
    }
    return carets();
}

void EditorArea::addCaret(bool isBelow) {
    long edge = -1;  // the outermost line that has a caret, and which caret it is
    unsigned long outermost = 0;
    for (int i = 0; i < carets(); ++i) {
        const long at = SendScintilla(SCI_GETSELECTIONNCARET, static_cast<unsigned long>(i));
        const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(at));
        if (edge < 0 || (isBelow ? line > edge : line < edge)) {
            edge = line;
            outermost = static_cast<unsigned long>(i);
        }
    }
    const long next = edge + (isBelow ? 1 : -1);
    if (next < 0 || next >= lines()) return;
    const long from = SendScintilla(SCI_GETSELECTIONNCARET, outermost);
    const long column = SendScintilla(SCI_GETCOLUMN, static_cast<unsigned long>(from));
    const long at = SendScintilla(SCI_FINDCOLUMN, static_cast<unsigned long>(next), column);
    SendScintilla(SCI_ADDSELECTION, static_cast<unsigned long>(at), at);
    SendScintilla(SCI_SCROLLCARET);
}

/// A click with Alt adds a caret; with Alt and moving, the component selects columns.
bool EditorArea::addCaretAt(const QMouseEvent* event) {
    const std::vector<std::pair<long, long>> before = std::exchange(caretsBefore_, {});
    if (before.empty() || SendScintilla(SCI_GETSELECTIONEMPTY) == 0 || carets() > 1) return false;
    const auto at = static_cast<unsigned long>(SendScintilla(
        SCI_POSITIONFROMPOINT, static_cast<unsigned long>(event->pos().x()), static_cast<long>(event->pos().y())));
    SendScintilla(SCI_SETSELECTIONMODE, static_cast<unsigned long>(SC_SEL_STREAM));
    SendScintilla(SCI_SETSELECTION, static_cast<unsigned long>(before[0].second), before[0].first);
    for (std::size_t i = 1; i < before.size(); ++i) {
        SendScintilla(SCI_ADDSELECTION, static_cast<unsigned long>(before[i].second), before[i].first);
    }
    SendScintilla(SCI_ADDSELECTION, at, static_cast<long>(at));
    return true;
}

// ---- Lines ----

void EditorArea::changeLines(SqlEditor::LineChange change) {
    using enum SqlEditor::LineChange;
    if (!shown.breaks().empty()) return;  // rows of a long line are no lines
    auto [first, last] = selectedLines();
    if (change == MoveUp || change == MoveDown) return moveLines(first, last, change == MoveDown);
    if (change == Join && first == last) last = std::min(last + 1, lines() - 1);
    const auto start =
        static_cast<unsigned long>(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(first)));
    const long end = SendScintilla(SCI_GETLINEENDPOSITION, static_cast<unsigned long>(last));
    const std::string before =
        shown.text().part(textAt(static_cast<long>(start)), textAt(end) - textAt(static_cast<long>(start)));
    std::string after;
    switch (change) {
        case Duplicate: after = before + lineEnd() + before; break;
        case Join: after = base::joinedLines(before); break;
        default: after = base::sortedLines(before); break;
    }
    if (after == before) return;
    const long caret = SendScintilla(SCI_GETCURRENTPOS);
    SendScintilla(SCI_BEGINUNDOACTION);
    SendScintilla(SCI_SETTARGETRANGE, start, end);
    replaceTarget(after);
    SendScintilla(SCI_ENDUNDOACTION);
    const long newEnd = SendScintilla(SCI_GETTARGETEND);
    if (change == Duplicate) {
        SendScintilla(SCI_GOTOPOS,
                      static_cast<unsigned long>(caret + static_cast<long>(before.size() + lineEnd().size())));
    } else if (first == last || change == Join) {
        SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(newEnd));
    } else {
        SendScintilla(SCI_SETSEL, start, newEnd);
    }
}

void EditorArea::moveLines(int first, int last, bool isDown) {
    if (isDown ? last + 1 >= lines() : first == 0) return;
    SendScintilla(SCI_BEGINUNDOACTION);
    SendScintilla(isDown ? SCI_MOVESELECTEDLINESDOWN : SCI_MOVESELECTEDLINESUP);
    SendScintilla(SCI_ENDUNDOACTION);
}

void EditorArea::changeLetters(SqlEditor::Letters letters) {
    if (SendScintilla(SCI_GETSELECTIONEMPTY) != 0) selectWord();
    SendScintilla(letters == SqlEditor::Letters::Capital ? SCI_UPPERCASE : SCI_LOWERCASE);
}

// ---- Inset ----

void EditorArea::showInset(QWidget* inset) {
    if (inset_ != nullptr) inset_->deleteLater();
    inset_ = inset;
    if (inset == nullptr) return;
    inset->setParent(owner_->window());  // it may reach over what is below the text
    placeInset();
    inset->show();
    inset->raise();
}

/// Below the line of the caret, or above it where there is more room.
void EditorArea::placeInset() {
    if (inset_ == nullptr) return;
    const QWidget* room = inset_->parentWidget();
    const long caret = SendScintilla(SCI_GETCURRENTPOS);
    const QPoint inArea(textLeft(), static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, caret)));
    const QPoint line = viewport()->mapTo(room, inArea);
    const int below = room->height() - line.y() - textHeight(0) - 4 * kInsetApart;
    const int above = line.y() - 4 * kInsetApart;
    const int width = std::min({owner_->width() - textLeft() - 24, inset_->maximumWidth(), room->width() - line.x()});
    inset_->setFixedWidth(width);
    inset_->layout()->activate();
    const int least = inset_->layout()->hasHeightForWidth() ? inset_->layout()->totalHeightForWidth(width) : 0;
    const int wanted = std::max(least, inset_->layout()->totalSizeHint().height());
    const bool isBelow = below >= wanted || below >= above;
    const int height = std::min(wanted, isBelow ? below : above);
    const int top = isBelow ? line.y() + textHeight(0) + kInsetApart : line.y() - kInsetApart - height;
    inset_->setGeometry(line.x(), top, width, height);
}

}  // namespace pantry::app
