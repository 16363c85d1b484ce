#include "core/db/drivers/sqlite/catalog.h"

#include <sqlite3.h>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <functional>
#include <set>
#include <unordered_map>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/db/catalog_parts.h"
#include "core/sql/meaning/table_parts.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::sqlite {
namespace {

using Row = sqlite3_stmt*;

/// Reads one schema; the queries' texts are here so that their number can be counted: five, whatever it holds.
class SchemaReader {
public:
    /// Without names all relations are read, else those.
    SchemaReader(sqlite3* db, std::string schema, const std::vector<std::string>& names,
                 const base::Cancellation& cancellation)
        : db_(db),
          schema_(std::move(schema)),
          quoted_(sql::quotedName(schema_, sql::Dialect::Sqlite)),
          literal_(sql::quotedString(schema_, sql::Dialect::Sqlite)),
          isNamed_(isNamed(names)),
          cancellation_(cancellation) {}

    Result<std::vector<catalog::Relation>> read() {
        for (const auto step : {&SchemaReader::relations, &SchemaReader::columns, &SchemaReader::foreignKeys,
                                &SchemaReader::indexes, &SchemaReader::estimates}) {
            if (cancellation_.isRequested()) return Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
            if (Status status = (this->*step)(); !status) return status.error();
        }
        return std::move(relations_);
    }

private:
    static std::string isNamed(const std::vector<std::string>& names) {
        if (names.empty()) return "TRUE";
        std::vector<std::string> literals;
        for (const std::string& name : names) literals.push_back(sql::quotedString(name, sql::Dialect::Sqlite));
        return fmt::format("m.tbl_name COLLATE NOCASE IN ({})", base::joined(literals, ", "));
    }

    Status forEach(const std::string& query, const std::function<void(Row)>& take) {
        auto statement = prepare(db_, query);
        if (!statement) return statement.error();
        for (;;) {
            const int code = sqlite3_step(statement->get());
            if (code == SQLITE_DONE) return {};
            if (code != SQLITE_ROW) return errorOf(db_, code);
            take(statement->get());
        }
    }

    catalog::Relation* find(const std::string& name) {
        const auto found = index_.find(base::toLower(name));
        return found == index_.end() ? nullptr : &relations_[found->second];
    }

    /// Tables and views, and the triggers on them.
    Status relations() {
        const std::string query = fmt::format(
            "SELECT type, name, tbl_name, sql, m.rowid FROM {}.sqlite_schema AS m "
            "WHERE type IN ('table', 'view', 'trigger') AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' AND {} "
            "ORDER BY type = 'trigger', lower(name)",
            quoted_, isNamed_);
        return forEach(query, [this](Row row) {
            const std::string type = textAt(row, 0);
            if (type == "trigger") {
                if (catalog::Relation* owner = find(textAt(row, 2))) {
                    owner->triggers.push_back({textAt(row, 1), textAt(row, 3)});
                }
                return;
            }
            catalog::Relation relation{.schema = schema_, .name = textAt(row, 1)};
            const std::string definition = textAt(row, 3);
            const bool isVirtual = base::startsWithIgnoringCase(definition, "create virtual");
            if (base::findIgnoringCase(definition, "without rowid") != std::string_view::npos) {
                withoutRowId_.insert(relation.name);
            }
            relation.kind = type == "view" ? catalog::ObjectKind::View
                            : isVirtual    ? catalog::ObjectKind::VirtualTable
                                           : catalog::ObjectKind::Table;
            relation.age = static_cast<std::uint64_t>(sqlite3_column_int64(row, 4));
            if (relation.kind == catalog::ObjectKind::Table) noteWritten(relation, definition);
            index_.emplace(base::toLower(relation.name), relations_.size());
            relations_.push_back(std::move(relation));
        });
    }

    /// What only the statement tells: checks, uniqueness, names of keys, generated columns. Most tables say none of it,
    /// and are not read for it.
    void noteWritten(catalog::Relation& relation, const std::string& definition) {
        constexpr auto kTelling = std::to_array<std::string_view>(
            {"check", "unique", "collate", " as ", "as(", "constraint", "autoincrement", "deferrable"});
        const bool tells = std::ranges::any_of(kTelling, [&](std::string_view word) {
            return base::findIgnoringCase(definition, word) != std::string_view::npos;
        });
        if (!tells) return;
        auto parts = sql::tablePartsOf(definition, sql::Dialect::Sqlite);
        if (!parts) return;
        relation.constraints = parts->constraints;
        parts_.emplace(base::toLower(relation.name), std::move(*parts));
    }

    [[nodiscard]] const sql::TableParts* partsOf(const std::string& table) const {
        const auto found = parts_.find(base::toLower(table));
        return found == parts_.end() ? nullptr : &found->second;
    }

    void noteWritten(catalog::Column& column, const std::string& table) const {
        const sql::TableParts* parts = partsOf(table);
        if (parts == nullptr) return;
        const auto found = std::ranges::find(parts->columns, column.name, &sql::TableParts::Column::name);
        if (found == parts->columns.end()) return;
        if (found->countsUp) column.identity = catalog::Identity::ByDefault;
        column.generation = found->generation;
        column.isStored = found->isStored;
        column.collation = found->collation;
    }

    void noteWritten(catalog::ForeignKey& key, const std::string& table) const {
        const sql::TableParts* parts = partsOf(table);
        if (parts == nullptr) return;
        const auto found = std::ranges::find(parts->foreignKeys, key.columns, &sql::TableParts::ForeignKey::columns);
        if (found == parts->foreignKeys.end()) return;
        key.name = found->name;
        key.deferral = found->deferral;
    }

    void takeColumn(Row row) {
        catalog::Relation* relation = find(textAt(row, 0));
        if (relation == nullptr) return;
        const int hidden = sqlite3_column_int(row, 6);
        if (hidden == 1) return;  // a virtual table's hidden column
        relation->columns.push_back({.name = textAt(row, 1),
                                     .typeName = textAt(row, 2),
                                     .isNullable = sqlite3_column_int(row, 3) == 0,
                                     .keyPosition = sqlite3_column_int(row, 5),
                                     .isGenerated = hidden > 1,
                                     .defaultValue = optionalTextAt(row, 4),
                                     .comment = {}});
        noteWritten(relation->columns.back(), relation->name);
    }

    [[nodiscard]] std::string columnQuery(std::string_view where) const {
        return fmt::format(
            "SELECT m.name, c.name, c.type, c.\"notnull\", c.dflt_value, c.pk, c.hidden "
            "FROM {}.sqlite_schema AS m, pragma_table_xinfo(m.name, {}) AS c WHERE {} AND {} ORDER BY m.rowid, c.cid",
            quoted_, literal_, where, isNamed_);
    }

    /// All at once; when a view is broken the engine refuses the whole query, and views are read one by one.
    Status columns() {
        const auto take = [this](Row row) { takeColumn(row); };
        if (Status status = forEach(columnQuery("m.type = 'table'"), take); !status) return status;
        if (forEach(columnQuery("m.type = 'view'"), take)) return {};
        for (catalog::Relation& relation : relations_) {
            if (relation.kind != catalog::ObjectKind::View) continue;
            relation.columns.clear();
            const std::string where =
                "m.type = 'view' AND m.name = " + sql::quotedString(relation.name, sql::Dialect::Sqlite);
            if (Status status = forEach(columnQuery(where), take); !status) relation.problem = status.error().text();
        }
        return {};
    }

    Status foreignKeys() {
        const std::string query = fmt::format(
            "SELECT m.name, k.id, k.\"table\", k.\"from\", k.\"to\", k.on_update, k.on_delete "
            "FROM {}.sqlite_schema AS m, pragma_foreign_key_list(m.name, {}) AS k WHERE m.type = 'table' "
            "AND {} ORDER BY m.rowid, k.id, k.seq",
            quoted_, literal_, isNamed_);
        std::string lastTable;
        int lastId = -1;
        Status status = forEach(query, [&](Row row) {
            catalog::Relation* relation = find(textAt(row, 0));
            if (relation == nullptr) return;
            const int id = sqlite3_column_int(row, 1);
            if (textAt(row, 0) != lastTable || id != lastId) {
                relation->foreignKeys.push_back({.name = {},
                                                 .columns = {},
                                                 .schema = schema_,
                                                 .relation = textAt(row, 2),
                                                 .referencedColumns = {},
                                                 .onDelete = textAt(row, 6),
                                                 .onUpdate = textAt(row, 5)});
            }
            lastTable = textAt(row, 0);
            lastId = id;
            relation->foreignKeys.back().columns.push_back(textAt(row, 3));
            relation->foreignKeys.back().referencedColumns.push_back(textAt(row, 4));
        });
        if (!status) return status;
        nameReferencedKeys();
        for (catalog::Relation& relation : relations_) {
            for (catalog::ForeignKey& key : relation.foreignKeys) noteWritten(key, relation.name);
        }
        return status;
    }

    /// REFERENCES plot without columns means its primary key.
    void nameReferencedKeys() {
        for (catalog::Relation& relation : relations_) {
            for (catalog::ForeignKey& key : relation.foreignKeys) {
                if (std::ranges::none_of(key.referencedColumns, &std::string::empty)) continue;
                const std::vector<std::string> primary = primaryKeyOf(key.relation);
                for (std::size_t i = 0; i < std::min(primary.size(), key.referencedColumns.size()); ++i) {
                    if (key.referencedColumns[i].empty()) key.referencedColumns[i] = primary[i];
                }
            }
        }
    }

    /// Also of a table that is not read now.
    std::vector<std::string> primaryKeyOf(const std::string& name) {
        std::vector<std::string> columns;
        const catalog::Relation* table = find(name);
        if (table == nullptr) {
            (void)forEach(fmt::format("SELECT name FROM pragma_table_xinfo({}, {}) WHERE pk > 0 ORDER BY pk",
                                      sql::quotedString(name, sql::Dialect::Sqlite), literal_),
                          [&](Row row) { columns.push_back(textAt(row, 0)); });
            return columns;
        }
        for (const catalog::Column& c : table->columns) {
            if (c.keyPosition == 0) continue;
            const auto place = static_cast<std::size_t>(c.keyPosition);
            columns.resize(std::max(columns.size(), place));
            columns[place - 1] = c.name;
        }
        return columns;
    }

    Status indexes() {
        const std::string query = fmt::format(
            "SELECT m.name, l.name, l.\"unique\", l.origin, l.partial, i.name, i.cid, CASE WHEN l.partial THEN "
            "(SELECT x.sql FROM {0}.sqlite_schema AS x WHERE x.type = 'index' AND x.name = l.name) END "
            "FROM {0}.sqlite_schema AS m, pragma_index_list(m.name, {1}) AS l, pragma_index_info(l.name, {1}) AS i "
            "WHERE m.type = 'table' AND {2} ORDER BY m.rowid, l.seq, i.seqno",
            quoted_, literal_, isNamed_);
        return forEach(query, [this](Row row) {
            catalog::Relation* relation = find(textAt(row, 0));
            if (relation == nullptr) return;
            const std::string name = textAt(row, 1);
            if (relation->indexes.empty() || relation->indexes.back().name != name) {
                relation->indexes.push_back({.name = name,
                                             .columns = {},
                                             .isUnique = sqlite3_column_int(row, 2) != 0,
                                             .isPartial = sqlite3_column_int(row, 4) != 0,
                                             .isPrimaryKey = textAt(row, 3) == "pk",
                                             .predicate = sql::predicateOf(textAt(row, 7), sql::Dialect::Sqlite)});
            }
            const auto column = optionalTextAt(row, 5);
            const bool isRowId = sqlite3_column_int(row, 6) == -1;
            relation->indexes.back().columns.push_back(column ? *column : isRowId ? "rowid" : "(expression)");
        });
    }

    /// From the statistics that ANALYZE leaves; without them, from the largest rowid, which is found at once.
    Status estimates() {
        const std::string hasStatistics =
            fmt::format("SELECT 1 FROM {}.sqlite_schema WHERE name = 'sqlite_stat1'", quoted_);
        bool isThere = false;
        if (Status status = forEach(hasStatistics, [&](Row) { isThere = true; }); !status) return status;
        if (isThere) {
            const std::string query =
                fmt::format("SELECT tbl, max(CAST(stat AS INTEGER)) FROM {}.sqlite_stat1 GROUP BY tbl", quoted_);
            (void)forEach(query, [this](Row row) {
                if (catalog::Relation* relation = find(textAt(row, 0)))
                    relation->rowEstimate = sqlite3_column_int64(row, 1);
            });
        }
        std::string query;
        for (const catalog::Relation& relation : relations_) {
            if (relation.rowEstimate || relation.kind != catalog::ObjectKind::Table ||
                withoutRowId_.contains(relation.name))
                continue;
            if (!query.empty()) query += " UNION ALL ";
            query += fmt::format("SELECT {}, (SELECT max(rowid) FROM {}.{})",
                                 sql::quotedString(relation.name, sql::Dialect::Sqlite), quoted_,
                                 sql::quotedName(relation.name, sql::Dialect::Sqlite));
            if (++inQuery_ % kTablesPerQuery == 0) {
                if (Status status = takeEstimates(query); !status) return status;
                query.clear();
            }
        }
        return query.empty() ? Status() : takeEstimates(query);
    }

    /// A table whose statistics cannot be had is shown without them; that is no failure.
    Status takeEstimates(const std::string& query) {
        (void)forEach(query, [this](Row row) {
            if (catalog::Relation* relation = find(textAt(row, 0)))
                relation->rowEstimate = sqlite3_column_int64(row, 1);
        });
        return {};
    }

    static constexpr std::size_t kTablesPerQuery = 400;  // the engine's limit is 500 terms of a compound SELECT

    sqlite3* db_;
    std::string schema_;
    std::string quoted_;
    std::string literal_;
    std::string isNamed_;  // the condition on m, a row of the schema table
    const base::Cancellation& cancellation_;
    std::vector<catalog::Relation> relations_;
    std::unordered_map<std::string, std::size_t> index_;
    std::set<std::string> withoutRowId_;
    std::unordered_map<std::string, sql::TableParts> parts_;  // by name in small letters, of those that tell some
    std::size_t inQuery_ = 0;
};

Result<std::vector<std::string>> schemaNames(sqlite3* db) {
    auto statement = prepare(db, "SELECT name FROM pragma_database_list ORDER BY seq");
    if (!statement) return statement.error();
    std::vector<std::string> names;
    int code = sqlite3_step(statement->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(statement->get())) names.push_back(textAt(statement->get(), 0));
    if (code != SQLITE_DONE) return errorOf(db, code);
    return names;
}

}  // namespace

Result<catalog::CatalogPtr> loadCatalog(sqlite3* db, std::string serverVersion, const catalog::Request& request,
                                        const base::Cancellation& cancellation) {
    auto names = schemaNames(db);
    if (!names) return names.error();
    std::vector<catalog::Schema> schemas;
    for (const std::string& name : *names) schemas.push_back({.name = name});
    const std::vector<std::string> wanted = schemasToRead(request, schemas, *names);
    const std::vector<std::string> relationNames = namesToRead(request, catalog::Views::Follow);
    std::vector<CatalogPart> parts;
    for (catalog::Schema& schema : schemas) {
        if (std::ranges::find(wanted, schema.name) == wanted.end()) continue;
        parts.push_back({schema.name,
                         [&schema, db, &relationNames, &cancellation]() -> Status {
                             auto relations = SchemaReader(db, schema.name, relationNames, cancellation).read();
                             schema.isLoaded = true;
                             if (!relations) return relations.error();
                             schema.relations = std::move(*relations);
                             return {};
                         },
                         schema.name == "main"});
    }
    std::string problem;
    if (Status status = readParts(parts, request, cancellation, problem); !status) return status.error();
    for (catalog::Schema& schema : schemas) schema.problem = schema.relations.empty() ? problem : std::string();
    return mergeCatalog({.serverVersion = std::move(serverVersion), .searchPath = std::move(*names)},
                        std::move(schemas), request.known, relationNames);
}

}  // namespace pantry::db::sqlite
