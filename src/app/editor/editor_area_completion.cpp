// Asking for completions, showing them, taking one.
#include "app/editor/editor_area.h"

#include <QKeyEvent>

namespace pantry::app {

void EditorArea::complete(bool isAsked) {
    if (json() != nullptr || !hasHelpers() || carets() > 1) return;
    isAsked_ = isAsked;
    askedFor_ = shown.text();
    askedAt_ = caretOffset();
    isAnswerDue_ = true;
    Q_EMIT owner_->completionRequested(askedAt_, ++question_, isAsked_);
}

void EditorArea::offer(const sql::Completion& completion, quint64 question) {
    const bool isOfNow = caretOffset() == askedAt_ && askedFor_.isCopyOf(shown.text());
    // What comes a second time knows more; it does not move a list that somebody has gone into.
    const bool isGoneInto = popup->isVisible() && popup->isMovedTo();
    if (question != question_ || !isOfNow || (!isAnswerDue_ && isGoneInto)) return;
    isAnswerDue_ = false;
    const Qt::Key waiting = std::exchange(waitingKey_, Qt::Key_unknown);
    const bool isWorthIt = isAsked_ || completion.opens;
    const bool isWhole = completion.items.size() == 1 && completion.items[0].text.size() == completion.prefix.size();
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

void EditorArea::takeCompletion() {
    const sql::Completion& c = popup->completion();
    const int index = popup->currentIndex();
    popup->hide();
    if (index < 0 || index >= static_cast<int>(c.items.size())) return;
    const sql::CompletionItem item = c.items[static_cast<std::size_t>(index)];
    if (filling_ && !filling_->isOver() && !choices_.empty()) return fillPlaceWith(item.text);
    if (item.kind == sql::CompletionKind::Snippet) {
        return Q_EMIT owner_->snippetChosen(QString::fromStdString(item.text), c.start, c.length);
    }
    std::string chosen = item.text;
    const std::size_t end = c.start + c.length;
    if (chosen.back() == '(' && shown.text().part(end, 1) == "(") chosen.pop_back();
    SendScintilla(SCI_BEGINUNDOACTION);  // one step back takes all of it
    if (!item.from.empty() && c.fromAt >= end) writeFrom(item.from, c.fromAt);
    SendScintilla(SCI_SETTARGETRANGE, shownAt(c.start), static_cast<long>(shownAt(end)));
    SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(chosen.size()), chosen.data());
    SendScintilla(SCI_GOTOPOS, static_cast<unsigned long>(SendScintilla(SCI_GETTARGETEND)));
    if (chosen.back() == '(') closeCall();
    SendScintilla(SCI_ENDUNDOACTION);
    if (chosen.back() == '.') complete(false);
    if (chosen.back() == '(') Q_EMIT owner_->signatureRequested(caretOffset());
}

void EditorArea::writeFrom(const std::string& from, std::size_t at) {
    const std::string line = lineEnd() + from;
    SendScintilla(SCI_SETTARGETRANGE, shownAt(at), static_cast<long>(shownAt(at)));
    SendScintilla(SCI_REPLACETARGET, static_cast<unsigned long>(line.size()), line.data());
}

std::string EditorArea::lineEnd() const {
    const bool isWindows = SendScintilla(SCI_GETEOLMODE) == SC_EOL_CRLF;
    return isWindows ? "\r\n" : "\n";
}

bool EditorArea::waitsForOffer(const QKeyEvent* event) {
    const bool isTaking = event->key() == Qt::Key_Tab || event->key() == Qt::Key_Return;
    const bool isPlain = (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier | Qt::AltModifier)) == 0;
    if (!isTaking || !isPlain || !isAnswerDue_ || !popup->isVisible()) {
        waitingKey_ = Qt::Key_unknown;
        return false;
    }
    waitingKey_ = static_cast<Qt::Key>(event->key());
    return true;
}

bool EditorArea::takesPopupKey(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Down: popup->move(1); return true;
        case Qt::Key_Up: popup->move(-1); return true;
        case Qt::Key_PageDown: popup->move(8); return true;
        case Qt::Key_PageUp: popup->move(-8); return true;
        case Qt::Key_Escape:
            ++question_;  // nothing opens it again
            popup->hide();
            return true;
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

}  // namespace pantry::app
