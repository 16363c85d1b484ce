#include "core/sql/complete/completion.h"

#include <algorithm>
#include <array>

#include "core/sql/complete/completer.h"
#include "core/sql/syntax/script.h"

namespace pantry::sql {

std::string_view completionKindName(CompletionKind kind) {
    constexpr auto kNames = std::to_array<std::string_view>({"keyword", "table", "view", "common table", "column",
                                                             "alias", "function", "join", "schema", "snippet", "value",
                                                             "type", "columns", "parameter", "statement", "condition"});
    return kNames[static_cast<std::size_t>(kind)];
}

std::optional<NameFacts> factsOf(const CompletionItem& item) {
    if (item.example != nullptr) {
        return NameFacts{
            .heading = item.text + (item.detail.empty() ? ")" : item.detail.substr(1)),
            .what = "function",
            .facts = {{"Example", std::string(item.example->call)}, {"Gives", std::string(item.example->result)}}};
    }
    if (item.key != nullptr && item.relation != nullptr) return factsOfKey(*item.relation, *item.key);
    if (item.column != nullptr && item.relation != nullptr) return factsOfColumn(*item.relation, *item.column);
    if (item.relation != nullptr) return factsOfRelation(*item.relation);
    return std::nullopt;
}

Completion completeAt(const Script& script, std::size_t caret, const catalog::View& catalog,
                      const CompletionWish& wish) {
    return Completer(script, std::min(caret, script.text().size()), catalog, wish).complete();
}

Completion completeAt(std::string_view text, std::size_t caret, Language dialect, const catalog::View& catalog,
                      const CompletionWish& wish) {
    Script script(dialect);
    script.setText(text);
    return completeAt(script, caret, catalog, wish);
}

}  // namespace pantry::sql
