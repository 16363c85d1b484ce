#include <fmt/format.h>

#include "core/base/joined.h"
#include "core/base/text.h"

#include <libpq-fe.h>

#include "core/db/detail_parts.h"
#include "core/db/drivers/postgres/link.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::postgres {
namespace {

std::string asLiteral(std::string_view text) { return sql::quotedString(text, sql::Dialect::Postgres); }

/// pg_catalog stands before every function, so that nobody's own of the same name is called.
constexpr std::string_view kSize = "pg_catalog.pg_size_pretty";

catalog::ObjectKind kindOf(const std::string& letter) {
    if (letter == "v") return catalog::ObjectKind::View;
    if (letter == "m") return catalog::ObjectKind::MaterializedView;
    if (letter == "S") return catalog::ObjectKind::Sequence;
    if (letter == "P") return catalog::ObjectKind::Procedure;
    if (letter == "F") return catalog::ObjectKind::Function;
    return letter == "f" ? catalog::ObjectKind::ForeignTable : catalog::ObjectKind::Table;
}

class DetailsReader {
public:
    DetailsReader(PostgresLink& link, const catalog::ObjectName& object, const base::Cancellation& cancellation)
        : version_(link.versionNumber()),
          object_(object),
          reader_([&link, &cancellation](const std::string& query) { return link.askRows(query, cancellation); }) {}

    catalog::ObjectDetails read() {
        switch (object_.kind) {
            case catalog::ObjectKind::Function:
            case catalog::ObjectKind::Procedure:
            case catalog::ObjectKind::Aggregate: routine(); break;
            case catalog::ObjectKind::Type: type(); break;
            case catalog::ObjectKind::Extension: extension(); break;
            default: relation(); break;
        }
        return std::move(reader_.details);
    }

private:
    void relation() {
        oid_ = reader_.one(fmt::format(
            "SELECT c.oid FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace "
            "WHERE n.nspname = {} AND c.relname = {}",
            asLiteral(object_.schema), asLiteral(object_.name)));
        if (oid_.empty()) {
            reader_.details.problems.push_back("It is not there any more.");
            return;
        }
        if (object_.kind == catalog::ObjectKind::Sequence) return sequence();
        relationFacts();
        indexes();
        grants("pg_catalog.pg_class", "relacl", "relowner", 'r');
        columnGrants();
        rules();
        partitions();
        dependents();
    }

    void relationFacts() {
        reader_.facts(
            {"Owner", "Persistence", "Row security", "Options", "Tablespace", "Partition of"},
            fmt::format("SELECT pg_catalog.pg_get_userbyid(c.relowner), CASE c.relpersistence WHEN 'u' THEN 'unlogged' "
                        "WHEN 't' THEN 'temporary' END, CASE WHEN c.relrowsecurity THEN 'on' END, "
                        "pg_catalog.array_to_string(c.reloptions, ', '), (SELECT s.spcname FROM "
                        "pg_catalog.pg_tablespace s WHERE s.oid = c.reltablespace), (SELECT p.relname || ' ' || "
                        "pg_catalog.pg_get_expr(c.relpartbound, c.oid) FROM pg_catalog.pg_inherits i JOIN "
                        "pg_catalog.pg_class p ON p.oid = i.inhparent WHERE i.inhrelid = c.oid AND c.relispartition) "
                        "FROM pg_catalog.pg_class c WHERE c.oid = {}",
                        oid_));
        if (object_.kind == catalog::ObjectKind::View) return;
        reader_.facts({"Size of the rows", "Size of the indexes", "Size altogether"},
                      fmt::format("SELECT {0}(pg_catalog.pg_table_size({1})), {0}(pg_catalog.pg_indexes_size({1})), "
                                  "{0}(pg_catalog.pg_total_relation_size({1}))",
                                  kSize, oid_));
        reader_.facts(
            {"Live rows", "Dead rows", "Read as a whole", "Read by an index", "Last vacuumed", "Last analysed"},
            fmt::format("SELECT n_live_tup, n_dead_tup, seq_scan, idx_scan, "
                        "pg_catalog.to_char(GREATEST(last_vacuum, last_autovacuum), 'YYYY-MM-DD HH24:MI'), "
                        "pg_catalog.to_char(GREATEST(last_analyze, last_autoanalyze), 'YYYY-MM-DD HH24:MI') "
                        "FROM pg_catalog.pg_stat_all_tables WHERE relid = {}",
                        oid_));
    }

    void indexes() {
        reader_.part("Use of indexes",
                     fmt::format("SELECT x.relname, pg_catalog.pg_relation_size(x.oid), s.idx_scan FROM "
                                 "pg_catalog.pg_index i JOIN pg_catalog.pg_class x ON x.oid = i.indexrelid LEFT JOIN "
                                 "pg_catalog.pg_stat_all_indexes s ON s.indexrelid = x.oid WHERE i.indrelid = {} "
                                 "ORDER BY x.relname",
                                 oid_),
                     [this](const TextRow& row) {
                         reader_.details.indexes.push_back({textOf(row, 0), numberOf(row, 1), numberOf(row, 2)});
                     });
    }

    void grants(std::string_view holder, std::string_view acl, std::string_view owner, char letter) {
        reader_.part(
            "Grants",
            fmt::format("SELECT CASE WHEN x.grantee = 0 THEN 'PUBLIC' ELSE pg_catalog.pg_get_userbyid(x.grantee) END, "
                        "pg_catalog.string_agg(x.privilege_type, ', ' ORDER BY x.privilege_type), x.is_grantable FROM "
                        "{0} o, pg_catalog.aclexplode(COALESCE(o.{1}, pg_catalog.acldefault('{3}', o.{2}))) x "
                        "WHERE o.oid = {4} GROUP BY x.grantee, x.is_grantable ORDER BY x.grantee <> 0, 1",
                        holder, acl, owner, letter, oid_),
            [this](const TextRow& row) {
                reader_.details.grants.push_back({.grantee = textOf(row, 0),
                                                  .privileges = textOf(row, 1),
                                                  .column = {},
                                                  .canGrant = textOf(row, 2) == "t"});
            });
    }

    void columnGrants() {
        reader_.part(
            "Grants on columns",
            fmt::format("SELECT CASE WHEN x.grantee = 0 THEN 'PUBLIC' ELSE pg_catalog.pg_get_userbyid(x.grantee) END, "
                        "pg_catalog.string_agg(x.privilege_type, ', ' ORDER BY x.privilege_type), a.attname, "
                        "x.is_grantable FROM pg_catalog.pg_attribute a, pg_catalog.aclexplode(a.attacl) x WHERE "
                        "a.attrelid = {} AND NOT a.attisdropped GROUP BY x.grantee, a.attname, x.is_grantable "
                        "ORDER BY 3, 1",
                        oid_),
            [this](const TextRow& row) {
                reader_.details.grants.push_back({.grantee = textOf(row, 0),
                                                  .privileges = textOf(row, 1),
                                                  .column = textOf(row, 2),
                                                  .canGrant = textOf(row, 3) == "t"});
            });
    }

    void rules() {
        const auto take = [this](const TextRow& row) {
            reader_.details.rules.push_back({textOf(row, 0), textOf(row, 1)});
        };
        reader_.part(
            "Rules",
            fmt::format("SELECT r.rulename, pg_catalog.pg_get_ruledef(r.oid, true) FROM pg_catalog.pg_rewrite r "
                        "WHERE r.ev_class = {} AND r.rulename <> '_RETURN' ORDER BY 1",
                        oid_),
            take);
        reader_.part(
            "Row policies",
            fmt::format("SELECT p.polname, 'policy ' || p.polname || CASE p.polcmd WHEN 'r' THEN ' for SELECT' "
                        "WHEN 'a' THEN ' for INSERT' WHEN 'w' THEN ' for UPDATE' WHEN 'd' THEN ' for DELETE' "
                        "ELSE '' END || COALESCE(' using ' || pg_catalog.pg_get_expr(p.polqual, p.polrelid), "
                        "'') || COALESCE(' with check ' || pg_catalog.pg_get_expr(p.polwithcheck, p.polrelid), "
                        "'') FROM pg_catalog.pg_policy p WHERE p.polrelid = {} ORDER BY 1",
                        oid_),
            take);
    }

    void partitions() {
        reader_.details.partitionKey = reader_.one(
            fmt::format("SELECT pg_catalog.pg_get_partkeydef(p.partrelid) FROM pg_catalog.pg_partitioned_table p WHERE "
                        "p.partrelid = {}",
                        oid_));
        reader_.part(
            "Partitions",
            fmt::format("SELECT c.relname, COALESCE(pg_catalog.pg_get_expr(c.relpartbound, c.oid), 'inherits'), "
                        "NULLIF(c.reltuples, -1)::pg_catalog.int8 FROM pg_catalog.pg_inherits i JOIN "
                        "pg_catalog.pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = {} ORDER BY 1",
                        oid_),
            [this](const TextRow& row) {
                reader_.details.partitions.push_back({textOf(row, 0), textOf(row, 1), numberOf(row, 2)});
            });
    }

    /// Views and SQL routines by what the server notes of them; bodies of other routines by their text.
    void dependents() {
        const auto relations = [](std::vector<catalog::Neighbour>& into) {
            return [&into](const TextRow& row) {
                const auto kind = kindOf(textOf(row, 2));
                into.push_back({{.kind = kind, .schema = textOf(row, 0), .name = textOf(row, 1)},
                                std::string(catalog::kindName(kind))});
            };
        };
        reader_.part(
            "Views on it",
            fmt::format("SELECT DISTINCT n.nspname, v.relname, v.relkind FROM pg_catalog.pg_depend d JOIN "
                        "pg_catalog.pg_rewrite r ON r.oid = d.objid JOIN pg_catalog.pg_class v ON v.oid = "
                        "r.ev_class JOIN pg_catalog.pg_namespace n ON n.oid = v.relnamespace WHERE d.refobjid = "
                        "{0} AND d.classid = 'pg_catalog.pg_rewrite'::pg_catalog.regclass AND d.refclassid = "
                        "'pg_catalog.pg_class'::pg_catalog.regclass AND v.oid <> {0} ORDER BY 1, 2",
                        oid_),
            relations(reader_.details.usedBy));
        reader_.part(
            "What it reads",
            fmt::format("SELECT DISTINCT n.nspname, t.relname, t.relkind FROM pg_catalog.pg_rewrite r JOIN "
                        "pg_catalog.pg_depend d ON d.objid = r.oid AND d.classid = "
                        "'pg_catalog.pg_rewrite'::pg_catalog.regclass AND d.refclassid = "
                        "'pg_catalog.pg_class'::pg_catalog.regclass JOIN pg_catalog.pg_class t ON t.oid = "
                        "d.refobjid JOIN pg_catalog.pg_namespace n ON n.oid = t.relnamespace WHERE r.ev_class = "
                        "{0} AND t.oid <> {0} ORDER BY 1, 2",
                        oid_),
            relations(reader_.details.uses));
        routinesThatName();
    }

    void routinesThatName() {
        const std::string kind = version_ >= 110000 ? "p.prokind" : "'f'";
        const std::string noted =
            version_ >= 140000 ? fmt::format(
                                     "EXISTS (SELECT FROM pg_catalog.pg_depend d WHERE d.objid = p.oid AND d.classid = "
                                     "'pg_catalog.pg_proc'::pg_catalog.regclass AND d.refobjid = {})",
                                     oid_)
                               : "false";
        reader_.part(
            "Routines that name it",
            fmt::format("SELECT n.nspname, p.proname, pg_catalog.pg_get_function_identity_arguments(p.oid), {}, "
                        "p.prosrc, {} FROM pg_catalog.pg_proc p JOIN pg_catalog.pg_namespace n ON n.oid = "
                        "p.pronamespace WHERE n.nspname !~ '^pg_' AND n.nspname <> 'information_schema' AND "
                        "(pg_catalog.strpos(pg_catalog.lower(p.prosrc), pg_catalog.lower({})) > 0 OR {}) "
                        "ORDER BY 1, 2, 3",
                        kind, noted, asLiteral(object_.name), noted),
            [this](const TextRow& row) {
                const bool isNoted = textOf(row, 5) == "t";
                if (!isNoted && !namesObject(textOf(row, 4), object_.name, sql::Dialect::Postgres)) return;
                const bool isProcedure = textOf(row, 3) == "p";
                reader_.details.usedBy.push_back(
                    {{.kind = isProcedure ? catalog::ObjectKind::Procedure : catalog::ObjectKind::Function,
                      .schema = textOf(row, 0),
                      .name = textOf(row, 1),
                      .signature = textOf(row, 2)},
                     isNoted ? "calls on it" : "names it in its text"});
            });
    }

    void sequence() {
        reader_.facts({"Owner"}, fmt::format("SELECT pg_catalog.pg_get_userbyid(relowner) FROM pg_catalog.pg_class "
                                             "WHERE oid = {}",
                                             oid_));
        reader_.facts({"Type", "Last value", "Begins with", "Smallest", "Largest", "Step", "Kept ready", "Begins anew"},
                      fmt::format("SELECT data_type, last_value, start_value, min_value, max_value, increment_by, "
                                  "cache_size, CASE WHEN cycle THEN 'yes' ELSE 'no' END FROM pg_catalog.pg_sequences "
                                  "WHERE schemaname = {} AND sequencename = {}",
                                  asLiteral(object_.schema), asLiteral(object_.name)));
        grants("pg_catalog.pg_class", "relacl", "relowner", 's');
    }

    void routine() {
        oid_ = reader_.one(fmt::format(
            "SELECT p.oid FROM pg_catalog.pg_proc p JOIN pg_catalog.pg_namespace n ON n.oid = p.pronamespace WHERE "
            "n.nspname = {} AND p.proname = {} ORDER BY pg_catalog.pg_get_function_identity_arguments(p.oid) <> {} "
            "LIMIT 1",
            asLiteral(object_.schema), asLiteral(object_.name), asLiteral(object_.signature)));
        if (oid_.empty()) {
            reader_.details.problems.push_back("It is not there any more.");
            return;
        }
        reader_.facts(
            {"Language", "Volatility", "With nulls", "Runs with the rights of", "In parallel", "Owner", "Settings"},
            fmt::format("SELECT l.lanname, CASE p.provolatile WHEN 'i' THEN 'immutable' WHEN 's' THEN 'stable' ELSE "
                        "'volatile' END, CASE WHEN p.proisstrict THEN 'returns null at once' END, CASE WHEN "
                        "p.prosecdef THEN 'its owner' ELSE 'the caller' END, CASE p.proparallel WHEN 's' THEN 'safe' "
                        "WHEN 'r' THEN 'restricted' ELSE 'unsafe' END, pg_catalog.pg_get_userbyid(p.proowner), "
                        "pg_catalog.array_to_string(p.proconfig, ', ') FROM pg_catalog.pg_proc p JOIN "
                        "pg_catalog.pg_language l ON l.oid = p.prolang WHERE p.oid = {}",
                        oid_));
        parameters();
        grants("pg_catalog.pg_proc", "proacl", "proowner", 'f');
        reader_.part(
            "What it calls on",
            fmt::format("SELECT n.nspname, c.relname, c.relkind FROM pg_catalog.pg_depend d JOIN "
                        "pg_catalog.pg_class c ON c.oid = d.refobjid JOIN pg_catalog.pg_namespace n ON n.oid = "
                        "c.relnamespace WHERE d.objid = {} AND d.classid = "
                        "'pg_catalog.pg_proc'::pg_catalog.regclass AND d.refclassid = "
                        "'pg_catalog.pg_class'::pg_catalog.regclass GROUP BY 1, 2, 3 ORDER BY 1, 2",
                        oid_),
            [this](const TextRow& row) {
                const auto kind = kindOf(textOf(row, 2));
                reader_.details.uses.push_back({{.kind = kind, .schema = textOf(row, 0), .name = textOf(row, 1)},
                                                std::string(catalog::kindName(kind))});
            });
        reader_.part("Triggers that call it",
                     fmt::format("SELECT n.nspname, c.relname, c.relkind, t.tgname FROM pg_catalog.pg_trigger t JOIN "
                                 "pg_catalog.pg_class c ON c.oid = t.tgrelid JOIN pg_catalog.pg_namespace n ON n.oid = "
                                 "c.relnamespace WHERE t.tgfoid = {} AND NOT t.tgisinternal ORDER BY 1, 2, 4",
                                 oid_),
                     [this](const TextRow& row) {
                         reader_.details.usedBy.push_back(
                             {{.kind = kindOf(textOf(row, 2)), .schema = textOf(row, 0), .name = textOf(row, 1)},
                              "trigger " + textOf(row, 3)});
                     });
    }

    void parameters() {
        reader_.part(
            "Parameters",
            fmt::format(
                "SELECT COALESCE(p.proargnames[a.o], ''), pg_catalog.format_type(a.t, NULL), "
                "COALESCE(p.proargmodes[a.o]::pg_catalog.text, 'i'), pg_catalog.pg_get_function_arg_default("
                "p.oid, a.o::pg_catalog.int4) FROM pg_catalog.pg_proc p, "
                "pg_catalog.unnest(COALESCE(p.proallargtypes, p.proargtypes::pg_catalog.oid[])) WITH ORDINALITY "
                "a(t, o) WHERE p.oid = {} ORDER BY a.o",
                oid_),
            [this](const TextRow& row) {
                using Mode = catalog::RoutineParameter::Mode;
                const std::string mode = textOf(row, 2);
                if (mode == "t") return;  // a column of what it returns
                reader_.details.parameters.push_back({.name = textOf(row, 0),
                                                      .typeName = textOf(row, 1),
                                                      .mode = mode == "o"   ? Mode::Out
                                                              : mode == "b" ? Mode::InOut
                                                              : mode == "v" ? Mode::Variadic
                                                                            : Mode::In,
                                                      .defaultValue = row[3]});
            });
        reader_.part("Returns",
                     fmt::format("SELECT pg_catalog.pg_get_function_result(oid), proretset FROM pg_catalog.pg_proc "
                                 "WHERE oid = {}",
                                 oid_),
                     [this](const TextRow& row) {
                         reader_.details.returns = textOf(row, 0);
                         reader_.details.returnsRows = textOf(row, 1) == "t";
                     });
    }

    void type() {
        oid_ = reader_.one(fmt::format(
            "SELECT t.oid FROM pg_catalog.pg_type t JOIN pg_catalog.pg_namespace n ON n.oid = t.typnamespace WHERE "
            "n.nspname = {} AND t.typname = {}",
            asLiteral(object_.schema), asLiteral(object_.name)));
        if (oid_.empty()) {
            reader_.details.problems.push_back("It is not there any more.");
            return;
        }
        reader_.facts({"Owner"}, fmt::format("SELECT pg_catalog.pg_get_userbyid(typowner) FROM pg_catalog.pg_type "
                                             "WHERE oid = {}",
                                             oid_));
        grants("pg_catalog.pg_type", "typacl", "typowner", 'T');
        reader_.part(
            "Columns of the type",
            fmt::format("SELECT n.nspname, c.relname, c.relkind, a.attname FROM pg_catalog.pg_attribute a JOIN "
                        "pg_catalog.pg_class c ON c.oid = a.attrelid JOIN pg_catalog.pg_namespace n ON n.oid = "
                        "c.relnamespace WHERE a.atttypid = {} AND NOT a.attisdropped AND c.relkind IN "
                        "('r', 'p', 'v', 'm', 'f') ORDER BY 1, 2, 4",
                        oid_),
            [this](const TextRow& row) {
                reader_.details.usedBy.push_back(
                    {{.kind = kindOf(textOf(row, 2)), .schema = textOf(row, 0), .name = textOf(row, 1)},
                     "column " + textOf(row, 3)});
            });
    }

    void extension() {
        reader_.facts({"Version", "Newest here", "Owner", "Objects"},
                      fmt::format("SELECT e.extversion, a.default_version, pg_catalog.pg_get_userbyid(e.extowner), "
                                  "(SELECT count(*) FROM pg_catalog.pg_depend d WHERE d.refobjid = e.oid AND d.deptype "
                                  "= 'e') FROM pg_catalog.pg_extension e LEFT JOIN "
                                  "pg_catalog.pg_available_extensions a ON a.name = e.extname WHERE e.extname = {}",
                                  asLiteral(object_.name)));
    }

    int version_;
    const catalog::ObjectName& object_;
    DetailReader reader_;
    std::string oid_;
};

}  // namespace

Result<catalog::ObjectDetails> PostgresLink::details(const catalog::ObjectName& object,
                                                     const base::Cancellation& cancellation) {
    if (!isUsable()) return loseLine(false);
    isCancelling_ = false;
    return DetailsReader(*this, object, cancellation).read();
}

Result<std::vector<catalog::SourceText>> PostgresLink::sources(const std::vector<std::string>& schemas,
                                                               const base::Cancellation& cancellation) {
    if (!isUsable()) return loseLine(false);
    isCancelling_ = false;
    if (schemas.empty()) return std::vector<catalog::SourceText>{};
    std::vector<std::string> literals;
    for (const std::string& schema : schemas) literals.push_back(asLiteral(schema));
    const std::string kind = versionNumber() >= 110000 ? "p.prokind::pg_catalog.text" : "'f'";
    const std::string query = fmt::format(
        "WITH wanted AS (SELECT n.oid, n.nspname FROM pg_catalog.pg_namespace n WHERE n.nspname IN ({})) "
        "SELECT c.relkind::pg_catalog.text, w.nspname, c.relname, '', '', pg_catalog.pg_get_viewdef(c.oid, true) FROM "
        "pg_catalog.pg_class c JOIN wanted w ON w.oid = c.relnamespace WHERE c.relkind IN ('v', 'm') UNION ALL "
        "SELECT CASE {} WHEN 'p' THEN 'P' ELSE 'F' END, w.nspname, p.proname, "
        "pg_catalog.pg_get_function_identity_arguments(p.oid), '', CASE WHEN p.prosrc <> '' THEN p.prosrc ELSE "
        "pg_catalog.pg_get_functiondef(p.oid) END FROM pg_catalog.pg_proc p JOIN wanted w ON w.oid = p.pronamespace "
        "WHERE {} <> 'a' AND {} <> 'w' UNION ALL "
        "SELECT c.relkind::pg_catalog.text, w.nspname, c.relname, '', 'trigger ' || t.tgname, "
        "pg_catalog.pg_get_triggerdef(t.oid, true) FROM pg_catalog.pg_trigger t JOIN pg_catalog.pg_class c ON c.oid = "
        "t.tgrelid JOIN wanted w ON w.oid = c.relnamespace WHERE NOT t.tgisinternal",
        base::joined(literals, ", "), kind, kind, kind);
    const auto rows = askRows(query, cancellation);
    if (!rows) return rows.error();
    std::vector<catalog::SourceText> sources;
    for (const TextRow& row : *rows) {
        sources.push_back({.object = {.kind = kindOf(textOf(row, 0)),
                                      .schema = textOf(row, 1),
                                      .name = textOf(row, 2),
                                      .signature = textOf(row, 3)},
                           .part = textOf(row, 4),
                           .text = textOf(row, 5)});
    }
    return sources;
}

}  // namespace pantry::db::postgres
