#include "core/sql/catalog_view.h"

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

CatalogView::CatalogView(std::vector<RelationFact> relations, std::vector<std::string> searchPath)
    : relations_(std::move(relations)), searchPath_(std::move(searchPath)) {
    for (std::size_t i = 0; i < relations_.size(); ++i) {
        index_.emplace(keyOf(relations_[i].schema, relations_[i].name), i);
        if (std::ranges::find(schemas_, relations_[i].schema) == schemas_.end())
            schemas_.push_back(relations_[i].schema);
    }
}

const RelationFact* CatalogView::find(std::string_view schema, std::string_view name) const {
    if (!schema.empty()) {
        const auto found = index_.find(keyOf(schema, name));
        return found == index_.end() ? nullptr : &relations_[found->second];
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
