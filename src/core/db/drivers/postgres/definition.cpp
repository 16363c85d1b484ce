#include <fmt/format.h>

#include "core/db/drivers/postgres/definition_reader.h"

#include <libpq-fe.h>

#include "core/sql/text/lexer.h"

namespace pantry::db::postgres {
namespace {

constexpr int kOldestVersion = 130000;
constexpr int kFirstWithMultiranges = 140000;

Error missing(const catalog::ObjectName& object) {
    return {
        .kind = ErrorKind::NotFound,
        .message = fmt::format("There is no {} {} in schema {}.", kindName(object.kind), object.name, object.schema)};
}

std::string literal(std::string_view text) { return sql::quotedString(text, sql::Dialect::Postgres); }

/// The one text that a query gives.
Result<std::string> oneText(DefinitionReader& reader, const std::string& query, const catalog::ObjectName& object) {
    auto found = reader.texts(query);
    if (!found) return found.error();
    if (found->empty()) return missing(object);
    return found->front();
}

/// An aggregate's statement, which the server does not put together itself.
std::string aggregateQuery(const std::string& oid) {
    return fmt::format(
        R"(SELECT pg_catalog.format(E'CREATE AGGREGATE %I.%I(%s) (\n    SFUNC = %s,\n    STYPE = %s%s\n);',
    n.nspname, p.proname, COALESCE(NULLIF(pg_catalog.pg_get_function_arguments(p.oid), ''), '*'),
    a.aggtransfn::pg_catalog.regproc, pg_catalog.format_type(a.aggtranstype, NULL),
    CASE WHEN a.aggtransspace <> 0 THEN pg_catalog.format(E',\n    SSPACE = %s', a.aggtransspace) ELSE '' END
    || CASE WHEN a.aggfinalfn <> 0 THEN pg_catalog.format(E',\n    FINALFUNC = %s', a.aggfinalfn::pg_catalog.regproc) ELSE '' END
    || CASE WHEN a.aggfinalextra THEN E',\n    FINALFUNC_EXTRA' ELSE '' END
    || CASE WHEN a.aggcombinefn <> 0 THEN pg_catalog.format(E',\n    COMBINEFUNC = %s', a.aggcombinefn::pg_catalog.regproc) ELSE '' END
    || CASE WHEN a.aggserialfn <> 0 THEN pg_catalog.format(E',\n    SERIALFUNC = %s', a.aggserialfn::pg_catalog.regproc) ELSE '' END
    || CASE WHEN a.aggdeserialfn <> 0 THEN pg_catalog.format(E',\n    DESERIALFUNC = %s', a.aggdeserialfn::pg_catalog.regproc) ELSE '' END
    || CASE WHEN a.agginitval IS NOT NULL THEN pg_catalog.format(E',\n    INITCOND = %L', a.agginitval) ELSE '' END
    || CASE WHEN a.aggmtransfn <> 0 THEN pg_catalog.format(E',\n    MSFUNC = %s,\n    MINVFUNC = %s,\n    MSTYPE = %s',
        a.aggmtransfn::pg_catalog.regproc, a.aggminvtransfn::pg_catalog.regproc, pg_catalog.format_type(a.aggmtranstype, NULL)) ELSE '' END
    || CASE WHEN a.aggmfinalfn <> 0 THEN pg_catalog.format(E',\n    MFINALFUNC = %s', a.aggmfinalfn::pg_catalog.regproc) ELSE '' END
    || CASE WHEN a.aggminitval IS NOT NULL THEN pg_catalog.format(E',\n    MINITCOND = %L', a.aggminitval) ELSE '' END
    || CASE WHEN a.aggsortop <> 0 THEN pg_catalog.format(E',\n    SORTOP = %s', a.aggsortop::pg_catalog.regoper) ELSE '' END
    || CASE p.proparallel WHEN 's' THEN E',\n    PARALLEL = SAFE' WHEN 'r' THEN E',\n    PARALLEL = RESTRICTED' ELSE '' END
    || CASE WHEN a.aggkind = 'h' THEN E',\n    HYPOTHETICAL' ELSE '' END)
FROM pg_catalog.pg_aggregate a JOIN pg_catalog.pg_proc p ON p.oid = a.aggfnoid
JOIN pg_catalog.pg_namespace n ON n.oid = p.pronamespace WHERE p.oid = {})",
        oid);
}

/// A type's statement, by what it is.
std::string typeQuery(const std::string& oid, const std::string& letter, int version) {
    if (letter == "e") {
        return fmt::format(
            R"(SELECT pg_catalog.format(E'CREATE TYPE %I.%I AS ENUM (%s);', n.nspname, t.typname,
    (SELECT pg_catalog.string_agg(E'\n    ' || pg_catalog.quote_literal(e.enumlabel), ',' ORDER BY e.enumsortorder) || E'\n'
     FROM pg_catalog.pg_enum e WHERE e.enumtypid = t.oid))
FROM pg_catalog.pg_type t JOIN pg_catalog.pg_namespace n ON n.oid = t.typnamespace WHERE t.oid = {})",
            oid);
    }
    if (letter == "c") {
        return fmt::format(
            R"(SELECT pg_catalog.format(E'CREATE TYPE %I.%I AS (%s);', n.nspname, t.typname,
    (SELECT pg_catalog.string_agg(pg_catalog.format(E'\n    %I %s%s', a.attname,
        pg_catalog.format_type(a.atttypid, a.atttypmod),
        CASE WHEN a.attcollation <> 0 AND a.attcollation <> u.typcollation
             THEN ' COLLATE ' || a.attcollation::pg_catalog.regcollation::text ELSE '' END), ',' ORDER BY a.attnum) || E'\n'
     FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_type u ON u.oid = a.atttypid
     WHERE a.attrelid = t.typrelid AND a.attnum > 0 AND NOT a.attisdropped))
FROM pg_catalog.pg_type t JOIN pg_catalog.pg_namespace n ON n.oid = t.typnamespace WHERE t.oid = {})",
            oid);
    }
    if (letter == "r") {
        return fmt::format(
            R"(SELECT pg_catalog.format(E'CREATE TYPE %I.%I AS RANGE (\n    SUBTYPE = %s,\n    SUBTYPE_OPCLASS = %I.%I%s\n);',
    n.nspname, t.typname, pg_catalog.format_type(r.rngsubtype, NULL), on_.nspname, o.opcname,
    CASE WHEN m.typname <> t.typname || '_multirange' THEN E',\n    MULTIRANGE_TYPE_NAME = ' || pg_catalog.quote_ident(m.typname) ELSE '' END
    || CASE WHEN r.rngcollation <> 0 THEN E',\n    COLLATION = ' || r.rngcollation::pg_catalog.regcollation::text ELSE '' END
    || CASE WHEN r.rngsubdiff <> 0 THEN E',\n    SUBTYPE_DIFF = ' || r.rngsubdiff::pg_catalog.regproc::text ELSE '' END)
FROM pg_catalog.pg_range r JOIN pg_catalog.pg_type t ON t.oid = r.rngtypid
LEFT JOIN pg_catalog.pg_type m ON m.oid = {}
JOIN pg_catalog.pg_namespace n ON n.oid = t.typnamespace
JOIN pg_catalog.pg_opclass o ON o.oid = r.rngsubopc JOIN pg_catalog.pg_namespace on_ ON on_.oid = o.opcnamespace
WHERE t.oid = {})",
            version >= kFirstWithMultiranges ? "r.rngmultitypid" : "0", oid);
    }
    return fmt::format(
        R"(SELECT pg_catalog.format(E'CREATE DOMAIN %I.%I AS %s%s;', n.nspname, t.typname,
    pg_catalog.format_type(t.typbasetype, t.typtypmod),
    CASE WHEN t.typcollation <> 0 AND t.typcollation <> b.typcollation
         THEN ' COLLATE ' || t.typcollation::pg_catalog.regcollation::text ELSE '' END
    || CASE WHEN t.typdefault IS NOT NULL THEN E'\n    DEFAULT ' || COALESCE(pg_catalog.pg_get_expr(t.typdefaultbin, 0), t.typdefault) ELSE '' END
    || CASE WHEN t.typnotnull THEN E'\n    NOT NULL' ELSE '' END
    || COALESCE((SELECT pg_catalog.string_agg(pg_catalog.format(E'\n    CONSTRAINT %I %s', k.conname,
           pg_catalog.pg_get_constraintdef(k.oid)), '' ORDER BY k.conname)
        FROM pg_catalog.pg_constraint k WHERE k.contypid = t.oid AND k.contype = 'c' AND k.convalidated), ''))
FROM pg_catalog.pg_type t JOIN pg_catalog.pg_namespace n ON n.oid = t.typnamespace
JOIN pg_catalog.pg_type b ON b.oid = t.typbasetype WHERE t.oid = {})",
        oid);
}

}  // namespace

Result<std::vector<std::string>> DefinitionReader::texts(const std::string& query) {
    auto rows = link_.ask(query, cancellation_);
    if (!rows) return rows.error();
    std::vector<std::string> out;
    for (int i = 0; i < PQntuples(rows->get()); ++i) {
        if (PQgetisnull(rows->get(), i, 0) == 0) out.emplace_back(PQgetvalue(rows->get(), i, 0));
    }
    return out;
}

Status DefinitionReader::append(const std::string& query, std::string& out) {
    auto lines = texts(query);
    if (!lines) return lines.error();
    for (const std::string& line : *lines) out += line + "\n";
    return {};
}

/// Grants are told as what differs from the engine's own default for such an object.
Status DefinitionReader::appendRights(const DefinedObject& object, std::string_view ownerColumn,
                                      std::string_view aclColumn, char aclLetter, std::string& out) {
    const std::string from = fmt::format("pg_catalog.{} o", object.holder);
    const std::string name = literal(object.name);
    const std::string owner = fmt::format(
        "SELECT pg_catalog.format('ALTER {} %s OWNER TO %I;', {}, pg_catalog.pg_get_userbyid(o.{})) "
        "FROM {} WHERE o.oid = {}",
        object.word, name, ownerColumn, from, object.oid);
    if (Status status = append(owner, out); !status) return status;
    const std::string comment = fmt::format(
        "SELECT pg_catalog.format('COMMENT ON {} %s IS %L;', {}, d.description) "
        "FROM pg_catalog.pg_description d WHERE d.objoid = {} AND d.objsubid = 0 "
        "AND d.classoid = 'pg_catalog.{}'::pg_catalog.regclass",
        object.word, name, object.oid, object.holder);
    if (Status status = append(comment, out); !status) return status;
    const std::string grants = fmt::format(
        R"(WITH held AS (SELECT x.* FROM {from}, pg_catalog.aclexplode(o.{acl}) x WHERE o.oid = {oid}),
usual AS (SELECT x.* FROM {from}, pg_catalog.aclexplode(pg_catalog.acldefault('{letter}', o.{owner})) x
          WHERE o.oid = {oid} AND o.{acl} IS NOT NULL),
revoked AS (SELECT DISTINCT u.grantee FROM usual u WHERE NOT EXISTS (SELECT FROM held h
            WHERE h.grantee = u.grantee AND h.privilege_type = u.privilege_type)),
given AS (SELECT h.* FROM held h WHERE h.grantee IN (SELECT grantee FROM revoked) OR NOT EXISTS (SELECT FROM usual u
          WHERE u.grantee = h.grantee AND u.privilege_type = h.privilege_type AND u.is_grantable = h.is_grantable))
SELECT s FROM (
SELECT 0 AS part, grantee, false AS g, pg_catalog.format('REVOKE ALL ON {word} %s FROM %s;', {name},
    CASE WHEN grantee = 0 THEN 'PUBLIC' ELSE pg_catalog.quote_ident(pg_catalog.pg_get_userbyid(grantee)) END) AS s FROM revoked
UNION ALL
SELECT 1, grantee, is_grantable, pg_catalog.format('GRANT %s ON {word} %s TO %s%s;',
    pg_catalog.string_agg(privilege_type, ', ' ORDER BY privilege_type), {name},
    CASE WHEN grantee = 0 THEN 'PUBLIC' ELSE pg_catalog.quote_ident(pg_catalog.pg_get_userbyid(grantee)) END,
    CASE WHEN is_grantable THEN ' WITH GRANT OPTION' ELSE '' END) FROM given GROUP BY grantee, is_grantable
) all_of_them ORDER BY part, s)",
        fmt::arg("from", from), fmt::arg("acl", aclColumn), fmt::arg("oid", object.oid), fmt::arg("letter", aclLetter),
        fmt::arg("owner", ownerColumn),
        fmt::arg("word", object.word == "VIEW" || object.word == "MATERIALIZED VIEW" || object.word == "FOREIGN TABLE"
                             ? "TABLE"
                         : object.word == "AGGREGATE" ? "FUNCTION"
                                                      : object.word),
        fmt::arg("name", name));
    return append(grants, out);
}

Result<catalog::Definition> routineDefinition(DefinitionReader& reader, const catalog::ObjectName& object) {
    const auto oid = oneText(
        reader,
        fmt::format("SELECT p.oid FROM pg_catalog.pg_proc p JOIN pg_catalog.pg_namespace n ON n.oid = p.pronamespace "
                    "WHERE n.nspname = {} AND p.proname = {} AND (pg_catalog.pg_get_function_identity_arguments(p.oid) "
                    "= {} OR NOT EXISTS (SELECT FROM pg_catalog.pg_proc q WHERE q.pronamespace = p.pronamespace AND "
                    "q.proname = p.proname AND q.oid <> p.oid))",
                    literal(object.schema), literal(object.name), literal(object.signature)),
        object);
    if (!oid) return oid.error();
    const bool isAggregate = object.kind == catalog::ObjectKind::Aggregate;
    const auto name =
        oneText(reader,
                fmt::format("SELECT pg_catalog.format('%I.%I(%s)', n.nspname, p.proname, COALESCE(NULLIF("
                            "pg_catalog.pg_get_function_identity_arguments(p.oid), ''), {})) FROM pg_catalog.pg_proc p "
                            "JOIN pg_catalog.pg_namespace n ON n.oid = p.pronamespace WHERE p.oid = {}",
                            isAggregate ? "'*'" : "''", *oid),
                object);
    if (!name) return name.error();
    catalog::Definition definition;
    const std::string statement =
        isAggregate ? aggregateQuery(*oid)
                    : fmt::format("SELECT pg_catalog.rtrim(pg_catalog.pg_get_functiondef({}), E'\\n') || ';'", *oid);
    if (Status status = reader.append(statement, definition.text); !status) return status.error();
    const std::string word = isAggregate                                     ? "AGGREGATE"
                             : object.kind == catalog::ObjectKind::Procedure ? "PROCEDURE"
                                                                             : "FUNCTION";
    const DefinedObject defined{.oid = *oid, .name = *name, .word = word, .holder = "pg_proc"};
    if (Status status = reader.appendRights(defined, "proowner", "proacl", 'f', definition.text); !status) {
        return status.error();
    }
    return definition;
}

Result<catalog::Definition> typeDefinition(DefinitionReader& reader, const catalog::ObjectName& object) {
    const auto where = fmt::format(
        "FROM pg_catalog.pg_type t JOIN pg_catalog.pg_namespace n ON n.oid = t.typnamespace WHERE n.nspname = {} "
        "AND t.typname = {}",
        literal(object.schema), literal(object.name));
    const auto oid = oneText(reader, "SELECT t.oid " + where, object);
    if (!oid) return oid.error();
    const auto letter = oneText(reader, "SELECT t.typtype " + where, object);
    if (!letter) return letter.error();
    const auto name = oneText(reader, "SELECT pg_catalog.format('%I.%I', n.nspname, t.typname) " + where, object);
    if (!name) return name.error();
    catalog::Definition definition;
    if (Status status = reader.append(typeQuery(*oid, *letter, reader.version()), definition.text); !status)
        return status.error();
    const bool isDomain = *letter == "d";
    // A check that was never tried on old values must be added later: in the statement itself it would count as tried.
    const std::string rest = fmt::format(
        R"(SELECT s FROM (
SELECT 0 AS part, k.conname AS n, pg_catalog.format('ALTER DOMAIN %s ADD CONSTRAINT %I %s;', {0}, k.conname,
    pg_catalog.pg_get_constraintdef(k.oid)) AS s
FROM pg_catalog.pg_constraint k WHERE k.contypid = {1} AND k.contype = 'c' AND NOT k.convalidated
UNION ALL
SELECT 1, k.conname, pg_catalog.format('COMMENT ON CONSTRAINT %I ON DOMAIN %s IS %L;', k.conname, {0}, d.description)
FROM pg_catalog.pg_constraint k JOIN pg_catalog.pg_description d ON d.objoid = k.oid
    AND d.classoid = 'pg_catalog.pg_constraint'::pg_catalog.regclass WHERE k.contypid = {1}
UNION ALL
SELECT 2, a.attname, pg_catalog.format('COMMENT ON COLUMN %s.%I IS %L;', {0}, a.attname, d.description)
FROM pg_catalog.pg_type t JOIN pg_catalog.pg_attribute a ON a.attrelid = t.typrelid AND a.attnum > 0
JOIN pg_catalog.pg_description d ON d.objoid = a.attrelid AND d.objsubid = a.attnum
    AND d.classoid = 'pg_catalog.pg_class'::pg_catalog.regclass WHERE t.oid = {1} AND t.typrelid <> 0
) all_of_them ORDER BY part, n)",
        literal(*name), *oid);
    const DefinedObject defined{.oid = *oid, .name = *name, .word = isDomain ? "DOMAIN" : "TYPE", .holder = "pg_type"};
    if (Status status = reader.append(rest, definition.text); !status) return status.error();
    if (Status status = reader.appendRights(defined, "typowner", "typacl", 'T', definition.text); !status) {
        return status.error();
    }
    return definition;
}

Result<catalog::Definition> readDefinition(PostgresLink& link, const catalog::ObjectName& object,
                                           const base::Cancellation& cancellation) {
    if (link.versionNumber() < kOldestVersion) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "Definitions can be read from PostgreSQL 13 on.",
                     .hint = fmt::format("This server is {}.", link.serverVersion())};
    }
    DefinitionReader reader(link, cancellation);
    auto before = reader.texts("SELECT pg_catalog.current_setting('search_path')");
    if (!before) return before.error();
    const auto setPath = [&](const std::string& path) {
        return reader.texts(fmt::format("SELECT pg_catalog.set_config('search_path', {}, false)", literal(path)));
    };
    if (auto set = setPath("pg_catalog"); !set) return set.error();
    Result<catalog::Definition> definition = [&] {
        switch (object.kind) {
            case catalog::ObjectKind::Function:
            case catalog::ObjectKind::Procedure:
            case catalog::ObjectKind::Aggregate: return routineDefinition(reader, object);
            case catalog::ObjectKind::Type: return typeDefinition(reader, object);
            default: return relationDefinition(reader, object);
        }
    }();
    (void)setPath(before->front());
    return definition;
}

}  // namespace pantry::db::postgres
