#include "core/catalog/catalog_view.h"

#include <algorithm>
#include <memory>
#include <utility>

#include "core/base/text.h"

namespace pantry::catalog {
namespace {

/// Relations by their schemas, in the order in which these come.
CatalogPtr catalogOf(std::vector<Relation> relations, const std::vector<std::string>& searchPath) {
    std::vector<Schema> schemas;
    for (Relation& relation : relations) {
        auto schema = std::ranges::find(schemas, relation.schema, &Schema::name);
        if (schema == schemas.end()) {
            schema = schemas.insert(schema, Schema{.name = relation.schema, .isLoaded = true});
        }
        schema->relations.push_back(std::move(relation));
    }
    return mergeCatalog({.searchPath = searchPath}, std::move(schemas), nullptr);
}

}  // namespace

View::View() : View(std::make_shared<const Catalog>()) {}

View::View(CatalogPtr catalog) : catalog_(std::move(catalog)), searchPath_(catalog_->facts().searchPath) {}

View::View(CatalogPtr catalog, std::vector<std::string> searchPath)
    : catalog_(std::move(catalog)), searchPath_(std::move(searchPath)) {}

View::View(std::vector<Relation> relations, std::vector<std::string> searchPath)
    : View(catalogOf(std::move(relations), searchPath)) {}

bool View::isOnSearchPath(std::string_view schema) const {
    return std::ranges::any_of(searchPath_, [&](const std::string& s) { return base::equalsIgnoringCase(s, schema); });
}

}  // namespace pantry::catalog
