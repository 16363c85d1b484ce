#include "core/catalog/choices.h"

#include <algorithm>
#include <optional>

namespace pantry::catalog {
namespace {

using Name = std::pair<std::string, std::string>;

constexpr std::size_t kMaxRecent = 8;

const Relation* exactly(const Catalog& catalog, const Name& name) {
    const Relation* relation = catalog.find(name.first, name.second);
    return relation != nullptr && relation->name == name.second && relation->schema == name.first ? relation : nullptr;
}

bool haveEqualColumns(const Relation& a, const Relation& b) {
    return std::ranges::equal(a.columns, b.columns, {}, &Column::name, &Column::name);
}

/// The relation that was called so, under the name that it has now.
std::optional<Name> nameNow(const Name& name, const Catalog& before, const Catalog& after) {
    const Relation* was = exactly(before, name);
    if (was == nullptr || was->age == 0 || exactly(after, name) != nullptr) return std::nullopt;
    const Relation* found = nullptr;
    for (const Relation* one : after.relations()) {
        const bool isIt = one->age == was->age && one->kind == was->kind && haveEqualColumns(*one, *was) &&
                          exactly(before, {one->schema, one->name}) == nullptr;
        if (!isIt) continue;
        if (found != nullptr) return std::nullopt;  // several: nobody can tell
        found = one;
    }
    return found == nullptr ? std::nullopt : std::optional<Name>({found->schema, found->name});
}

}  // namespace

bool Choices::isFavourite(std::string_view schema, std::string_view name) const {
    return std::ranges::any_of(favourites, [&](const auto& f) { return f.first == schema && f.second == name; });
}

void Choices::toggleFavourite(const std::string& schema, const std::string& name) {
    if (std::erase(favourites, std::pair(schema, name)) == 0) favourites.emplace_back(schema, name);
}

void Choices::noteUse(const std::string& schema, const std::string& name) {
    const Name one{schema, name};
    if (!recent.empty() && recent.front() == one) return;
    std::erase(recent, one);
    recent.insert(recent.begin(), one);
    if (recent.size() > kMaxRecent) recent.resize(kMaxRecent);
}

void followRenames(Choices& choices, const Catalog& before, const Catalog& after) {
    for (std::vector<Name>* names : {&choices.favourites, &choices.recent}) {
        for (Name& name : *names) {
            if (auto now = nameNow(name, before, after)) name = std::move(*now);
        }
    }
    // A schema that is hidden stays so under another name: all that was in it is in the new one.
    for (const std::string& hidden : std::set<std::string>(choices.hiddenSchemas)) {
        const Schema* was = before.schema(hidden);
        if (was == nullptr || after.schema(hidden) != nullptr || was->relations.empty()) continue;
        const auto now = nameNow({hidden, was->relations.front().name}, before, after);
        if (!now || now->first == hidden) continue;
        choices.hiddenSchemas.erase(hidden);
        choices.hiddenSchemas.insert(now->first);
    }
}

}  // namespace pantry::catalog
