#include <fmt/format.h>

#include "core/base/joined.h"
#include "core/db/detail_parts.h"
#include "core/db/drivers/mariadb/link.h"

#include <mysql.h>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::mariadb {
namespace {

std::string literal(std::string_view text) { return sql::quotedString(text, sql::Dialect::MySql); }

class DetailsReader {
public:
    DetailsReader(MariaDbLink& link, const catalog::ObjectName& object)
        : object_(object),
          schema_(literal(object.schema)),
          name_(literal(object.name)),
          reader_([&link](const std::string& query) { return link.askRows(query); }) {}

    catalog::ObjectDetails read() {
        switch (object_.kind) {
            case catalog::ObjectKind::Function:
            case catalog::ObjectKind::Procedure: routine(); break;
            case catalog::ObjectKind::Event: event(); break;
            case catalog::ObjectKind::Sequence: sequence(); break;
            case catalog::ObjectKind::View: view(); break;
            default: table(); break;
        }
        return std::move(reader_.details);
    }

private:
    void table() {
        reader_.facts(
            {"Engine", "Row format", "Collation", "Made", "Last changed", "Next key", "Options"},
            fmt::format("SELECT engine, row_format, table_collation, create_time, update_time, auto_increment, "
                        "create_options FROM information_schema.tables WHERE table_schema = {} AND "
                        "table_name = {}",
                        schema_, name_));
        reader_.part("Sizes",
                     fmt::format("SELECT data_length, index_length, data_free FROM information_schema.tables WHERE "
                                 "table_schema = {} AND table_name = {}",
                                 schema_, name_),
                     [this](const TextRow& row) {
                         reader_.fact("Size of the rows", bytesWords(numberOf(row, 0)));
                         reader_.fact("Size of the indexes", bytesWords(numberOf(row, 1)));
                         if (numberOf(row, 2).value_or(0) > 0) reader_.fact("Free", bytesWords(numberOf(row, 2)));
                     });
        indexUse();
        partitions();
        grants();
        neighbours();
    }

    void view() {
        reader_.facts({"Definer", "Runs with the rights of", "Updatable", "Check option"},
                      fmt::format("SELECT definer, lower(security_type), lower(is_updatable), lower(check_option) FROM "
                                  "information_schema.views WHERE table_schema = {} AND table_name = {}",
                                  schema_, name_));
        grants();
        neighbours();
        const std::string own = reader_.one(fmt::format(
            "SELECT view_definition FROM information_schema.views WHERE table_schema = {} AND table_name = {}", schema_,
            name_));
        // The server keeps a view's text with every name written as `schema`.`table`.
        reader_.part("What it reads",
                     fmt::format("SELECT table_schema, table_name, table_type FROM information_schema.tables WHERE "
                                 "instr({}, concat('`', table_schema, '`.`', table_name, '`')) > 0",
                                 literal(own)),
                     [this](const TextRow& row) {
                         const bool isView = textOf(row, 2) == "VIEW";
                         reader_.details.uses.push_back(
                             {{.kind = isView ? catalog::ObjectKind::View : catalog::ObjectKind::Table,
                               .schema = textOf(row, 0),
                               .name = textOf(row, 1)},
                              isView ? "view" : "table"});
                     });
    }

    /// Sizes and reads are told only by servers that count them, and to users who may look there.
    void indexUse() {
        auto& indexes = reader_.details.indexes;
        const auto entry = [&](const std::string& name) -> catalog::IndexUse& {
            for (catalog::IndexUse& one : indexes) {
                if (one.name == name) return one;
            }
            return indexes.emplace_back(catalog::IndexUse{.name = name, .bytes = {}, .reads = {}});
        };
        const std::string mayLook = reader_.one("SELECT 1 FROM mysql.innodb_index_stats LIMIT 1");
        if (!mayLook.empty()) {
            reader_.part("Sizes of indexes",
                         fmt::format("SELECT index_name, stat_value * @@innodb_page_size FROM mysql.innodb_index_stats "
                                     "WHERE database_name = {} AND table_name = {} AND stat_name = 'size'",
                                     schema_, name_),
                         [&](const TextRow& row) { entry(textOf(row, 0)).bytes = numberOf(row, 1); });
        }
        if (reader_.one("SELECT @@performance_schema") == "1") {
            reader_.part(
                "Use of indexes",
                fmt::format(
                    "SELECT index_name, count_read FROM performance_schema.table_io_waits_summary_by_index_usage "
                    "WHERE object_schema = {} AND object_name = {} AND index_name IS NOT NULL",
                    schema_, name_),
                [&](const TextRow& row) { entry(textOf(row, 0)).reads = numberOf(row, 1); });
        } else if (reader_.one("SELECT @@userstat") == "1") {
            reader_.part("Use of indexes",
                         fmt::format("SELECT index_name, rows_read FROM information_schema.index_statistics WHERE "
                                     "table_schema = {} AND table_name = {}",
                                     schema_, name_),
                         [&](const TextRow& row) { entry(textOf(row, 0)).reads = numberOf(row, 1); });
        }
    }

    void partitions() {
        reader_.part(
            "Partitions",
            fmt::format("SELECT partition_name, partition_method, partition_expression, partition_description, "
                        "table_rows FROM information_schema.partitions WHERE table_schema = {} AND table_name = "
                        "{} AND partition_name IS NOT NULL ORDER BY partition_ordinal_position",
                        schema_, name_),
            [this](const TextRow& row) {
                reader_.details.partitionKey = fmt::format("{} ({})", textOf(row, 1), textOf(row, 2));
                reader_.details.partitions.push_back({textOf(row, 0), textOf(row, 3), numberOf(row, 4)});
            });
    }

    void grants() {
        const std::string where = fmt::format("WHERE table_schema = {} AND table_name = {}", schema_, name_);
        reader_.part(
            "Grants",
            fmt::format(
                "SELECT grantee, group_concat(privilege_type ORDER BY privilege_type SEPARATOR ', '), '', "
                "max(is_grantable) FROM information_schema.table_privileges {0} GROUP BY grantee UNION ALL "
                "SELECT grantee, group_concat(privilege_type ORDER BY privilege_type SEPARATOR ', '), column_name, "
                "max(is_grantable) FROM information_schema.column_privileges {0} GROUP BY grantee, column_name UNION "
                "ALL "
                "SELECT grantee, concat(group_concat(privilege_type ORDER BY privilege_type SEPARATOR ', '), "
                "' on all of the schema'), '', max(is_grantable) FROM information_schema.schema_privileges "
                "WHERE {1} LIKE replace(table_schema, '\\\\_', '_') GROUP BY grantee",
                where, schema_),
            [this](const TextRow& row) {
                reader_.details.grants.push_back({.grantee = textOf(row, 0),
                                                  .privileges = textOf(row, 1),
                                                  .column = textOf(row, 2),
                                                  .canGrant = textOf(row, 3) == "YES"});
            });
    }

    /// Views by what the server notes of them; routines, events and triggers by their texts.
    void neighbours() {
        reader_.part(
            "Views on it",
            fmt::format("SELECT table_schema, table_name FROM information_schema.views WHERE "
                        "instr(view_definition, {}) > 0 ORDER BY 1, 2",
                        literal(fmt::format("`{}`.`{}`", object_.schema, object_.name))),
            [this](const TextRow& row) {
                reader_.details.usedBy.push_back(
                    {{.kind = catalog::ObjectKind::View, .schema = textOf(row, 0), .name = textOf(row, 1)}, "view"});
            });
        const auto named = [this](const TextRow& row) {
            return namesObject(textOf(row, 2), object_.name, sql::Dialect::MySql);
        };
        reader_.part(
            "Routines that name it",
            fmt::format("SELECT routine_name, routine_type, routine_definition FROM information_schema.routines "
                        "WHERE routine_schema = {} AND instr(lower(routine_definition), lower({})) > 0 "
                        "ORDER BY 1",
                        schema_, name_),
            [&](const TextRow& row) {
                if (!named(row)) return;
                const bool isFunction = textOf(row, 1) == "FUNCTION";
                reader_.details.usedBy.push_back(
                    {{.kind = isFunction ? catalog::ObjectKind::Function : catalog::ObjectKind::Procedure,
                      .schema = object_.schema,
                      .name = textOf(row, 0)},
                     "names it in its text"});
            });
        reader_.part("Triggers that name it",
                     fmt::format("SELECT event_object_table, trigger_name, action_statement FROM "
                                 "information_schema.triggers WHERE trigger_schema = {} AND event_object_table <> {} "
                                 "AND instr(lower(action_statement), lower({})) > 0 ORDER BY 2",
                                 schema_, name_, name_),
                     [&](const TextRow& row) {
                         if (!named(row)) return;
                         reader_.details.usedBy.push_back(
                             {{.kind = catalog::ObjectKind::Table, .schema = object_.schema, .name = textOf(row, 0)},
                              "trigger " + textOf(row, 1)});
                     });
        reader_.part(
            "Events that name it",
            fmt::format("SELECT event_name, '', event_definition FROM information_schema.events WHERE "
                        "event_schema = {} AND instr(lower(event_definition), lower({})) > 0 ORDER BY 1",
                        schema_, name_),
            [&](const TextRow& row) {
                if (!named(row)) return;
                reader_.details.usedBy.push_back(
                    {{.kind = catalog::ObjectKind::Event, .schema = object_.schema, .name = textOf(row, 0)}, "event"});
            });
    }

    void routine() {
        const std::string_view type = object_.kind == catalog::ObjectKind::Function ? "FUNCTION" : "PROCEDURE";
        const std::string where = fmt::format("WHERE routine_schema = {} AND routine_name = {} AND routine_type = '{}'",
                                              schema_, name_, type);
        reader_.facts(
            {"Language", "Deterministic", "Data", "Runs with the rights of", "Definer", "Made", "Changed", "SQL mode"},
            "SELECT 'SQL', lower(is_deterministic), lower(sql_data_access), lower(security_type), definer, "
            "created, last_altered, sql_mode FROM information_schema.routines " +
                where);
        reader_.part("Parameters",
                     fmt::format("SELECT parameter_name, dtd_identifier, parameter_mode, ordinal_position FROM "
                                 "information_schema.parameters WHERE specific_schema = {} AND specific_name = {} AND "
                                 "routine_type = '{}' ORDER BY ordinal_position",
                                 schema_, name_, type),
                     [this](const TextRow& row) {
                         if (textOf(row, 3) == "0") {
                             reader_.details.returns = textOf(row, 1);
                             return;
                         }
                         using Mode = catalog::RoutineParameter::Mode;
                         const std::string mode = textOf(row, 2);
                         reader_.details.parameters.push_back({.name = textOf(row, 0),
                                                               .typeName = textOf(row, 1),
                                                               .mode = mode == "OUT"     ? Mode::Out
                                                                       : mode == "INOUT" ? Mode::InOut
                                                                                         : Mode::In,
                                                               .defaultValue = {}});
                     });
        const std::string text = reader_.one("SELECT routine_definition FROM information_schema.routines " + where);
        if (text.empty()) return;
        reader_.part("What it names",
                     fmt::format("SELECT table_name, table_type FROM information_schema.tables WHERE table_schema = {}",
                                 schema_),
                     [&](const TextRow& row) {
                         if (!namesObject(text, textOf(row, 0), sql::Dialect::MySql)) return;
                         const bool isView = textOf(row, 1) == "VIEW";
                         reader_.details.uses.push_back(
                             {{.kind = isView ? catalog::ObjectKind::View : catalog::ObjectKind::Table,
                               .schema = object_.schema,
                               .name = textOf(row, 0)},
                              isView ? "view" : "table"});
                     });
    }

    void event() {
        reader_.facts({"State", "Definer", "Starts", "Ends", "Last ran", "Made", "When it is over"},
                      fmt::format("SELECT lower(status), definer, starts, ends, last_executed, created, "
                                  "lower(on_completion) FROM information_schema.events WHERE event_schema = {} AND "
                                  "event_name = {}",
                                  schema_, name_));
    }

    void sequence() {
        reader_.facts({"Next", "Smallest", "Largest", "Begins with", "Step", "Kept ready", "Begins anew"},
                      fmt::format("SELECT next_not_cached_value, minimum_value, maximum_value, start_value, increment, "
                                  "cache_size, IF(cycle_option, 'yes', 'no') FROM {}.{}",
                                  sql::quotedName(object_.schema, sql::Dialect::MySql),
                                  sql::quotedName(object_.name, sql::Dialect::MySql)));
    }

    const catalog::ObjectName& object_;
    std::string schema_;
    std::string name_;
    DetailReader reader_;
};

}  // namespace

Result<catalog::ObjectDetails> MariaDbLink::details(const catalog::ObjectName& object,
                                                    const base::Cancellation& /*cancellation*/) {
    if (!isUsable()) return lost();
    return DetailsReader(*this, object).read();
}

Result<std::vector<catalog::SourceText>> MariaDbLink::sources(const std::vector<std::string>& schemas,
                                                              const base::Cancellation& /*cancellation*/) {
    if (!isUsable()) return lost();
    if (schemas.empty()) return std::vector<catalog::SourceText>{};
    std::vector<std::string> literals;
    for (const std::string& schema : schemas) literals.push_back(literal(schema));
    const std::string wanted = base::joined(literals, ", ");
    const std::string query = fmt::format(
        "SELECT 'VIEW', table_schema, table_name, '', view_definition FROM information_schema.views WHERE table_schema "
        "IN ({0}) UNION ALL SELECT routine_type, routine_schema, routine_name, '', routine_definition FROM "
        "information_schema.routines WHERE routine_schema IN ({0}) UNION ALL SELECT 'TABLE', trigger_schema, "
        "event_object_table, concat('trigger ', trigger_name), action_statement FROM information_schema.triggers WHERE "
        "trigger_schema IN ({0}) UNION ALL SELECT 'EVENT', event_schema, event_name, '', event_definition FROM "
        "information_schema.events WHERE event_schema IN ({0})",
        wanted);
    const auto rows = askRows(query);
    if (!rows) return rows.error();
    std::vector<catalog::SourceText> sources;
    for (const TextRow& row : *rows) {
        const std::string type = textOf(row, 0);
        const auto kind = type == "VIEW"        ? catalog::ObjectKind::View
                          : type == "FUNCTION"  ? catalog::ObjectKind::Function
                          : type == "PROCEDURE" ? catalog::ObjectKind::Procedure
                          : type == "EVENT"     ? catalog::ObjectKind::Event
                                                : catalog::ObjectKind::Table;
        sources.push_back({.object = {.kind = kind, .schema = textOf(row, 1), .name = textOf(row, 2)},
                           .part = textOf(row, 3),
                           .text = textOf(row, 4)});
    }
    return sources;
}

}  // namespace pantry::db::mariadb
