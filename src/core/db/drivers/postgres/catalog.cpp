#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <functional>
#include <unordered_map>

#include "core/base/joined.h"
#include "core/base/text.h"

#include <libpq-fe.h>

#include "core/db/catalog_parts.h"
#include "core/db/drivers/postgres/link.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::postgres {
namespace {

/// Schemas that are the engine's own.
constexpr std::string_view kOwnSchemas = "(n.nspname = 'information_schema' OR n.nspname ~ '^pg_(catalog|toast|temp)')";

/// One row of a catalog query.
class Row {
public:
    Row(const PGresult* rows, int row) : rows_(rows), row_(row) {}
    [[nodiscard]] std::string text(int column) const { return PQgetvalue(rows_, row_, column); }
    [[nodiscard]] bool isNull(int column) const { return PQgetisnull(rows_, row_, column) != 0; }
    [[nodiscard]] bool flag(int column) const { return text(column) == "t"; }
    [[nodiscard]] std::int64_t number(int column) const { return std::atoll(PQgetvalue(rows_, row_, column)); }
    /// Names that array_to_string joined with a character that no name has.
    [[nodiscard]] std::vector<std::string> names(int column) const {
        std::vector<std::string> out;
        const std::string joined = text(column);
        for (const std::string_view name : base::splitAt(joined, '\x1F')) out.emplace_back(name);
        return out;
    }

private:
    const PGresult* rows_;
    int row_;
};

/// Text of a statement's action on a foreign key.
std::string actionWord(const std::string& letter) {
    if (letter == "c") return "CASCADE";
    if (letter == "n") return "SET NULL";
    if (letter == "d") return "SET DEFAULT";
    return letter == "r" ? "RESTRICT" : "NO ACTION";
}

catalog::ObjectKind relationKind(const std::string& letter) {
    if (letter == "v") return catalog::ObjectKind::View;
    if (letter == "m") return catalog::ObjectKind::MaterializedView;
    return letter == "f" ? catalog::ObjectKind::ForeignTable : catalog::ObjectKind::Table;
}

/// Reads the schemas that are wanted in twelve queries, however much there is in them; only some of their relations in
/// eight.
class CatalogReader {
public:
    CatalogReader(PostgresLink& link, const catalog::Request& request, const base::Cancellation& cancellation)
        : link_(link),
          request_(request),
          cancellation_(cancellation),
          names_(namesToRead(request, catalog::Views::Stay)) {}  // the engine keeps no view that does not work

    Result<catalog::CatalogPtr> read(const std::string& serverVersion) {
        facts_.serverVersion = serverVersion;
        facts_.database = link_.state().database;
        facts_.user = link_.state().user;
        facts_.role = link_.state().role;
        std::string problem;
        std::vector<CatalogPart> parts{
            {"databases", [this] { return databases(); }},      {"schemas", [this] { return schemas(); }, true},
            {"tables", [this] { return relations(); }, true},   {"columns", [this] { return columns(); }},
            {"foreign keys", [this] { return foreignKeys(); }}, {"constraints", [this] { return constraints(); }},
            {"indexes", [this] { return indexes(); }},          {"triggers", [this] { return triggers(); }},
            {"sequences", [this] { return sequences(); }},
        };
        if (names_.empty()) {
            parts.push_back({"routines", [this] { return routines(); }});
            parts.push_back({"types", [this] { return types(); }});
            parts.push_back({"extensions", [this] { return extensions(); }});
        }
        if (Status status = readParts(parts, request_, cancellation_, problem); !status) return status.error();
        for (catalog::Schema& schema : schemas_) {
            if (schema.isLoaded && schema.problem.empty()) schema.problem = problem;
        }
        return mergeCatalog(std::move(facts_), std::move(schemas_), request_.known, names_);
    }

private:
    /// Where only some relations are read: those of the names, and what inherits from them.
    [[nodiscard]] std::string isNamed() const {
        if (names_.empty()) return "";
        std::vector<std::string> literals;
        for (const std::string& name : names_) literals.push_back(sql::quotedString(name, sql::Dialect::Postgres));
        return fmt::format(
            " AND c.oid IN (WITH RECURSIVE named AS (SELECT r.oid FROM pg_catalog.pg_class r WHERE r.relname IN ({}) "
            "AND r.relnamespace IN ({}) UNION SELECT i.inhrelid FROM pg_catalog.pg_inherits i "
            "JOIN named ON named.oid = i.inhparent) SELECT oid FROM named)",
            base::joined(literals, ", "), wanted_);
    }

    /// For the queries after that: a column with the oids of relations is to be among those that were read.
    [[nodiscard]] std::string isRead(std::string_view column) const {
        if (names_.empty()) return "";
        std::string oids;
        for (const auto& [oid, place] : index_) oids += (oids.empty() ? "" : ",") + oid;
        return fmt::format(" AND {} IN ({})", column, oids.empty() ? "0" : oids);
    }

    Status forEach(const std::string& query, const std::function<void(const Row&)>& take) {
        auto rows = link_.ask(query, cancellation_);
        if (!rows) return rows.error();
        for (int i = 0; i < PQntuples(rows->get()); ++i) take(Row(rows->get(), i));
        return {};
    }

    catalog::Relation* find(const std::string& oid) {
        const auto found = index_.find(oid);
        if (found == index_.end()) return nullptr;
        return &schemas_[found->second.first].relations[found->second.second];
    }
    catalog::Schema& schemaOf(const std::string& oid) { return schemas_[schemaIndex_.at(oid)]; }

    Status databases() {
        return forEach(
            "SELECT datname FROM pg_catalog.pg_database WHERE datallowconn AND NOT datistemplate "
            "AND pg_catalog.has_database_privilege(oid, 'CONNECT') ORDER BY datname",
            [this](const Row& row) { facts_.databases.push_back(row.text(0)); });
    }

    /// Those where names are looked for without a schema come first, the engine's own last.
    Status schemas() {
        std::vector<std::string> oids;
        Status status =
            forEach(fmt::format("SELECT n.oid, n.nspname, {0}, pg_catalog.has_schema_privilege(n.oid, 'USAGE'), "
                                "pg_catalog.array_position(pg_catalog.current_schemas(false), n.nspname) "
                                "FROM pg_catalog.pg_namespace n WHERE n.nspname !~ '^pg_(toast|temp)' ORDER BY {0}, "
                                "pg_catalog.array_position(pg_catalog.current_schemas(false), n.nspname), n.nspname",
                                kOwnSchemas),
                    [&](const Row& row) {
                        catalog::Schema schema{.name = row.text(1), .isOwn = row.flag(2)};
                        if (!row.flag(3)) schema.problem = "You have no right to use this schema.";
                        if (!row.isNull(4)) facts_.searchPath.push_back(schema.name);
                        oids.push_back(row.text(0));
                        schemas_.push_back(std::move(schema));
                    });
        if (!status) return status;
        // Unless somebody asks for it, nothing is read that the user could not reach anyway.
        const std::vector<std::string> wanted = schemasToRead(request_, schemas_, facts_.searchPath);
        for (std::size_t i = 0; i < schemas_.size(); ++i) {
            if (std::ranges::find(wanted, schemas_[i].name) == wanted.end()) continue;
            if (!schemas_[i].problem.empty() && !request_.withForbidden) continue;
            schemas_[i].isLoaded = true;
            schemaIndex_[oids[i]] = i;
            wanted_ += (wanted_.empty() ? "" : ",") + oids[i];
        }
        if (wanted_.empty()) wanted_ = "0";
        return {};
    }

    Status relations() {
        const std::string part =
            link_.versionNumber() >= 100000
                ? "CASE WHEN c.relispartition THEN (SELECT p.relname FROM pg_catalog.pg_inherits i "
                  "JOIN pg_catalog.pg_class p ON p.oid = i.inhparent WHERE i.inhrelid = c.oid) END"
                : "NULL";
        const std::string query = fmt::format(
            "SELECT c.oid, c.relnamespace, c.relname, c.relkind, c.reltuples::pg_catalog.int8, "
            "pg_catalog.obj_description(c.oid, 'pg_class'), c.relpages::pg_catalog.int8, "
            "pg_catalog.has_table_privilege(c.oid, 'SELECT, INSERT, UPDATE, DELETE, TRUNCATE, REFERENCES, TRIGGER') "
            "OR pg_catalog.has_any_column_privilege(c.oid, 'SELECT, INSERT, UPDATE, REFERENCES'), {}, n.nspname, "
            "c.oid::pg_catalog.int8, CASE WHEN c.reloftype <> 0 THEN pg_catalog.format_type(c.reloftype, NULL) END "
            "FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace "
            "WHERE c.relkind IN ('r', 'p', 'v', 'm', 'f') AND c.relnamespace IN ({}){} ORDER BY "
            "pg_catalog.lower(c.relname) COLLATE pg_catalog.\"C\", c.relname",
            part, wanted_, isNamed());
        constexpr std::int64_t kPageBytes = 8192;
        return forEach(query, [this](const Row& row) {
            catalog::Schema& schema = schemaOf(row.text(1));
            const bool isAllowed = row.flag(7);
            if (!isAllowed && !request_.withForbidden) {
                ++schema.forbidden;
                return;
            }
            catalog::Relation relation{.schema = row.text(9), .name = row.text(2), .kind = relationKind(row.text(3))};
            const bool hasRows = relation.kind != catalog::ObjectKind::View;
            if (hasRows && row.number(4) >= 0) {  // -1: never analysed
                relation.rowEstimate = row.number(4);
                relation.sizeEstimate = row.number(6) * kPageBytes;
            }
            relation.comment = row.text(5);
            relation.partOf = row.text(8);
            if (!isAllowed) relation.problem = "You have no right to read it.";
            relation.ofType = row.text(11);
            relation.age = static_cast<std::uint64_t>(row.number(10));
            index_[row.text(0)] = {schemaIndex_.at(row.text(1)), schema.relations.size()};
            schema.relations.push_back(std::move(relation));
        });
    }

    Status columns() {
        const std::string generated = link_.versionNumber() >= 120000 ? "a.attgenerated" : "''";
        const std::string identity = link_.versionNumber() >= 100000 ? "a.attidentity" : "''";
        const std::string query = fmt::format(
            "SELECT a.attrelid, a.attname, pg_catalog.format_type(a.atttypid, a.atttypmod), a.attnotnull, "
            "pg_catalog.pg_get_expr(d.adbin, d.adrelid), {}, pg_catalog.col_description(a.attrelid, a.attnum), "
            "pg_catalog.array_position(k.conkey, a.attnum), {}, CASE WHEN a.attcollation <> 0 AND a.attcollation <> "
            "t.typcollation THEN a.attcollation::pg_catalog.regcollation::pg_catalog.text END "
            "FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_class c ON c.oid = a.attrelid "
            "JOIN pg_catalog.pg_type t ON t.oid = a.atttypid "
            "LEFT JOIN pg_catalog.pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum "
            "LEFT JOIN pg_catalog.pg_constraint k ON k.conrelid = a.attrelid AND k.contype = 'p' "
            "WHERE a.attnum > 0 AND NOT a.attisdropped AND c.relkind IN ('r', 'p', 'v', 'm', 'f') "
            "AND c.relnamespace IN ({}){} ORDER BY a.attrelid, a.attnum",
            generated, identity, wanted_, isRead("a.attrelid"));
        return forEach(query, [this](const Row& row) {
            catalog::Relation* relation = find(row.text(0));
            if (relation == nullptr) return;
            catalog::Column column{.name = row.text(1), .typeName = row.text(2), .isNullable = !row.flag(3)};
            column.isGenerated = !row.text(5).empty();
            column.isStored = row.text(5) == "s";
            if (column.isGenerated) {
                column.generation = row.text(4);
            } else if (!row.isNull(4)) {
                column.defaultValue = row.text(4);
            }
            if (!row.text(8).empty()) {
                column.identity = row.text(8) == "a" ? catalog::Identity::Always : catalog::Identity::ByDefault;
            }
            column.collation = row.text(9);
            column.comment = row.text(6);
            column.keyPosition = static_cast<int>(row.number(7));
            relation->columns.push_back(std::move(column));
        });
    }

    /// The names of the columns with some numbers, in their order.
    static std::string columnNames(std::string_view numbers, std::string_view relation) {
        return fmt::format(
            "pg_catalog.array_to_string(ARRAY(SELECT a.attname FROM pg_catalog.unnest({}) WITH ORDINALITY u(n, o) "
            "JOIN pg_catalog.pg_attribute a ON a.attrelid = {} AND a.attnum = u.n ORDER BY u.o), E'\\x1F')",
            numbers, relation);
    }

    Status foreignKeys() {
        const std::string query = fmt::format(
            "SELECT k.conrelid, k.conname, {}, rn.nspname, r.relname, {}, k.confdeltype, k.confupdtype, "
            "CASE WHEN k.condeferred THEN 'DEFERRABLE INITIALLY DEFERRED' WHEN k.condeferrable THEN 'DEFERRABLE' END "
            "FROM pg_catalog.pg_constraint k JOIN pg_catalog.pg_class r ON r.oid = k.confrelid "
            "JOIN pg_catalog.pg_namespace rn ON rn.oid = r.relnamespace "
            "WHERE k.contype = 'f' AND k.connamespace IN ({}){} ORDER BY k.conrelid, k.conname",
            columnNames("k.conkey", "k.conrelid"), columnNames("k.confkey", "k.confrelid"), wanted_,
            isRead("k.conrelid"));
        return forEach(query, [this](const Row& row) {
            catalog::Relation* relation = find(row.text(0));
            if (relation == nullptr) return;
            relation->foreignKeys.push_back({.name = row.text(1),
                                             .columns = row.names(2),
                                             .schema = row.text(3),
                                             .relation = row.text(4),
                                             .referencedColumns = row.names(5),
                                             .onDelete = actionWord(row.text(6)),
                                             .onUpdate = actionWord(row.text(7)),
                                             .deferral = row.text(8)});
        });
    }

    Status constraints() {
        return forEach(
            fmt::format("SELECT k.conrelid, k.conname, pg_catalog.pg_get_constraintdef(k.oid, true), k.contype, "
                        "CASE k.contype WHEN 'u' THEN {} ELSE '' END "
                        "FROM pg_catalog.pg_constraint k WHERE k.contype IN ('c', 'u', 'x') "
                        "AND k.conrelid <> 0 AND k.connamespace IN ({}){} ORDER BY k.conrelid, k.conname",
                        columnNames("k.conkey", "k.conrelid"), wanted_, isRead("k.conrelid")),
            [this](const Row& row) {
                catalog::Relation* relation = find(row.text(0));
                if (relation == nullptr) return;
                const std::string letter = row.text(3);
                using Kind = catalog::Constraint::Kind;
                const Kind kind = letter == "u" ? Kind::Unique : letter == "x" ? Kind::Exclusion : Kind::Check;
                relation->constraints.push_back(
                    {row.text(1), row.text(2), kind, kind == Kind::Unique ? row.names(4) : std::vector<std::string>()});
            });
    }

    Status indexes() {
        const std::string query = fmt::format(
            "SELECT i.indrelid, x.relname, i.indisunique, i.indisprimary, CASE WHEN i.indpred IS NOT NULL THEN "
            "pg_catalog.pg_get_expr(i.indpred, i.indrelid, true) END, "
            "pg_catalog.array_to_string(ARRAY(SELECT CASE WHEN i.indkey[p] = 0 THEN '(' || "
            "pg_catalog.pg_get_indexdef(i.indexrelid, p + 1, true) || ')' ELSE "
            "(SELECT a.attname FROM pg_catalog.pg_attribute a WHERE a.attrelid = i.indrelid AND a.attnum = "
            "i.indkey[p]) END FROM pg_catalog.generate_series(0, i.indnatts - 1) p ORDER BY p), E'\\x1F'), "
            "m.amname FROM pg_catalog.pg_index i JOIN pg_catalog.pg_class x ON x.oid = i.indexrelid "
            "LEFT JOIN pg_catalog.pg_am m ON m.oid = x.relam "
            "WHERE x.relnamespace IN ({}){} ORDER BY i.indrelid, x.relname",
            wanted_, isRead("i.indrelid"));
        return forEach(query, [this](const Row& row) {
            catalog::Relation* relation = find(row.text(0));
            if (relation == nullptr) return;
            relation->indexes.push_back({.name = row.text(1),
                                         .columns = row.names(5),
                                         .isUnique = row.flag(2),
                                         .isPartial = !row.isNull(4),
                                         .isPrimaryKey = row.flag(3),
                                         .predicate = row.text(4),
                                         .method = row.text(6) == "btree" ? std::string() : row.text(6)});
        });
    }

    Status triggers() {
        return forEach(fmt::format("SELECT t.tgrelid, t.tgname, pg_catalog.pg_get_triggerdef(t.oid, true) "
                                   "FROM pg_catalog.pg_trigger t JOIN pg_catalog.pg_class c ON c.oid = t.tgrelid "
                                   "WHERE NOT t.tgisinternal AND c.relnamespace IN ({}){} ORDER BY t.tgrelid, t.tgname",
                                   wanted_, isRead("t.tgrelid")),
                       [this](const Row& row) {
                           catalog::Relation* relation = find(row.text(0));
                           if (relation != nullptr) relation->triggers.push_back({row.text(1), row.text(2)});
                       });
    }

    Status objects(const std::string& query, const std::function<catalog::ObjectKind(const std::string&)>& kindOf) {
        return forEach(query, [&](const Row& row) {
            catalog::Schema& schema = schemaOf(row.text(0));
            schema.objects.push_back({.schema = schema.name,
                                      .name = row.text(1),
                                      .kind = kindOf(row.text(2)),
                                      .signature = row.text(3),
                                      .detail = row.text(4),
                                      .comment = row.text(5)});
        });
    }

    Status routines() {
        const std::string kind =
            link_.versionNumber() >= 110000 ? "p.prokind" : "CASE WHEN p.proisagg THEN 'a' ELSE 'f' END";
        return objects(
            fmt::format("SELECT p.pronamespace, p.proname, {}, pg_catalog.pg_get_function_identity_arguments(p.oid), "
                        "pg_catalog.pg_get_function_result(p.oid), pg_catalog.obj_description(p.oid, 'pg_proc') "
                        "FROM pg_catalog.pg_proc p WHERE p.pronamespace IN ({}) AND NOT EXISTS (SELECT FROM "
                        "pg_catalog.pg_depend d "
                        "WHERE d.objid = p.oid AND d.deptype = 'i' AND d.classid = "
                        "'pg_catalog.pg_proc'::pg_catalog.regclass) ORDER BY pg_catalog.lower(p.proname), "
                        "p.proname, 4",
                        kind, wanted_),
            [](const std::string& letter) {
                if (letter == "a") return catalog::ObjectKind::Aggregate;
                return letter == "p" ? catalog::ObjectKind::Procedure : catalog::ObjectKind::Function;
            });
    }

    Status sequences() {
        // The sequence of an identity column belongs to it and is no object of its own.
        return objects(
            fmt::format(
                "SELECT c.relnamespace, c.relname, 'S', '', COALESCE((SELECT 'of ' || r.relname || '.' || a.attname "
                "FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_class r ON r.oid = d.refobjid "
                "JOIN pg_catalog.pg_attribute a ON a.attrelid = r.oid AND a.attnum = d.refobjsubid "
                "WHERE d.objid = c.oid AND d.deptype = 'a' AND d.classid = 'pg_catalog.pg_class'::pg_catalog.regclass "
                "LIMIT 1), ''), pg_catalog.obj_description(c.oid, 'pg_class') "
                "FROM pg_catalog.pg_class c WHERE c.relkind = 'S' AND c.relnamespace IN ({}) AND NOT EXISTS "
                "(SELECT FROM pg_catalog.pg_depend d WHERE d.objid = c.oid AND d.deptype = 'i') "
                "ORDER BY pg_catalog.lower(c.relname), c.relname",
                wanted_),
            [](const std::string&) { return catalog::ObjectKind::Sequence; });
    }

    Status types() {
        return objects(
            fmt::format(
                "SELECT t.typnamespace, t.typname, t.typtype, '', CASE t.typtype WHEN 'd' THEN 'domain over ' || "
                "pg_catalog.format_type(t.typbasetype, t.typtypmod) WHEN 'c' THEN 'composite' WHEN 'r' THEN 'range' "
                "ELSE 'enum: ' || pg_catalog.array_to_string(ARRAY(SELECT e.enumlabel FROM pg_catalog.pg_enum e WHERE "
                "e.enumtypid = t.oid ORDER BY e.enumsortorder), ', ') END, "
                "pg_catalog.obj_description(t.oid, 'pg_type') FROM pg_catalog.pg_type t "
                "LEFT JOIN pg_catalog.pg_class c ON c.oid = t.typrelid "
                "WHERE t.typtype IN ('d', 'e', 'r', 'c') AND (t.typrelid = 0 OR c.relkind = 'c') "
                "AND t.typnamespace IN ({}) ORDER BY pg_catalog.lower(t.typname), t.typname",
                wanted_),
            [](const std::string&) { return catalog::ObjectKind::Type; });
    }

    Status extensions() {
        return objects(fmt::format("SELECT e.extnamespace, e.extname, '', '', 'version ' || e.extversion, "
                                   "pg_catalog.obj_description(e.oid, 'pg_extension') FROM pg_catalog.pg_extension e "
                                   "WHERE e.extnamespace IN ({}) ORDER BY e.extname",
                                   wanted_),
                       [](const std::string&) { return catalog::ObjectKind::Extension; });
    }

    PostgresLink& link_;
    const catalog::Request& request_;
    const base::Cancellation& cancellation_;
    std::vector<std::string> names_;  // of the relations to read; none: all of them
    catalog::Facts facts_;
    std::vector<catalog::Schema> schemas_;
    std::string wanted_;                                                          // oids of the schemas to read, for IN
    std::unordered_map<std::string, std::size_t> schemaIndex_;                    // by oid, of those to read
    std::unordered_map<std::string, std::pair<std::size_t, std::size_t>> index_;  // by oid: schema and relation in it
};

}  // namespace

Result<catalog::CatalogPtr> loadCatalog(PostgresLink& link, const std::string& serverVersion,
                                        const catalog::Request& request, const base::Cancellation& cancellation) {
    return CatalogReader(link, request, cancellation).read(serverVersion);
}

}  // namespace pantry::db::postgres
