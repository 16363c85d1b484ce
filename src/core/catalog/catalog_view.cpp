#include "core/catalog/catalog_view.h"

#include <algorithm>

#include "core/base/text.h"

namespace pantry::sql {
namespace {

std::string keyOf(std::string_view schema, std::string_view name) {
    std::string key = base::toLower(schema);
    key += '\0';
    return key + base::toLower(name);
}

}  // namespace

CatalogView::CatalogView() : facts_(std::make_shared<const Facts>()) {}

CatalogView::CatalogView(std::vector<RelationFact> relations, std::vector<std::string> searchPath)
    : searchPath_(std::move(searchPath)) {
    auto facts = std::make_shared<Facts>();
    facts->relations = std::move(relations);
    for (std::size_t i = 0; i < facts->relations.size(); ++i) {
        const RelationFact& relation = facts->relations[i];
        facts->index.emplace(keyOf(relation.schema, relation.name), i);
        if (std::ranges::find(facts->schemas, relation.schema) == facts->schemas.end())
            facts->schemas.push_back(relation.schema);
    }
    facts_ = std::move(facts);
}

CatalogView CatalogView::withSearchPath(std::vector<std::string> searchPath) const {
    CatalogView other = *this;
    other.searchPath_ = std::move(searchPath);
    return other;
}

const RelationFact* CatalogView::find(std::string_view schema, std::string_view name) const {
    if (!schema.empty()) {
        const auto found = facts_->index.find(keyOf(schema, name));
        return found == facts_->index.end() ? nullptr : &facts_->relations[found->second];
    }
    for (const std::string& candidate : searchPath_) {
        if (const RelationFact* relation = find(candidate, name)) return relation;
    }
    return nullptr;
}

bool CatalogView::isOnSearchPath(std::string_view schema) const {
    return std::ranges::any_of(searchPath_, [&](const std::string& s) { return base::equalsIgnoringCase(s, schema); });
}

}  // namespace pantry::sql
