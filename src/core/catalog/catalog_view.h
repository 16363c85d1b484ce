#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace pantry::sql {

/// What the SQL tools know of a column.
struct ColumnFact {
    std::string name;
    std::string type;  ///< as the engine writes it; may be empty
    bool isPrimaryKey = false;
    bool isNullable = true;
};

/// Columns of one relation that point at columns of another, pairwise.
struct ForeignKeyFact {
    std::vector<std::string> columns;
    std::string schema;  ///< of the referenced relation; empty for the same one
    std::string relation;
    std::vector<std::string> referencedColumns;
};

/// What the SQL tools know of a table or view.
struct RelationFact {
    std::string schema;
    std::string name;
    bool isView = false;
    std::vector<ColumnFact> columns;
    std::vector<ForeignKeyFact> foreignKeys;
    std::optional<std::int64_t> rowEstimate;
};

/// The relations that a statement can name: all that the SQL tools know of a database.
///
/// Threads: immutable after construction.
class CatalogView {
public:
    CatalogView();
    /// `searchPath`: schemas whose relations need no qualification, the first one first.
    CatalogView(std::vector<RelationFact> relations, std::vector<std::string> searchPath);

    /// The same relations, looked for in other schemas first. Cheap: the relations are shared.
    [[nodiscard]] CatalogView withSearchPath(std::vector<std::string> searchPath) const;

    [[nodiscard]] const std::vector<RelationFact>& relations() const { return facts_->relations; }
    [[nodiscard]] const std::vector<std::string>& searchPath() const { return searchPath_; }
    [[nodiscard]] const std::vector<std::string>& schemas() const { return facts_->schemas; }

    /// The relation a name means, ignoring the case of ASCII letters; an empty schema asks the search path.
    [[nodiscard]] const RelationFact* find(std::string_view schema, std::string_view name) const;

    [[nodiscard]] bool isOnSearchPath(std::string_view schema) const;

private:
    struct Facts {
        std::vector<RelationFact> relations;
        std::vector<std::string> schemas;
        std::unordered_map<std::string, std::size_t> index;  // "schema\0name" in small letters
    };

    std::shared_ptr<const Facts> facts_;
    std::vector<std::string> searchPath_;
};

using CatalogViewPtr = std::shared_ptr<const CatalogView>;

}  // namespace pantry::sql
