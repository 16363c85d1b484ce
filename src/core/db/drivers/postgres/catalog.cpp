#include <fmt/format.h>

#include <array>
#include <cstdlib>
#include <functional>
#include <unordered_map>

#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/db/drivers/postgres/link.h"
#include "core/sql/lexer.h"

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
        for (const std::string_view name : base::splitAt(text(column), '\x1F')) out.emplace_back(name);
        return out;
    }

private:
    const PGresult* rows_;
    int row_;
};

/// Reads everything in six queries, however much there is.
class CatalogReader {
public:
    CatalogReader(PostgresLink& link, const base::Cancellation& cancellation)
        : link_(link), cancellation_(cancellation) {}

    Result<CatalogPtr> read(const std::string& serverVersion) {
        for (const auto step : {&CatalogReader::schemas, &CatalogReader::relations, &CatalogReader::columns,
                                &CatalogReader::foreignKeys, &CatalogReader::indexes, &CatalogReader::triggers}) {
            if (cancellation_.isRequested()) return stopped();
            if (Status status = (this->*step)(); !status) return status.error();
        }
        return std::make_shared<const Catalog>(serverVersion, std::move(schemas_), std::move(relations_));
    }

private:
    Status forEach(const std::string& query, const std::function<void(const Row&)>& take) {
        auto rows = link_.ask(query, cancellation_);
        if (!rows) return rows.error();
        for (int i = 0; i < PQntuples(rows->get()); ++i) take(Row(rows->get(), i));
        return {};
    }

    CatalogRelation* find(const std::string& oid) {
        const auto found = index_.find(oid);
        return found == index_.end() ? nullptr : &relations_[found->second];
    }

    /// Those where names are looked for without a schema come first.
    Status schemas() {
        return forEach(fmt::format("SELECT n.nspname FROM pg_catalog.pg_namespace n WHERE NOT {} "
                                   "ORDER BY pg_catalog.array_position(pg_catalog.current_schemas(false), n.nspname), "
                                   "n.nspname",
                                   kOwnSchemas),
                       [this](const Row& row) { schemas_.push_back(row.text(0)); });
    }

    Status relations() {
        const std::string query = fmt::format(
            "SELECT c.oid, n.nspname, c.relname, c.relkind, c.reltuples::pg_catalog.int8, "
            "pg_catalog.obj_description(c.oid, 'pg_class'), "
            "CASE WHEN c.relkind IN ('v', 'm') THEN pg_catalog.pg_get_viewdef(c.oid, true) END "
            "FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace "
            "WHERE c.relkind IN ('r', 'p', 'v', 'm', 'f') AND NOT {} ORDER BY pg_catalog.lower(c.relname)",
            kOwnSchemas);
        return forEach(query, [this](const Row& row) {
            CatalogRelation relation;
            relation.schema = row.text(1);
            relation.name = row.text(2);
            const std::string kind = row.text(3);
            const bool isView = kind == "v" || kind == "m";
            relation.kind = isView ? RelationKind::View : RelationKind::Table;
            if (!isView && row.number(4) >= 0) relation.rowEstimate = row.number(4);  // -1: never analysed
            relation.comment = row.text(5);
            if (isView) {
                relation.definition = fmt::format("CREATE {}VIEW {} AS\n{}", kind == "m" ? "MATERIALIZED " : "",
                                                  quoted(relation.schema, relation.name), row.text(6));
            }
            index_[row.text(0)] = relations_.size();
            relations_.push_back(std::move(relation));
        });
    }

    Status columns() {
        const std::string generated = link_.versionNumber() >= 120000 ? "a.attgenerated <> ''" : "false";
        const std::string query = fmt::format(
            "SELECT a.attrelid, a.attname, pg_catalog.format_type(a.atttypid, a.atttypmod), a.attnotnull, "
            "pg_catalog.pg_get_expr(d.adbin, d.adrelid), {}, pg_catalog.col_description(a.attrelid, a.attnum), "
            "pg_catalog.array_position(k.conkey, a.attnum) "
            "FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_class c ON c.oid = a.attrelid "
            "JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace "
            "LEFT JOIN pg_catalog.pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum "
            "LEFT JOIN pg_catalog.pg_constraint k ON k.conrelid = a.attrelid AND k.contype = 'p' "
            "WHERE a.attnum > 0 AND NOT a.attisdropped AND c.relkind IN ('r', 'p', 'v', 'm', 'f') AND NOT {} "
            "ORDER BY a.attrelid, a.attnum",
            generated, kOwnSchemas);
        return forEach(query, [this](const Row& row) {
            CatalogRelation* relation = find(row.text(0));
            if (relation == nullptr) return;
            CatalogColumn column{.name = row.text(1), .typeName = row.text(2), .isNullable = !row.flag(3)};
            if (!row.isNull(4)) column.defaultValue = row.text(4);
            column.isGenerated = row.flag(5);
            column.comment = row.text(6);
            column.keyPosition = static_cast<int>(row.number(7));
            relation->columns.push_back(std::move(column));
        });
    }

    Status foreignKeys() {
        const std::string query = fmt::format(
            "SELECT k.conrelid, k.conname, "
            "pg_catalog.array_to_string(ARRAY(SELECT a.attname FROM pg_catalog.unnest(k.conkey) WITH ORDINALITY u(n, "
            "o) "
            "JOIN pg_catalog.pg_attribute a ON a.attrelid = k.conrelid AND a.attnum = u.n ORDER BY u.o), E'\\x1F'), "
            "rn.nspname, r.relname, "
            "pg_catalog.array_to_string(ARRAY(SELECT a.attname FROM pg_catalog.unnest(k.confkey) WITH ORDINALITY u(n, "
            "o) JOIN pg_catalog.pg_attribute a ON a.attrelid = k.confrelid AND a.attnum = u.n ORDER BY u.o), "
            "E'\\x1F'), "
            "k.confdeltype, k.confupdtype "
            "FROM pg_catalog.pg_constraint k JOIN pg_catalog.pg_class c ON c.oid = k.conrelid "
            "JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace "
            "JOIN pg_catalog.pg_class r ON r.oid = k.confrelid "
            "JOIN pg_catalog.pg_namespace rn ON rn.oid = r.relnamespace "
            "WHERE k.contype = 'f' AND NOT {} ORDER BY k.conrelid, k.conname",
            kOwnSchemas);
        return forEach(query, [this](const Row& row) {
            CatalogRelation* relation = find(row.text(0));
            if (relation == nullptr) return;
            relation->foreignKeys.push_back({.name = row.text(1),
                                             .columns = row.names(2),
                                             .schema = row.text(3),
                                             .relation = row.text(4),
                                             .referencedColumns = row.names(5),
                                             .onDelete = actionWord(row.text(6)),
                                             .onUpdate = actionWord(row.text(7))});
        });
    }

    Status indexes() {
        const std::string query = fmt::format(
            "SELECT i.indrelid, x.relname, i.indisunique, i.indisprimary, i.indpred IS NOT NULL, "
            "pg_catalog.array_to_string(ARRAY(SELECT CASE WHEN i.indkey[p] = 0 THEN '(' || "
            "pg_catalog.pg_get_indexdef(i.indexrelid, p + 1, true) || ')' ELSE "
            "pg_catalog.pg_get_indexdef(i.indexrelid, p "
            "+ 1, true) END FROM pg_catalog.generate_series(0, i.indnatts - 1) p ORDER BY p), E'\\x1F') "
            "FROM pg_catalog.pg_index i JOIN pg_catalog.pg_class x ON x.oid = i.indexrelid "
            "JOIN pg_catalog.pg_namespace n ON n.oid = x.relnamespace WHERE NOT {} ORDER BY i.indrelid, x.relname",
            kOwnSchemas);
        return forEach(query, [this](const Row& row) {
            CatalogRelation* relation = find(row.text(0));
            if (relation == nullptr) return;
            relation->indexes.push_back({.name = row.text(1),
                                         .columns = row.names(5),
                                         .isUnique = row.flag(2),
                                         .isPartial = row.flag(4),
                                         .isPrimaryKey = row.flag(3)});
        });
    }

    Status triggers() {
        const std::string query = fmt::format(
            "SELECT t.tgrelid, t.tgname, pg_catalog.pg_get_triggerdef(t.oid, true) FROM pg_catalog.pg_trigger t "
            "JOIN pg_catalog.pg_class c ON c.oid = t.tgrelid JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace "
            "WHERE NOT t.tgisinternal AND NOT {} ORDER BY t.tgrelid, t.tgname",
            kOwnSchemas);
        return forEach(query, [this](const Row& row) {
            CatalogRelation* relation = find(row.text(0));
            if (relation != nullptr) relation->triggers.push_back({row.text(1), row.text(2)});
        });
    }

    static std::string quoted(const std::string& schema, const std::string& name) {
        return sql::quotedName(schema, sql::Dialect::Postgres) + "." + sql::quotedName(name, sql::Dialect::Postgres);
    }

    static std::string actionWord(const std::string& letter) {
        if (letter == "c") return "CASCADE";
        if (letter == "n") return "SET NULL";
        if (letter == "d") return "SET DEFAULT";
        return letter == "r" ? "RESTRICT" : "NO ACTION";
    }

    PostgresLink& link_;
    const base::Cancellation& cancellation_;
    std::vector<std::string> schemas_;
    std::vector<CatalogRelation> relations_;
    std::unordered_map<std::string, std::size_t> index_;  // by oid
};

}  // namespace

Result<CatalogPtr> loadCatalog(PostgresLink& link, const std::string& serverVersion,
                               const base::Cancellation& cancellation) {
    return CatalogReader(link, cancellation).read(serverVersion);
}

}  // namespace pantry::db::postgres
