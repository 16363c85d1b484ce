// How a connection is closed for changes, and what the catalog tells of functions.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/joined.h"
#include "core/db/connecting.h"

#include <libpq-fe.h>

#include "core/db/drivers/postgres/link.h"
#include "core/sql/meaning/harmless_functions.h"

namespace pantry::db::postgres {
namespace {

constexpr std::string_view kSavepoint = "agile_pantry_lock";

/// Functions that fit a call and are volatile, or aggregates that rest on such; operators and, since a.f is read as
/// f(a), names behind a dot, which people define. Everything is named with its schema, so that nobody can stand
/// between.
constexpr std::string_view kVolatile = R"(
WITH called (kind, nspname, name) AS (VALUES {0}),
named AS (
  SELECT c.kind, n.nspname, p.proname, p.oid, p.provolatile, p.prokind, p.pronargs, p.proargtypes, c.name
  FROM called c
  JOIN pg_catalog.pg_proc p ON p.proname OPERATOR(pg_catalog.=) c.name::pg_catalog.name
  JOIN pg_catalog.pg_namespace n ON n.oid OPERATOR(pg_catalog.=) p.pronamespace
  WHERE c.kind OPERATOR(pg_catalog.<>) 'o'
    AND CASE WHEN c.nspname OPERATOR(pg_catalog.=) ''
             THEN n.nspname OPERATOR(pg_catalog.=) ANY (pg_catalog.current_schemas(true))
             WHEN c.nspname OPERATOR(pg_catalog.=) 'pg_temp'
             THEN n.oid OPERATOR(pg_catalog.=) pg_catalog.pg_my_temp_schema()
             ELSE n.nspname OPERATOR(pg_catalog.=) c.nspname::pg_catalog.name END)
SELECT n.nspname, n.proname, EXISTS (
    SELECT 1 FROM pg_catalog.pg_depend d
    WHERE d.classid OPERATOR(pg_catalog.=) 'pg_catalog.pg_proc'::pg_catalog.regclass
      AND d.objid OPERATOR(pg_catalog.=) n.oid AND d.deptype OPERATOR(pg_catalog.=) 'e')
FROM named n
WHERE n.kind OPERATOR(pg_catalog.=) 'f'
  AND (n.provolatile OPERATOR(pg_catalog.=) 'v'
       OR EXISTS (SELECT 1 FROM pg_catalog.pg_aggregate a
                  JOIN pg_catalog.pg_proc s ON s.oid::pg_catalog.oid OPERATOR(pg_catalog.=) ANY
                    (ARRAY[a.aggtransfn::pg_catalog.oid, a.aggfinalfn::pg_catalog.oid, a.aggcombinefn::pg_catalog.oid,
                           a.aggmtransfn::pg_catalog.oid, a.aggminvtransfn::pg_catalog.oid,
                           a.aggmfinalfn::pg_catalog.oid])
                  WHERE a.aggfnoid::pg_catalog.oid OPERATOR(pg_catalog.=) n.oid
                    AND s.provolatile OPERATOR(pg_catalog.=) 'v'))
UNION ALL
SELECT n.nspname, n.proname, false
FROM named n
JOIN pg_catalog.pg_type t ON t.oid OPERATOR(pg_catalog.=) n.proargtypes[0]
WHERE n.kind OPERATOR(pg_catalog.=) 'd' AND n.provolatile OPERATOR(pg_catalog.=) 'v'
  AND n.pronargs OPERATOR(pg_catalog.=) 1::pg_catalog.int2 AND t.typtype OPERATOR(pg_catalog.=) 'c'
UNION ALL
SELECT s.nspname, 'operator ' OPERATOR(pg_catalog.||) o.oprname, false
FROM called c
JOIN pg_catalog.pg_operator o ON o.oprname OPERATOR(pg_catalog.=) c.name::pg_catalog.name
JOIN pg_catalog.pg_proc p ON p.oid OPERATOR(pg_catalog.=) o.oprcode::pg_catalog.oid
JOIN pg_catalog.pg_namespace s ON s.oid OPERATOR(pg_catalog.=) o.oprnamespace
WHERE c.kind OPERATOR(pg_catalog.=) 'o' AND p.provolatile OPERATOR(pg_catalog.=) 'v'
)";

constexpr std::string_view kViews = R"(
SELECT pg_catalog.pg_get_viewdef(r.oid)
FROM (VALUES {0}) AS called (nspname, name)
JOIN pg_catalog.pg_class r ON r.relname OPERATOR(pg_catalog.=) called.name::pg_catalog.name
JOIN pg_catalog.pg_namespace n ON n.oid OPERATOR(pg_catalog.=) r.relnamespace
WHERE r.relkind OPERATOR(pg_catalog.=) 'v'
  AND n.nspname OPERATOR(pg_catalog.<>) ALL (ARRAY['pg_catalog', 'information_schema']::pg_catalog.name[])
  AND CASE WHEN called.nspname OPERATOR(pg_catalog.=) ''
           THEN n.nspname OPERATOR(pg_catalog.=) ANY (pg_catalog.current_schemas(true))
           WHEN called.nspname OPERATOR(pg_catalog.=) 'pg_temp'
           THEN n.oid OPERATOR(pg_catalog.=) pg_catalog.pg_my_temp_schema()
           ELSE n.nspname OPERATOR(pg_catalog.=) called.nspname::pg_catalog.name END
)";

}  // namespace

bool PostgresLink::readsByDefault() const {
    const char* reported = PQparameterStatus(connection_.get(), "default_transaction_read_only");
    return reported == nullptr ? readsByDefault_ : std::string_view(reported) == "on";
}

Status PostgresLink::setReadsByDefault(bool reads, const base::Cancellation& cancellation) {
    auto done = ask(fmt::format("SET default_transaction_read_only = {}", reads ? "on" : "off"), cancellation);
    if (!done) return done.error();
    readsByDefault_ = reads;
    return {};
}

/// Outside a transaction the session reads by default. Inside one a savepoint reads: its end gives the transaction back
/// what it was (PostgreSQL: src/backend/access/transam/xact.c, CommitSubTransaction).
Status PostgresLink::enter(Access access, const base::Cancellation& cancellation) {
    if (!isUsable()) return {};  // running tells it
    access_ = access;
    const TransactionState state = transaction();
    if (access == Access::Reading && state == TransactionState::Open) {
        auto done = ask(fmt::format("SAVEPOINT {0}; SET LOCAL transaction_read_only = on", kSavepoint), cancellation);
        if (!done) return done.error();
        hasSavepoint_ = true;
        return {};
    }
    if (state != TransactionState::None) return {};
    if (access == Access::Reading && !readsByDefault()) {
        if (Status done = setReadsByDefault(true, cancellation); !done) return done;
        isLocked_ = true;
    } else if (access == Access::Changing && readsByDefault()) {
        if (Status done = setReadsByDefault(false, cancellation); !done) return done;
        isReopened_ = true;
    } else if (access == Access::AsIs && isLocked_) {
        if (Status done = setReadsByDefault(false, cancellation); !done) return done;
        isLocked_ = false;
    }
    return {};
}

void PostgresLink::leave(const base::Cancellation& cancellation) {
    const Access access = std::exchange(access_, Access::AsIs);
    const bool hadSavepoint = std::exchange(hasSavepoint_, false);
    const bool wasReopened = std::exchange(isReopened_, false);
    if (!connection_ || PQstatus(connection_.get()) != CONNECTION_OK) return;
    const TransactionState state = transaction();
    const base::Cancellation unstopped;  // the lock closes though the statement was stopped
    if (hadSavepoint && state == TransactionState::Open) {
        (void)ask(fmt::format("RELEASE SAVEPOINT {}", kSavepoint), unstopped);
    }
    if (wasReopened && state == TransactionState::None) (void)setReadsByDefault(true, unstopped);
    if (access == Access::Beginning && state == TransactionState::Open && readsByDefault()) {
        (void)ask("SET TRANSACTION READ WRITE", unstopped);
    }
    (void)cancellation;
}

std::string PostgresLink::literal(std::string_view text) const {
    char* escaped = PQescapeLiteral(connection_.get(), text.data(), text.size());
    std::string out = escaped == nullptr ? "''" : escaped;
    PQfreemem(escaped);
    return out;
}

std::string PostgresLink::valuesOf(const sql::PlainReading& reading) const {
    std::vector<std::string> values;
    const auto add = [&](char kind, std::string_view schema, std::string_view name) {
        values.push_back(fmt::format("('{}', {}, {})", kind, literal(schema), literal(name)));
    };
    for (const sql::CalledName& call : reading.calls) add('f', call.schema, call.name);
    for (const std::string& field : reading.fields) add('d', "", field);
    for (const std::string& op : reading.operators) add('o', "", op);
    std::ranges::sort(values);
    values.erase(std::unique(values.begin(), values.end()), values.end());
    return base::joined(values, ", ");
}

Result<std::vector<std::string>> PostgresLink::viewDefinitions(const std::vector<sql::CalledName>& relations,
                                                               const base::Cancellation& cancellation) {
    std::vector<std::string> values;
    for (const sql::CalledName& r : relations)
        values.push_back(fmt::format("({}, {})", literal(r.schema), literal(r.name)));
    auto rows = ask(fmt::format(fmt::runtime(kViews), base::joined(values, ", ")), cancellation);
    if (!rows) return rows.error();
    std::vector<std::string> definitions;
    for (int row = 0; row < PQntuples(rows->get()); ++row) definitions.emplace_back(PQgetvalue(rows->get(), row, 0));
    return definitions;
}

Result<std::string> PostgresLink::doubtAbout(const sql::PlainReading& statement,
                                             const base::Cancellation& cancellation) {
    // In a transaction that failed nothing but its end is run.
    if (!isUsable() || transaction() == TransactionState::Failed) return std::string();
    isCancelling_ = false;
    auto reading = withViews(statement, sql::Language(sql::Dialect::Postgres, false, state().backslash),
                             [&](const auto& relations) { return viewDefinitions(relations, cancellation); });
    if (!reading) return reading.error();
    if (!reading->isPlain()) return reading->doubt;
    const std::string values = valuesOf(*reading);
    if (values.empty()) return std::string();
    auto rows = ask(fmt::format(fmt::runtime(kVolatile), values), cancellation);
    if (!rows) return rows.error();
    for (int row = 0; row < PQntuples(rows->get()); ++row) {
        const std::string schema = PQgetvalue(rows->get(), row, 0);
        const std::string name = PQgetvalue(rows->get(), row, 1);
        const bool isEngines = schema == "pg_catalog" || PQgetvalue(rows->get(), row, 2) == std::string_view("t");
        if (isEngines && sql::isHarmlessFunction(name, sql::Dialect::Postgres)) continue;
        const std::string full = schema == "pg_catalog" ? name : schema + "." + name;
        return fmt::format("It calls {}{}, which may change something: it is volatile.", full,
                           name.starts_with("operator ") ? "" : "()");
    }
    return std::string();
}

}  // namespace pantry::db::postgres
