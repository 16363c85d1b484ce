// Brackets and quotes that close themselves: what was written behind the caret is stepped over when it is typed, and
// goes with its opening one.
#include <QKeyEvent>
#include <algorithm>

#include "app/editor/editor_area.h"
#include "app/editor/text_styles.h"
#include "core/sql/text/closing_signs.h"

namespace pantry::app {
namespace {

constexpr std::size_t kMaxWaiting = 64;  // closing signs that may be stepped over; the oldest are forgotten

}  // namespace

char EditorArea::signAt(long place) const {
    if (place < 0 || place >= SendScintilla(SCI_GETLENGTH)) return '\0';
    return static_cast<char>(SendScintilla(SCI_GETCHARAT, static_cast<unsigned long>(place)));
}

/// Whether the caret is in a text or a comment: the line says it, and the colour before the line for what began above.
bool EditorArea::isCaretInText(long caret) const {
    constexpr long kLongestLine = 4000;  // bytes; in a longer one nothing closes itself
    const long line = SendScintilla(SCI_LINEFROMPOSITION, static_cast<unsigned long>(caret));
    const long start = SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line));
    if (caret - start > kLongestLine) return true;
    const long above = start > 0 ? SendScintilla(SCI_GETSTYLEAT, static_cast<unsigned long>(start - 1)) : 0;
    const bool beganAbove =
        above == static_cast<long>(TextStyle::Text) || above == static_cast<long>(TextStyle::Comment);
    const std::string before = shown.text().part(textAt(start), textAt(caret) - textAt(start));
    if (beganAbove && SendScintilla(SCI_GETSTYLEAT, static_cast<unsigned long>(caret - 1)) == above) return true;
    return notes.reading() != nullptr && sql::endsWithin(before, notes.reading()->language());
}

bool EditorArea::isWaiting(long place) const {
    const long fromEnd = SendScintilla(SCI_GETLENGTH) - place;
    return std::ranges::find(closings_, fromEnd) != closings_.end();
}

/// A closing sign that was written by itself: to type it means to go behind it. An empty pair goes as a whole.
bool EditorArea::takesClosing(const QKeyEvent* event) {
    if (!closesPairs_ || carets() > 1 || SendScintilla(SCI_GETSELECTIONEMPTY) == 0) return false;
    const long caret = SendScintilla(SCI_GETCURRENTPOS);
    const char after = signAt(caret);
    if (after == '\0' || !isWaiting(caret)) return false;
    if (event->key() == Qt::Key_Backspace && event->modifiers() == Qt::NoModifier) {
        if (sql::closingOf(signAt(caret - 1)) != after) return false;
        forgetClosing(caret);
        SendScintilla(SCI_DELETERANGE, static_cast<unsigned long>(caret - 1), 2L);
        return true;
    }
    if (event->text().size() != 1 || event->text()[0] != QLatin1Char(after)) return false;
    if (sql::closingOf(after) == '\0' && after != ')' && after != ']') return false;
    forgetClosing(caret);
    SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(caret + 1));
    return true;
}

void EditorArea::forgetClosing(long place) { std::erase(closings_, SendScintilla(SCI_GETLENGTH) - place); }

/// Puts signs around what is selected, which stays selected.
bool EditorArea::surrounds(const QKeyEvent* event) {
    if (!closesPairs_ || carets() > 1 || event->text().size() != 1) return false;
    const char opening = event->text()[0].toLatin1();
    const char closing = sql::closingOf(opening);
    const long start = SendScintilla(SCI_GETSELECTIONSTART);
    const long end = SendScintilla(SCI_GETSELECTIONEND);
    if (closing == '\0' || start == end || isReadOnly()) return false;
    SendScintilla(SCI_BEGINUNDOACTION);
    SendScintilla(SCI_INSERTTEXT, static_cast<unsigned long>(end), std::string(1, closing).c_str());
    SendScintilla(SCI_INSERTTEXT, static_cast<unsigned long>(start), std::string(1, opening).c_str());
    SendScintilla(SCI_ENDUNDOACTION);
    SendScintilla(SCI_SETSELECTION, static_cast<unsigned long>(end + 1), start + 1);
    return true;
}

/// The sign that belongs behind the caret once a key has written what opens; '\0' for none.
char EditorArea::closingDue(const QKeyEvent* event) const {
    const bool isFilling = filling_ && !filling_->isOver();
    if (!closesPairs_ || carets() > 1 || isReadOnly() || isFilling || event->text().size() != 1) return '\0';
    const long caret = SendScintilla(SCI_GETCURRENTPOS);
    return sql::closingFor(event->text()[0].toLatin1(), {signAt(caret - 1), signAt(caret), isCaretInText(caret)});
}

void EditorArea::closeCall() {
    const long caret = SendScintilla(SCI_GETCURRENTPOS);
    if (closesPairs_ && carets() == 1 && sql::closingFor('(', {'\0', signAt(caret)}) != '\0') writeClosing(')');
}

void EditorArea::writeClosing(char closing) {
    const long caret = SendScintilla(SCI_GETCURRENTPOS);
    SendScintilla(SCI_INSERTTEXT, static_cast<unsigned long>(caret), std::string(1, closing).c_str());
    if (closings_.size() == kMaxWaiting) closings_.erase(closings_.begin());
    closings_.push_back(SendScintilla(SCI_GETLENGTH) - caret);
}

}  // namespace pantry::app
