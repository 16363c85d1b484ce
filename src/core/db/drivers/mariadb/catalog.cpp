#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <functional>
#include <unordered_map>

#include "core/base/joined.h"
#include "core/base/text.h"

#include <mysql.h>

#include "core/db/catalog_parts.h"
#include "core/db/drivers/mariadb/link.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::mariadb {
namespace {

constexpr std::string_view kOwnSchemas = "('information_schema', 'performance_schema', 'mysql', 'sys')";

catalog::ObjectKind relationKind(const std::string& tableType) {
    if (tableType.find("VIEW") != std::string::npos) return catalog::ObjectKind::View;
    return tableType == "SEQUENCE" ? catalog::ObjectKind::Sequence : catalog::ObjectKind::Table;
}

/// Reads the schemas that are wanted in nine queries, however much there is in them; only some of their relations in
/// seven. The server shows only what the user may see.
class CatalogReader {
public:
    CatalogReader(MariaDbLink& link, const catalog::Request& request, const base::Cancellation& cancellation)
        : link_(link),
          request_(request),
          cancellation_(cancellation),
          names_(namesToRead(request, catalog::Views::Follow)) {}

    Result<catalog::CatalogPtr> read(const std::string& serverVersion) {
        facts_.serverVersion = serverVersion;
        facts_.user = link_.state().user;
        facts_.role = link_.state().role;
        std::string problem;
        std::vector<CatalogPart> parts{
            {"schemas", [this] { return schemas(); }, true},   {"tables", [this] { return relations(); }, true},
            {"columns", [this] { return columns(); }},         {"foreign keys", [this] { return foreignKeys(); }},
            {"constraints", [this] { return constraints(); }}, {"indexes", [this] { return indexes(); }},
            {"triggers", [this] { return triggers(); }},
        };
        if (names_.empty()) {
            parts.push_back({"routines", [this] { return routines(); }});
            parts.push_back({"events", [this] { return events(); }});
        }
        if (Status status = readParts(parts, request_, cancellation_, problem); !status) return status.error();
        for (catalog::Schema& schema : schemas_) {
            if (schema.isLoaded) schema.problem = problem;
        }
        return mergeCatalog(std::move(facts_), std::move(schemas_), request_.known, names_);
    }

private:
    /// Where only some relations are read: a column with the names of relations is to hold one of them.
    [[nodiscard]] std::string isNamed(std::string_view column) const {
        if (names_.empty()) return "TRUE";
        std::vector<std::string> literals;
        for (const std::string& name : names_) literals.push_back(sql::quotedString(name, sql::Dialect::MySql));
        return fmt::format("{} IN ({})", column, base::joined(literals, ", "));
    }

    Status forEach(const std::string& query, std::size_t width, const std::function<void(const TextRow&)>& take) {
        return link_.ask(query, [&](MYSQL_ROW row, const unsigned long* lengths) {
            TextRow texts(width);
            for (std::size_t i = 0; i < width; ++i) {
                if (row[i] != nullptr) texts[i] = std::string(row[i], lengths[i]);
            }
            take(texts);
        });
    }

    catalog::Relation* find(const TextRow& row) {
        const auto found = index_.find(row[0].value_or("") + '\0' + row[1].value_or(""));
        if (found == index_.end()) return nullptr;
        return &schemas_[found->second.first].relations[found->second.second];
    }
    catalog::Schema* schemaOf(const TextRow& row) {
        const auto found = schemaIndex_.find(row[0].value_or(""));
        return found == schemaIndex_.end() ? nullptr : &schemas_[found->second];
    }

    /// The one where names are looked for without a schema comes first, the engine's own last.
    Status schemas() {
        Status status = forEach(fmt::format("SELECT schema_name, schema_name IN {0}, schema_name = DATABASE() "
                                            "FROM information_schema.schemata ORDER BY schema_name IN {0}, "
                                            "schema_name <> COALESCE(DATABASE(), ''), schema_name",
                                            kOwnSchemas),
                                3, [this](const TextRow& row) {
                                    schemas_.push_back({.name = row[0].value_or(""), .isOwn = row[1] == "1"});
                                    if (row[2] == "1") facts_.searchPath.push_back(schemas_.back().name);
                                });
        if (!status) return status;
        const std::vector<std::string> wanted = schemasToRead(request_, schemas_, facts_.searchPath);
        for (std::size_t i = 0; i < schemas_.size(); ++i) {
            if (std::ranges::find(wanted, schemas_[i].name) == wanted.end()) continue;
            schemas_[i].isLoaded = true;
            schemaIndex_[schemas_[i].name] = i;
            wanted_ += (wanted_.empty() ? "" : ",") + sql::quotedString(schemas_[i].name, sql::Dialect::MySql);
        }
        if (wanted_.empty()) wanted_ = "''";
        return {};
    }

    Status relations() {
        return forEach(
            fmt::format("SELECT table_schema, table_name, table_type, table_rows, table_comment, "
                        "data_length + index_length, UNIX_TIMESTAMP(create_time), table_collation FROM "
                        "information_schema.tables WHERE table_schema IN ({}) "
                        "AND ({} OR table_type = 'SEQUENCE') ORDER BY CAST(lower(table_name) AS BINARY), table_name",
                        wanted_, isNamed("table_name")),
            8, [this](const TextRow& row) {
                catalog::Schema* schema = schemaOf(row);
                if (schema == nullptr) return;
                const catalog::ObjectKind kind = relationKind(row[2].value_or(""));
                if (kind == catalog::ObjectKind::Sequence) {
                    schema->objects.push_back({.schema = schema->name, .name = row[1].value_or(""), .kind = kind});
                    return;
                }
                catalog::Relation relation{.schema = schema->name, .name = row[1].value_or(""), .kind = kind};
                if (kind == catalog::ObjectKind::Table) {
                    if (row[3]) relation.rowEstimate = std::atoll(row[3]->c_str());
                    if (row[5]) relation.sizeEstimate = std::atoll(row[5]->c_str());
                    if (row[6]) relation.age = static_cast<std::uint64_t>(std::atoll(row[6]->c_str()));
                    relation.comment = row[4].value_or("");
                    relation.collation = row[7].value_or("");
                } else if (row[4] && *row[4] != "VIEW") {
                    relation.problem = *row[4];  // the server tells here what is wrong with a view
                }
                index_[schema->name + '\0' + relation.name] = {schemaIndex_.at(schema->name), schema->relations.size()};
                schema->relations.push_back(std::move(relation));
            });
    }

    Status columns() {
        return forEach(
            fmt::format("SELECT table_schema, table_name, column_name, column_type, is_nullable, column_default, "
                        "generation_expression, column_comment, extra, collation_name "
                        "FROM information_schema.columns c "
                        "WHERE table_schema IN ({}) AND {} ORDER BY table_schema, table_name, ordinal_position",
                        wanted_, isNamed("table_name")),
            10, [this](const TextRow& row) {
                catalog::Relation* relation = find(row);
                if (relation == nullptr) return;
                catalog::Column column{.name = row[2].value_or(""), .typeName = row[3].value_or("")};
                column.isNullable = row[4] == "YES";
                if (row[5] && *row[5] != "NULL") column.defaultValue = row[5];
                const std::string extra = row[8].value_or("");
                if (extra.find("auto_increment") != std::string::npos) column.identity = catalog::Identity::ByDefault;
                column.isGenerated = row[6] && !row[6]->empty();
                if (column.isGenerated) column.generation = *row[6];
                column.isStored = column.isGenerated && extra.find("STORED") != std::string::npos;
                if (row[9] && row[9] != relation->collation) column.collation = *row[9];
                column.attributes = attributesIn(extra);
                column.comment = row[7].value_or("");
                relation->columns.push_back(std::move(column));
            });
    }

    /// Of what the server says beside a column's type: what a statement that defines it anew has to say again.
    static std::string attributesIn(const std::string& extra) {
        std::string text;
        if (const std::size_t at = extra.find("on update"); at != std::string::npos) {
            text = "ON UPDATE" + extra.substr(at + 9, extra.find(',', at) - at - 9);
        }
        if (extra.find("INVISIBLE") != std::string::npos) text += text.empty() ? "INVISIBLE" : " INVISIBLE";
        return text;
    }

    Status foreignKeys() {
        return forEach(
            fmt::format("SELECT k.table_schema, k.table_name, k.constraint_name, k.column_name, "
                        "k.referenced_table_schema, k.referenced_table_name, k.referenced_column_name, r.delete_rule, "
                        "r.update_rule FROM information_schema.key_column_usage k "
                        "JOIN information_schema.referential_constraints r "
                        "ON r.constraint_schema = k.constraint_schema AND r.constraint_name = k.constraint_name "
                        "AND r.table_name = k.table_name "
                        "WHERE k.referenced_table_name IS NOT NULL AND k.table_schema IN ({}) AND {} "
                        "ORDER BY k.table_schema, k.table_name, k.constraint_name, k.ordinal_position",
                        wanted_, isNamed("k.table_name")),
            9, [this](const TextRow& row) {
                catalog::Relation* relation = find(row);
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

    Status constraints() {
        return forEach(fmt::format("SELECT constraint_schema, table_name, constraint_name, check_clause, level "
                                   "FROM information_schema.check_constraints WHERE constraint_schema IN ({}) "
                                   "AND {} ORDER BY constraint_schema, table_name, constraint_name",
                                   wanted_, isNamed("table_name")),
                       5, [this](const TextRow& row) {
                           catalog::Relation* relation = find(row);
                           if (relation == nullptr) return;
                           // A check of a column has its name.
                           const bool isOfColumn = row[4] == "Column";
                           relation->constraints.push_back(
                               {.name = row[2].value_or(""),
                                .definition = fmt::format("CHECK ({})", row[3].value_or("")),
                                .columns = isOfColumn ? std::vector{row[2].value_or("")} : std::vector<std::string>(),
                                .isOfColumn = isOfColumn});
                       });
    }

    Status indexes() {
        return forEach(
            fmt::format("SELECT table_schema, table_name, index_name, non_unique, column_name, seq_in_index, "
                        "sub_part, index_type "
                        "FROM information_schema.statistics WHERE table_schema IN ({}) AND {} "
                        "ORDER BY table_schema, table_name, index_name <> 'PRIMARY', index_name, seq_in_index",
                        wanted_, isNamed("table_name")),
            8, [this](const TextRow& row) {
                catalog::Relation* relation = find(row);
                if (relation == nullptr) return;
                auto& indexes = relation->indexes;
                const std::string name = row[2].value_or("");
                if (indexes.empty() || indexes.back().name != name) {
                    const std::string method = base::toLower(row[7].value_or(""));
                    indexes.push_back({.name = name,
                                       .isUnique = row[3] == "0",
                                       .isPrimaryKey = name == "PRIMARY",
                                       .method = method == "btree" ? std::string() : method});
                }
                if (row[6]) indexes.back().prefixes.emplace_back(row[4].value_or(""), std::atoi(row[6]->c_str()));
                indexes.back().columns.push_back(row[4].value_or("(expression)"));
                if (name != "PRIMARY") return;
                for (catalog::Column& column : relation->columns) {
                    if (column.name == row[4]) column.keyPosition = std::atoi(row[5].value_or("0").c_str());
                }
            });
    }

    Status triggers() {
        return forEach(fmt::format("SELECT event_object_schema, event_object_table, trigger_name, action_timing, "
                                   "event_manipulation, action_statement FROM information_schema.triggers "
                                   "WHERE trigger_schema IN ({}) AND {} ORDER BY trigger_name",
                                   wanted_, isNamed("event_object_table")),
                       6, [this](const TextRow& row) {
                           catalog::Relation* relation = find(row);
                           if (relation == nullptr) return;
                           const auto part = [&](std::size_t i) { return row[i].value_or(""); };
                           relation->triggers.push_back(
                               {part(2), fmt::format("CREATE TRIGGER {} {} {} ON {} FOR EACH ROW\n{}", quoted(part(2)),
                                                     part(3), part(4), quoted(part(1)), part(5))});
                       });
    }

    /// Parameters come apart from their routines, and are put together here: the server would cut a long list.
    Status routines() {
        std::unordered_map<std::string, std::string> parameters;
        Status read = forEach(
            fmt::format("SELECT specific_schema, specific_name, parameter_mode, parameter_name, dtd_identifier "
                        "FROM information_schema.parameters WHERE specific_schema IN ({}) AND ordinal_position > 0 "
                        "ORDER BY specific_schema, specific_name, ordinal_position",
                        wanted_),
            5, [&](const TextRow& row) {
                std::string& list = parameters[row[0].value_or("") + '\0' + row[1].value_or("")];
                const std::string mode = row[2] && *row[2] != "IN" ? *row[2] + " " : "";
                list += (list.empty() ? "" : ", ") + mode + row[3].value_or("") + " " + row[4].value_or("");
            });
        if (!read) return read;
        return forEach(
            fmt::format("SELECT routine_schema, routine_name, routine_type, dtd_identifier, routine_comment "
                        "FROM information_schema.routines WHERE routine_schema IN ({}) ORDER BY lower(routine_name)",
                        wanted_),
            5, [&](const TextRow& row) {
                catalog::Schema* schema = schemaOf(row);
                if (schema == nullptr) return;
                const bool isFunction = row[2] == "FUNCTION";
                schema->objects.push_back(
                    {.schema = schema->name,
                     .name = row[1].value_or(""),
                     .kind = isFunction ? catalog::ObjectKind::Function : catalog::ObjectKind::Procedure,
                     .signature = parameters[schema->name + '\0' + row[1].value_or("")],
                     .detail = row[3].value_or(""),
                     .comment = row[4].value_or("")});
            });
    }

    Status events() {
        return forEach(
            fmt::format("SELECT event_schema, event_name, COALESCE(concat('every ', interval_value, ' ', "
                        "lower(interval_field)), concat('once, ', execute_at)), event_comment "
                        "FROM information_schema.events WHERE event_schema IN ({}) ORDER BY lower(event_name)",
                        wanted_),
            4, [this](const TextRow& row) {
                catalog::Schema* schema = schemaOf(row);
                if (schema == nullptr) return;
                schema->objects.push_back({.schema = schema->name,
                                           .name = row[1].value_or(""),
                                           .kind = catalog::ObjectKind::Event,
                                           .detail = row[2].value_or(""),
                                           .comment = row[3].value_or("")});
            });
    }

    static std::string quoted(const std::string& name) { return sql::quotedName(name, sql::Dialect::MySql); }

    MariaDbLink& link_;
    const catalog::Request& request_;
    const base::Cancellation& cancellation_;
    std::vector<std::string> names_;  // of the relations to read; none: all of them
    catalog::Facts facts_;
    std::vector<catalog::Schema> schemas_;
    std::string wanted_;                                        // names of the schemas to read, for IN
    std::unordered_map<std::string, std::size_t> schemaIndex_;  // of those to read
    std::unordered_map<std::string, std::pair<std::size_t, std::size_t>> index_;  // schema\0name: where it is
};

}  // namespace

Result<catalog::CatalogPtr> loadCatalog(MariaDbLink& link, const std::string& serverVersion,
                                        const catalog::Request& request, const base::Cancellation& cancellation) {
    return CatalogReader(link, request, cancellation).read(serverVersion);
}

}  // namespace pantry::db::mariadb
