// Filling in a template: its places one after the other, everywhere that they stand.
#include <QKeyEvent>
#include <algorithm>

#include "app/editor/editor_area.h"
#include "core/base/fuzzy.h"
#include "core/base/text.h"

namespace pantry::app {

void EditorArea::fillIn(std::size_t start, std::size_t length, const snippet::Template& from,
                        snippet::ColumnsOf columns) {
    reveal(start);
    const long line = SendScintilla(SCI_LINEFROMPOSITION, shownAt(start));
    const std::size_t lineStart = textAt(SendScintilla(SCI_POSITIONFROMLINE, static_cast<unsigned long>(line)));
    std::string indent = shown.text().part(lineStart, start - lineStart);
    indent.erase(std::ranges::find_if_not(indent, [](char c) { return c == ' ' || c == '\t'; }), indent.end());
    columnsOf_ = std::move(columns);
    filling_.reset();
    snippet::Session session(from, start, indent, columnsOf_);
    SendScintilla(SCI_BEGINUNDOACTION);
    SendScintilla(SCI_SETTARGETRANGE, shownAt(start), static_cast<long>(shownAt(start + length)));
    replaceTarget(session.rendered().text);
    SendScintilla(SCI_ENDUNDOACTION);
    filling_ = std::move(session);
    enterPlace();
}

std::string EditorArea::filledText() const {
    if (!filling_) return {};
    const sql::TextRange whole = filling_->whole();
    return shown.text().part(whole.start, whole.length);
}

bool EditorArea::takesSnippetKey(const QKeyEvent* event) {
    if (!filling_ || filling_->isOver()) return false;
    const bool isTab = event->key() == Qt::Key_Tab || event->key() == Qt::Key_Backtab;
    if (!isTab || (event->modifiers() & (Qt::ControlModifier | Qt::AltModifier)) != 0) return false;
    // What was typed or gone to is taken first; a list that opened by itself is passed over.
    if (popup->isVisible() && event->key() == Qt::Key_Tab && (popup->isMovedTo() || isPlaceTouched_)) return false;
    popup->hide();
    goToPlace(event->key() == Qt::Key_Tab);
    return true;
}

void EditorArea::goToPlace(bool isNext) {
    renewRepeated();
    const bool isThere = isNext ? filling_->next() : filling_->previous();
    if (isThere || !isNext) return enterPlace();
    markPlaces();
    const auto end = shownAt(filling_->end());
    SendScintilla(SCI_SETSELECTION, end, static_cast<long>(end));
    SendScintilla(SCI_SCROLLCARET);
}

/// Places are underlined while one goes through them.
void EditorArea::markPlaces() {
    SendScintilla(SCI_SETINDICATORCURRENT, kPlaceIndicator);
    SendScintilla(SCI_INDICATORCLEARRANGE, 0UL, static_cast<long>(SendScintilla(SCI_GETLENGTH)));
    if (!filling_ || filling_->isOver()) return;
    for (const snippet::Place& place : filling_->rendered().places) {
        for (const sql::TextRange& range : place.ranges) {
            const unsigned long from = shownAt(range.start);
            SendScintilla(SCI_INDICATORFILLRANGE, from, static_cast<long>(shownAt(range.start + range.length) - from));
        }
    }
}

void EditorArea::enterPlace() {
    choices_.clear();
    isPlaceTouched_ = false;
    markPlaces();
    if (filling_->isOver()) {
        const auto end = shownAt(filling_->end());
        return void(SendScintilla(SCI_SETSELECTION, end, static_cast<long>(end)));
    }
    selectEach(filling_->current());
    Q_EMIT owner_->placeEntered();
}

/// Parts that are repeated for the columns of a table follow it, as one step that can be undone.
void EditorArea::renewRepeated() {
    const sql::TextRange whole = filling_->whole();
    const std::optional<std::string> text = filling_->renewed(filledText(), columnsOf_);
    if (!text) return;
    snippet::Session session = std::move(*filling_);
    filling_.reset();  // it knows already
    SendScintilla(SCI_SETTARGETRANGE, shownAt(whole.start), static_cast<long>(shownAt(whole.start + whole.length)));
    replaceTarget(*text);
    filling_ = std::move(session);
}

void EditorArea::offerForPlace(const std::vector<std::pair<std::string, std::string>>& choices) {
    choices_ = choices;
    narrowChoices();
}

/// Of the choices those that fit what was typed into the place; all of them before.
void EditorArea::narrowChoices() {
    if (!filling_ || filling_->isOver() || choices_.empty()) return;
    const sql::TextRange first = filling_->current().front();
    const std::string typed = isPlaceTouched_ ? shown.text().part(first.start, first.length) : std::string();
    sql::Completion list{.start = first.start, .length = first.length, .prefix = typed, .items = {}};
    for (const auto& [text, detail] : choices_) {
        if (!typed.empty() && !base::fuzzyScore(typed, text)) continue;
        list.items.push_back({.text = text, .kind = sql::CompletionKind::Table, .detail = detail});
    }
    if (list.items.empty() || (list.items.size() == 1 && list.items[0].text == typed)) return popup->hide();
    if (!typed.empty()) {
        std::ranges::stable_sort(list.items, std::ranges::greater{},
                                 [&](const auto& item) { return base::fuzzyScore(typed, item.text).value_or(0); });
    }
    const auto position = static_cast<long>(shownAt(first.start));
    const QPoint inArea(static_cast<int>(SendScintilla(SCI_POINTXFROMPOSITION, 0UL, position)),
                        static_cast<int>(SendScintilla(SCI_POINTYFROMPOSITION, 0UL, position)));
    popup->offer(list, viewport()->mapTo(popup->parentWidget(), inArea), textHeight(0));
}

void EditorArea::fillPlaceWith(const std::string& text) {
    SendScintilla(SCI_BEGINUNDOACTION);
    for (std::size_t i = 0; i < filling_->current().size(); ++i) {
        const sql::TextRange range = filling_->current()[i];
        SendScintilla(SCI_SETTARGETRANGE, shownAt(range.start), static_cast<long>(shownAt(range.start + range.length)));
        replaceTarget(text);
    }
    SendScintilla(SCI_ENDUNDOACTION);
    std::vector<sql::TextRange> ends;
    for (const sql::TextRange& range : filling_->current()) ends.push_back({range.start + range.length, 0});
    selectEach(ends);
}

}  // namespace pantry::app
