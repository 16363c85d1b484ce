#include <fmt/format.h>

#include <cstdlib>
#include <functional>
#include <unordered_map>

#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/db/drivers/mariadb/link.h"
#include "core/sql/lexer.h"

namespace pantry::db::mariadb {
namespace {

constexpr std::string_view kOwnSchemas = "('information_schema', 'performance_schema', 'mysql', 'sys')";

/// Reads everything in six queries, however much there is.
class CatalogReader {
public:
    CatalogReader(MariaDbLink& link, const base::Cancellation& cancellation)
        : link_(link), cancellation_(cancellation) {}

    Result<CatalogPtr> read(const std::string& serverVersion) {
        for (const auto step :
             {&CatalogReader::schemas, &CatalogReader::relations, &CatalogReader::views, &CatalogReader::columns,
              &CatalogReader::foreignKeys, &CatalogReader::indexes, &CatalogReader::triggers}) {
            if (cancellation_.isRequested()) return stopped();
            if (Status status = (this->*step)(); !status) return status.error();
        }
        return std::make_shared<const Catalog>(serverVersion, std::move(schemas_), std::move(relations_));
    }

private:
    using Texts = std::vector<std::optional<std::string>>;

    Status forEach(const std::string& query, std::size_t width, const std::function<void(const Texts&)>& take) {
        return link_.ask(query, [&](MYSQL_ROW row, const unsigned long* lengths) {
            Texts texts(width);
            for (std::size_t i = 0; i < width; ++i) {
                if (row[i] != nullptr) texts[i] = std::string(row[i], lengths[i]);
            }
            take(texts);
        });
    }

    CatalogRelation* find(const Texts& row) {
        const auto found = index_.find(row[0].value_or("") + "." + row[1].value_or(""));
        return found == index_.end() ? nullptr : &relations_[found->second];
    }

    /// The one where names are looked for without a schema comes first.
    Status schemas() {
        return forEach(fmt::format("SELECT schema_name FROM information_schema.schemata WHERE schema_name NOT IN {} "
                                   "ORDER BY schema_name <> COALESCE(DATABASE(), ''), schema_name",
                                   kOwnSchemas),
                       1, [this](const Texts& row) { schemas_.push_back(row[0].value_or("")); });
    }

    Status relations() {
        return forEach(
            fmt::format("SELECT table_schema, table_name, table_type, table_rows, table_comment "
                        "FROM information_schema.tables WHERE table_schema NOT IN {} ORDER BY lower(table_name)",
                        kOwnSchemas),
            5, [this](const Texts& row) {
                CatalogRelation relation{.schema = row[0].value_or(""), .name = row[1].value_or("")};
                const bool isView = row[2].value_or("").find("VIEW") != std::string::npos;
                relation.kind = isView ? RelationKind::View : RelationKind::Table;
                if (!isView && row[3]) relation.rowEstimate = std::atoll(row[3]->c_str());
                if (!isView) relation.comment = row[4].value_or("");
                index_[relation.schema + "." + relation.name] = relations_.size();
                relations_.push_back(std::move(relation));
            });
    }

    Status views() {
        return forEach(fmt::format("SELECT table_schema, table_name, view_definition FROM information_schema.views "
                                   "WHERE table_schema NOT IN {}",
                                   kOwnSchemas),
                       3, [this](const Texts& row) {
                           CatalogRelation* relation = find(row);
                           if (relation == nullptr || !row[2] || row[2]->empty()) return;
                           relation->definition = fmt::format("CREATE VIEW {} AS\n{}", quoted(relation->name), *row[2]);
                       });
    }

    Status columns() {
        return forEach(
            fmt::format("SELECT table_schema, table_name, column_name, column_type, is_nullable, column_default, "
                        "generation_expression, column_comment FROM information_schema.columns "
                        "WHERE table_schema NOT IN {} ORDER BY table_schema, table_name, ordinal_position",
                        kOwnSchemas),
            8, [this](const Texts& row) {
                CatalogRelation* relation = find(row);
                if (relation == nullptr) return;
                CatalogColumn column{.name = row[2].value_or(""), .typeName = row[3].value_or("")};
                column.isNullable = row[4] == "YES";
                if (row[5] && *row[5] != "NULL") column.defaultValue = row[5];
                column.isGenerated = row[6] && !row[6]->empty();
                column.comment = row[7].value_or("");
                relation->columns.push_back(std::move(column));
            });
    }

    Status foreignKeys() {
        return forEach(
            fmt::format("SELECT k.table_schema, k.table_name, k.constraint_name, k.column_name, "
                        "k.referenced_table_schema, k.referenced_table_name, k.referenced_column_name, r.delete_rule, "
                        "r.update_rule FROM information_schema.key_column_usage k "
                        "JOIN information_schema.referential_constraints r "
                        "ON r.constraint_schema = k.constraint_schema AND r.constraint_name = k.constraint_name "
                        "AND r.table_name = k.table_name "
                        "WHERE k.referenced_table_name IS NOT NULL AND k.table_schema NOT IN {} "
                        "ORDER BY k.table_schema, k.table_name, k.constraint_name, k.ordinal_position",
                        kOwnSchemas),
            9, [this](const Texts& row) {
                CatalogRelation* relation = find(row);
                if (relation == nullptr) return;
                auto& keys = relation->foreignKeys;
                if (keys.empty() || keys.back().name != row[2]) {
                    keys.push_back({.name = row[2].value_or(""),
                                    .schema = row[4].value_or(""),
                                    .relation = row[5].value_or(""),
                                    .onDelete = row[7].value_or(""),
                                    .onUpdate = row[8].value_or("")});
                }
                keys.back().columns.push_back(row[3].value_or(""));
                keys.back().referencedColumns.push_back(row[6].value_or(""));
            });
    }

    Status indexes() {
        return forEach(
            fmt::format("SELECT table_schema, table_name, index_name, non_unique, column_name, seq_in_index "
                        "FROM information_schema.statistics WHERE table_schema NOT IN {} "
                        "ORDER BY table_schema, table_name, index_name <> 'PRIMARY', index_name, seq_in_index",
                        kOwnSchemas),
            6, [this](const Texts& row) {
                CatalogRelation* relation = find(row);
                if (relation == nullptr) return;
                auto& indexes = relation->indexes;
                const std::string name = row[2].value_or("");
                if (indexes.empty() || indexes.back().name != name) {
                    indexes.push_back({.name = name, .isUnique = row[3] == "0", .isPrimaryKey = name == "PRIMARY"});
                }
                indexes.back().columns.push_back(row[4].value_or("(expression)"));
                if (name != "PRIMARY") return;
                for (CatalogColumn& column : relation->columns) {
                    if (column.name == row[4]) column.keyPosition = std::atoi(row[5].value_or("0").c_str());
                }
            });
    }

    Status triggers() {
        return forEach(fmt::format("SELECT event_object_schema, event_object_table, trigger_name, action_timing, "
                                   "event_manipulation, action_statement FROM information_schema.triggers "
                                   "WHERE trigger_schema NOT IN {} ORDER BY trigger_name",
                                   kOwnSchemas),
                       6, [this](const Texts& row) {
                           CatalogRelation* relation = find(row);
                           if (relation == nullptr) return;
                           const auto part = [&](std::size_t i) { return row[i].value_or(""); };
                           relation->triggers.push_back(
                               {part(2), fmt::format("CREATE TRIGGER {} {} {} ON {} FOR EACH ROW\n{}", quoted(part(2)),
                                                     part(3), part(4), quoted(part(1)), part(5))});
                       });
    }

    static std::string quoted(const std::string& name) { return sql::quotedName(name, sql::Dialect::MySql); }

    MariaDbLink& link_;
    const base::Cancellation& cancellation_;
    std::vector<std::string> schemas_;
    std::vector<CatalogRelation> relations_;
    std::unordered_map<std::string, std::size_t> index_;  // by schema.name
};

}  // namespace

Result<CatalogPtr> loadCatalog(MariaDbLink& link, const std::string& serverVersion,
                               const base::Cancellation& cancellation) {
    return CatalogReader(link, cancellation).read(serverVersion);
}

}  // namespace pantry::db::mariadb
