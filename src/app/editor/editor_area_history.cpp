// What can be undone: the component remembers its steps as long as it holds the text that they were made in; ours go on
// where it has forgotten them, in other parts of a large text and from before a restart.
#include "app/editor/editor_area.h"

namespace pantry::app {

void EditorArea::forgetSteps() { history_->clear(); }

/// The component says where a step of its own begins, and which step it takes back itself.
void EditorArea::noteStep(int kind, base::TextChange change) {
    if (isRepeating_) return;
    const bool isLast = (kind & SC_LASTSTEPINUNDOREDO) != 0;
    if ((kind & SC_PERFORMED_UNDO) != 0) {
        if (isLast) history_->noteUndone();
    } else if ((kind & SC_PERFORMED_REDO) != 0) {
        if (isLast) history_->noteRedone();
    } else {
        history_->note(std::move(change), (kind & SC_STARTACTION) != 0);
    }
}

void EditorArea::undoStep() {
    if (SendScintilla(SCI_CANUNDO) != 0) return void(SendScintilla(SCI_UNDO));
    carryOut(history_->undo());
}

void EditorArea::redoStep() {
    if (SendScintilla(SCI_CANREDO) != 0) return void(SendScintilla(SCI_REDO));
    carryOut(history_->redo());
}

/// Its own steps would no longer fit what it holds: from here on, ours are the only ones.
void EditorArea::carryOut(const base::TextStep& changes) {
    if (changes.empty()) return;
    base::SharedText text = shown.text();
    for (const base::TextChange& one : changes) {
        if (text.part(one.at, one.removed.size()) != one.removed) return forgetSteps();  // it is about another text
        text.replace(one.at, one.removed.size(), one.inserted);
    }
    const bool isLarge = shown.isPart() || text.size() > base::ShownText::kWhole;
    const std::size_t caret = changes.back().at + changes.back().inserted.size();
    isRepeating_ = true;
    if (isLarge) {
        resetContent(text);
        Q_EMIT owner_->textEdited();
    } else {
        for (const base::TextChange& one : changes) {
            SendScintilla(SCI_SETTARGETRANGE, shownAt(one.at), static_cast<long>(shownAt(one.at + one.removed.size())));
            replaceTarget(one.inserted);
        }
        SendScintilla(SCI_EMPTYUNDOBUFFER);
    }
    isRepeating_ = false;
    owner_->setCaret(caret);
}

}  // namespace pantry::app
