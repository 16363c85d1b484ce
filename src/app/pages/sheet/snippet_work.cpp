#include "app/pages/sheet/snippet_work.h"

#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/look/pick_list.h"

namespace pantry::app {

SnippetWork::SnippetWork(Desk& desk, Sheet& sheet, SqlEditor& editor, QObject* parent)
    : QObject(parent), desk_(desk), sheet_(sheet), editor_(editor) {
    connect(&editor_, &SqlEditor::snippetChosen, this,
            [this](const QString& trigger, std::size_t start, std::size_t length) {
                const auto known = all();
                const auto one = std::ranges::find(known, fromQt(trigger), &snippet::Snippet::trigger);
                if (one != known.end()) put(*one, start, length);
            });
    connect(&editor_, &SqlEditor::placeEntered, this, &SnippetWork::offerForPlace);
}

std::vector<snippet::Snippet> SnippetWork::all() const {
    return snippet::offeredIn(sheet_.dialect(), desk_.preferences().snippets());
}

void SnippetWork::put(const snippet::Snippet& one, std::size_t start, std::size_t length) {
    const Result<snippet::Template> from = snippet::parseTemplate(one.text);
    if (!from) return Q_EMIT remarked(toQt(from.error()));
    editor_.fillIn(start, length, *from, snippet::columnsIn(sheet_.session().catalogView(), sheet_.dialect()));
    editor_.setFocus();
}

/// What there is of tables and columns is looked up beside the window.
void SnippetWork::offerForPlace() {
    const snippet::Place* place = editor_.snippetPlace();
    if (place == nullptr || place->offers == snippet::PlaceKind::Text) return;
    inBackground(
        this,
        [place = *place, table = editor_.snippetTable(), catalog = sheet_.session().catalogView(),
         dialect = sheet_.dialect()] { return snippet::choicesFor(place, table, catalog, dialect); },
        [this, name = place->name](const std::vector<std::pair<std::string, std::string>>& choices) {
            const snippet::Place* now = editor_.snippetPlace();
            if (now != nullptr && now->name == name) editor_.offerForPlace(choices);
        });
}

void SnippetWork::offerAll() {
    std::vector<PickList::Choice> choices;
    for (const snippet::Snippet& one : all()) {
        choices.push_back({.text = toQt(one.title), .detail = toQt(one.trigger), .icon = {}, .act = [this, one] {
                               putAtCaret(one);
                           }});
    }
    auto* list = new PickList(std::move(choices), tr("Snippet"), &editor_);
    list->openAt(editor_.pointBelow(editor_.caret()));
}

void SnippetWork::putAtCaret(const snippet::Snippet& one) {
    put(one, editor_.selectionStart(), editor_.selection().size());
    editor_.setFocus();
}

bool SnippetWork::isOpenAt(std::size_t caret) {
    const sql::Script& script = sheet_.script();
    const std::optional<std::size_t> statement = script.indexAt(caret);
    if (!statement) return false;
    const sql::StatementSpan& span = script.statements()[*statement].span;
    if (!editor_.hasOpenPlace(span.start, span.end())) return false;
    Q_EMIT remarked(tr("A place of the snippet is not filled in yet."));
    return true;
}

}  // namespace pantry::app

#include "moc_snippet_work.cpp"
