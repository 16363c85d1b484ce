#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <utility>
#include <vector>

#include "core/catalog/column_names.h"

namespace pantry::catalog {

/// What a catalog holds. Those up to VirtualTable have columns and can be read from.
enum class ObjectKind {
    Table,
    View,
    MaterializedView,
    ForeignTable,
    VirtualTable,
    Sequence,
    Function,
    Procedure,
    Aggregate,
    Type,
    Event,
    Extension,
};
[[nodiscard]] std::string_view kindName(ObjectKind kind);     ///< materialised view
[[nodiscard]] std::string_view kindHeading(ObjectKind kind);  ///< Materialised views
[[nodiscard]] std::optional<ObjectKind> kindFromName(std::string_view name);
[[nodiscard]] bool isViewKind(ObjectKind kind);
/// Whether it has columns and can be read from.
[[nodiscard]] constexpr bool isRelationKind(ObjectKind kind) { return kind <= ObjectKind::VirtualTable; }

/// Whether the engine counts a column's values up by itself.
enum class Identity {
    None,
    ByDefault,  ///< unless a statement gives one
    Always,     ///< and refuses others
};

struct Column {
    std::string name;
    std::string typeName;  ///< as the engine writes it; may be empty
    bool isNullable = true;
    int keyPosition = 0;  ///< place in the primary key, from 1; 0 when it is not in it
    bool isGenerated = false;
    std::optional<std::string> defaultValue;  ///< an expression
    std::string comment;
    Identity identity = Identity::None;
    std::string generation;  ///< the expression of a generated column, where the engine tells it
    bool isStored = false;   ///< a generated column's values are kept
    std::string collation;   ///< when it is another than the usual one
    std::string attributes;  ///< what else a statement says of it in words of its engine: ON UPDATE current_timestamp()

    friend bool operator==(const Column&, const Column&) = default;
};

/// Where a column's values come from when nobody gives them, in a few words: now(), identity, generated as (a + b).
/// Empty when they come from nowhere.
[[nodiscard]] std::string originOf(const Column& column);

struct ForeignKey {
    std::string name;
    std::vector<std::string> columns;
    std::string schema;
    std::string relation;
    std::vector<std::string> referencedColumns;
    std::string onDelete;
    std::string onUpdate;
    std::string deferral;  ///< DEFERRABLE INITIALLY DEFERRED; empty when it holds at once

    friend bool operator==(const ForeignKey&, const ForeignKey&) = default;
};

struct Index {
    std::string name;
    std::vector<std::string> columns;  ///< an expression shows as “(expression)”
    bool isUnique = false;
    bool isPartial = false;
    bool isPrimaryKey = false;
    std::string predicate;  ///< which rows a partial one holds, where the engine tells it
    std::string method;     ///< how it is built, when it is not the engine's usual way: gin, fulltext
    /// Columns of which only the first characters are in it, and how many.
    std::vector<std::pair<std::string, int>> prefixes;

    friend bool operator==(const Index&, const Index&) = default;
};

/// A rule on a table other than its keys: checks, uniqueness, exclusion.
struct Constraint {
    enum class Kind { Check, Unique, Exclusion };
    std::string name;
    std::string definition;  ///< as the engine writes it: CHECK (height > 0)
    Kind kind = Kind::Check;
    std::vector<std::string> columns = {};  ///< of a unique one, and of one that is written with its column
    bool isOfColumn = false;                ///< written with its column, and changed with it
};

struct Trigger {
    std::string name;
    std::string definition;
};

/// A table, a view, or what else has columns.
struct Relation {
    std::string schema;
    std::string name;
    ObjectKind kind = ObjectKind::Table;
    std::vector<Column> columns;
    std::vector<ForeignKey> foreignKeys;
    std::vector<Index> indexes;
    std::vector<Constraint> constraints;
    std::vector<Trigger> triggers;
    std::optional<std::int64_t> rowEstimate;
    std::optional<std::int64_t> sizeEstimate;  ///< bytes on the server's disk, as it last noted them
    std::string partOf;                        ///< the partitioned table that it is a part of
    std::string ofType;                        ///< the type that it has its columns from; empty for its own
    std::string comment;
    std::string collation;  ///< of its columns, unless they have their own; empty where the engine tells none
    std::string problem;    ///< why parts of it could not be read; empty when all is well
    /// Grows with the order in which relations were made, where the engine knows it; 0 where it does not.
    std::uint64_t age = 0;

    [[nodiscard]] const Column* column(std::string_view columnName) const;
    /// The foreign key that a column is part of, or nullptr.
    [[nodiscard]] const ForeignKey* foreignKeyOf(std::string_view columnName) const;
};

/// A routine, a sequence, a type, an event.
struct Object {
    std::string schema;
    std::string name;
    ObjectKind kind = ObjectKind::Function;
    std::string signature;  ///< what tells it from others of its name: a routine's parameters
    std::string detail;     ///< what it returns, counts or consists of
    std::string comment;
};

/// What one schema holds.
struct Schema {
    std::string name;
    bool isOwn = false;         ///< the engine's own
    bool isLoaded = false;      ///< otherwise it is known by name only
    std::size_t forbidden = 0;  ///< relations left out, since the user has no right to any of their data
    std::string problem;        ///< why nothing, or not everything, could be read
    std::vector<Relation> relations;
    std::vector<Object> objects;
};
using SchemaPtr = std::shared_ptr<const Schema>;

/// Facts about the database as a whole.
struct Facts {
    std::string serverVersion;
    std::string database;                ///< the one that was read; empty where schemas are databases
    std::vector<std::string> databases;  ///< of the server, that this user may enter; empty where schemas are databases
    std::vector<std::string> searchPath;  ///< schemas where names without one are looked for, in this order
    std::string user;                     ///< as whom it was read
    std::string role;                     ///< whose rights counted, when it was not the user's own
};

/// Everything that is in a database, as it was at one moment. Schemas that were not asked for are known by name only.
///
/// Threads: immutable. Snapshots share the schemas that did not change.
class Catalog {
public:
    Catalog() = default;
    Catalog(Facts facts, std::vector<SchemaPtr> schemas);

    [[nodiscard]] const Facts& facts() const { return facts_; }
    [[nodiscard]] const std::vector<SchemaPtr>& schemas() const { return schemas_; }
    [[nodiscard]] const Schema* schema(std::string_view name) const;
    /// Of all schemas that were read.
    [[nodiscard]] const std::vector<const Relation*>& relations() const { return relations_; }
    /// The columns of those, in the same order.
    [[nodiscard]] const ColumnNames& columnNames() const { return columnNames_; }
    /// The relation of exactly this name, else one that differs in the case of letters; an empty schema asks the search
    /// path.
    [[nodiscard]] const Relation* find(std::string_view schema, std::string_view name) const {
        return find(schema, name, facts_.searchPath);
    }
    /// The same with another search path.
    [[nodiscard]] const Relation* find(std::string_view schema, std::string_view name,
                                       const std::vector<std::string>& searchPath) const;
    [[nodiscard]] const Object* findObject(std::string_view schema, std::string_view name,
                                           std::string_view signature) const;

    /// Foreign keys of other relations that lead to this one, as (relation, key).
    struct Reference {
        const Relation* from;
        const ForeignKey* key;
    };
    [[nodiscard]] const std::vector<Reference>& referencesTo(const Relation& relation) const;

    /// Names of the schemas that have relations, in their order.
    [[nodiscard]] const std::vector<std::string>& relationSchemas() const { return relationSchemas_; }

    /// What its parts take, in bytes, about.
    [[nodiscard]] std::uint64_t memoryBytes() const;

private:
    Facts facts_;
    std::vector<SchemaPtr> schemas_;
    std::vector<const Relation*> relations_;
    ColumnNames columnNames_;
    std::vector<std::string> relationSchemas_;
    std::unordered_map<std::string, const Relation*> exact_;   // "schema\0name"
    std::unordered_map<std::string, const Relation*> folded_;  // the same in small letters; the first one of several
    std::unordered_map<const Relation*, std::vector<Reference>> references_;
};

using CatalogPtr = std::shared_ptr<const Catalog>;

/// What to read of a catalog.
struct Request {
    /// Schemas to read; when empty all of the user's, or, where there are very many, those of the search path.
    std::vector<std::string> schemas = {};
    /// An earlier catalog of the same database: what was read of other schemas stays.
    CatalogPtr known = {};
    /// Of the schemas only the relations of these names, since nothing else in them has changed; none: everything.
    std::vector<std::string> names = {};
    /// Also what the user has no right to.
    bool withForbidden = false;
    /// Hears, on the session's thread, which part is read now: “columns”, 3 of 9.
    std::function<void(std::string_view part, std::size_t number, std::size_t all)> progress = {};
};

/// Which of the schemas that a server names are to be read; `known` tells those that were read before.
[[nodiscard]] std::vector<std::string> schemasToRead(const Request& request, const std::vector<Schema>& named,
                                                     const std::vector<std::string>& searchPath);

/// Whether a view of another relation is looked at again with it: some engines keep views that no longer work.
enum class Views { Stay, Follow };

/// The names of the relations to read anew: those asked for, and those whose facts may follow from them: with an index
/// or trigger of such a name, parts of such a table, and whatever points at it. None when everything in the schemas is
/// to be read, also where they are not known yet.
[[nodiscard]] std::vector<std::string> namesToRead(const Request& request, Views views);

/// Puts what was read into a catalog, beside what was known before. With `names`, what was read are the relations of
/// these names and all sequences; everything else in a schema stays.
[[nodiscard]] CatalogPtr mergeCatalog(Facts facts, std::vector<Schema> read, const CatalogPtr& known,
                                      const std::vector<std::string>& names = {});

/// One object of a database, as a definition is asked for.
struct ObjectName {
    ObjectKind kind = ObjectKind::Table;
    std::string schema;
    std::string name;
    std::string signature = {};

    friend bool operator==(const ObjectName&, const ObjectName&) = default;
};

/// The statements that make an object, with everything that hangs on it.
struct Definition {
    std::string text;   ///< runs on a database that holds what the object is built on
    std::string links;  ///< foreign keys, which need the other tables: to run when these are there; may be empty

    [[nodiscard]] std::string whole() const { return links.empty() ? text : text + "\n" + links; }
};

}  // namespace pantry::catalog
