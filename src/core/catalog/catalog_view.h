#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog.h"

namespace pantry::catalog {

/// A catalog as one session sees it: with the schemas in which it looks for names without one. All that the SQL tools
/// know of a database.
///
/// Threads: immutable. Copies share the catalog. Relations live as long as it does.
class View {
public:
    /// Of a database with nothing in it.
    View();
    /// With the search path that the catalog was read with.
    explicit View(CatalogPtr catalog);
    /// `searchPath`: schemas whose relations need no qualification, the first one first.
    View(CatalogPtr catalog, std::vector<std::string> searchPath);
    /// Of relations that no server told of, such as those of a file.
    View(std::vector<Relation> relations, std::vector<std::string> searchPath);

    /// The same catalog, looked at with other schemas first.
    [[nodiscard]] View withSearchPath(std::vector<std::string> searchPath) const { return {catalog_, searchPath}; }

    /// Everything, whoever looks.
    [[nodiscard]] const Catalog& catalog() const { return *catalog_; }
    [[nodiscard]] const std::vector<const Relation*>& relations() const { return catalog_->relations(); }
    [[nodiscard]] const ColumnNames& columnNames() const { return catalog_->columnNames(); }
    [[nodiscard]] const std::vector<std::string>& searchPath() const { return searchPath_; }
    /// Those that have relations.
    [[nodiscard]] const std::vector<std::string>& schemas() const { return catalog_->relationSchemas(); }

    /// The relation a name means, rather the one of exactly this name than one that differs in the case of ASCII
    /// letters; an empty schema asks the search path.
    [[nodiscard]] const Relation* find(std::string_view schema, std::string_view name) const {
        return catalog_->find(schema, name, searchPath_);
    }

    /// Foreign keys of others that lead to a relation of this catalog.
    [[nodiscard]] const std::vector<Catalog::Reference>& referencesTo(const Relation& relation) const {
        return catalog_->referencesTo(relation);
    }

    [[nodiscard]] bool isOnSearchPath(std::string_view schema) const;

private:
    CatalogPtr catalog_;
    std::vector<std::string> searchPath_;
};

}  // namespace pantry::catalog
