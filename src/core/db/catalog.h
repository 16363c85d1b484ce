#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/db/profile.h"
#include "core/sql/catalog_view.h"

namespace pantry::db {

enum class RelationKind { Table, View, VirtualTable };

struct CatalogColumn {
    std::string name;
    std::string typeName;  ///< as the engine writes it; may be empty
    bool isNullable = true;
    int keyPosition = 0;  ///< place in the primary key, from 1; 0 when it is not in it
    bool isGenerated = false;
    std::optional<std::string> defaultValue;  ///< an expression
    std::string comment;
};

struct CatalogForeignKey {
    std::string name;
    std::vector<std::string> columns;
    std::string schema;
    std::string relation;
    std::vector<std::string> referencedColumns;
    std::string onDelete;
    std::string onUpdate;
};

struct CatalogIndex {
    std::string name;
    std::vector<std::string> columns;  ///< an expression shows as “(expression)”
    bool isUnique = false;
    bool isPartial = false;
    bool isPrimaryKey = false;
};

struct CatalogTrigger {
    std::string name;
    std::string definition;
};

struct CatalogRelation {
    std::string schema;
    std::string name;
    RelationKind kind = RelationKind::Table;
    std::vector<CatalogColumn> columns;
    std::vector<CatalogForeignKey> foreignKeys;
    std::vector<CatalogIndex> indexes;
    std::vector<CatalogTrigger> triggers;
    std::string definition;  ///< the statement that makes it
    std::optional<std::int64_t> rowEstimate;
    std::string comment;
    std::string problem;  ///< why parts of it could not be read; empty when all is well

    [[nodiscard]] const CatalogColumn* column(std::string_view columnName) const;
    /// The foreign key that a column is part of, or nullptr.
    [[nodiscard]] const CatalogForeignKey* foreignKeyOf(std::string_view columnName) const;
};

/// Everything that is in a database, as it was at one moment.
///
/// Threads: immutable.
class Catalog {
public:
    Catalog() = default;
    Catalog(std::string serverVersion, std::vector<std::string> schemas, std::vector<CatalogRelation> relations);

    [[nodiscard]] const std::string& serverVersion() const { return serverVersion_; }
    [[nodiscard]] const std::vector<std::string>& schemas() const { return schemas_; }
    [[nodiscard]] const std::vector<CatalogRelation>& relations() const { return relations_; }
    [[nodiscard]] const CatalogRelation* find(std::string_view schema, std::string_view name) const;

    /// Foreign keys of other relations that lead to this one, as (relation, key).
    struct Reference {
        const CatalogRelation* from;
        const CatalogForeignKey* key;
    };
    [[nodiscard]] std::vector<Reference> referencesTo(const CatalogRelation& relation) const;

    /// The same for the SQL tools.
    [[nodiscard]] const sql::CatalogViewPtr& view() const { return view_; }

private:
    std::string serverVersion_;
    std::vector<std::string> schemas_;
    std::vector<CatalogRelation> relations_;
    sql::CatalogViewPtr view_ = std::make_shared<sql::CatalogView>();
};

using CatalogPtr = std::shared_ptr<const Catalog>;

[[nodiscard]] std::string_view relationKindName(RelationKind kind);  ///< table, view, virtual table

}  // namespace pantry::db
