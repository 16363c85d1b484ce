#include <fmt/format.h>

#include "core/base/joined.h"
#include "core/db/drivers/postgres/definition_reader.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::postgres {
namespace {

std::string quotedText(std::string_view text) { return sql::quotedString(text, sql::Dialect::Postgres); }

/// Where a relation's name and oid are put into the queries below.
std::string filled(std::string_view query, const DefinedObject& object) {
    return fmt::format(fmt::runtime(query), fmt::arg("oid", object.oid), fmt::arg("name", quotedText(object.name)));
}

/// The columns that are a table's own, as they stand between its parentheses.
constexpr std::string_view kColumns =
    R"(SELECT pg_catalog.format('%I %s', a.attname, pg_catalog.format_type(a.atttypid, a.atttypmod))
    || CASE WHEN a.attfdwoptions IS NOT NULL THEN ' OPTIONS (' || (SELECT pg_catalog.string_agg(pg_catalog.format('%I %L',
           o.option_name, o.option_value), ', ') FROM pg_catalog.pg_options_to_table(a.attfdwoptions) o) || ')' ELSE '' END
    || CASE WHEN a.attcollation <> 0 AND a.attcollation <> t.typcollation
            THEN ' COLLATE ' || a.attcollation::pg_catalog.regcollation::text ELSE '' END
    || CASE WHEN a.attidentity <> '' THEN ' GENERATED ' || CASE a.attidentity WHEN 'a' THEN 'ALWAYS' ELSE 'BY DEFAULT' END
           || ' AS IDENTITY' || COALESCE((SELECT ' (' || NULLIF(pg_catalog.concat_ws(' ',
               CASE WHEN q.relname <> c.relname || '_' || a.attname || '_seq' OR q.relnamespace <> c.relnamespace
                    THEN pg_catalog.format('SEQUENCE NAME %I.%I', qn.nspname, q.relname) END,
               CASE WHEN s.seqstart <> 1 THEN 'START WITH ' || s.seqstart END,
               CASE WHEN s.seqincrement <> 1 THEN 'INCREMENT BY ' || s.seqincrement END,
               CASE WHEN s.seqmin <> 1 THEN 'MINVALUE ' || s.seqmin END,
               CASE WHEN s.seqmax <> CASE s.seqtypid WHEN 21 THEN 32767 WHEN 23 THEN 2147483647 ELSE 9223372036854775807 END
                    THEN 'MAXVALUE ' || s.seqmax END,
               CASE WHEN s.seqcache <> 1 THEN 'CACHE ' || s.seqcache END,
               CASE WHEN s.seqcycle THEN 'CYCLE' END), '') || ')'
               FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_class q ON q.oid = d.objid AND q.relkind = 'S'
               JOIN pg_catalog.pg_namespace qn ON qn.oid = q.relnamespace
               JOIN pg_catalog.pg_sequence s ON s.seqrelid = q.oid
               WHERE d.refobjid = c.oid AND d.refobjsubid = a.attnum AND d.deptype = 'i' LIMIT 1), '')
       WHEN a.attgenerated = 's' THEN ' GENERATED ALWAYS AS (' || pg_catalog.pg_get_expr(x.adbin, x.adrelid) || ') STORED'
       WHEN x.adbin IS NOT NULL THEN ' DEFAULT ' || pg_catalog.pg_get_expr(x.adbin, x.adrelid) ELSE '' END
    || CASE WHEN a.attnotnull THEN ' NOT NULL' ELSE '' END
FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_class c ON c.oid = a.attrelid
JOIN pg_catalog.pg_type t ON t.oid = a.atttypid
LEFT JOIN pg_catalog.pg_attrdef x ON x.adrelid = a.attrelid AND x.adnum = a.attnum
WHERE a.attrelid = {oid} AND a.attnum > 0 AND NOT a.attisdropped AND a.attislocal AND c.reloftype = 0 ORDER BY a.attnum)";

/// Keys and checks of its own; foreign keys come apart, and so do checks that were never tried on old rows.
constexpr std::string_view kConstraints =
    R"(SELECT pg_catalog.format('CONSTRAINT %I %s', k.conname, pg_catalog.pg_get_constraintdef(k.oid))
FROM pg_catalog.pg_constraint k WHERE k.conrelid = {oid} AND k.contype IN ('p', 'u', 'x', 'c') AND k.convalidated
AND k.conislocal AND k.conparentid = 0 ORDER BY pg_catalog.array_position(ARRAY['p', 'u', 'x', 'c'], k.contype::text), k.conname)";

/// What stands before the parenthesis, as one text.
constexpr std::string_view kHead =
    R"(SELECT 'CREATE ' || CASE WHEN c.relkind = 'f' THEN 'FOREIGN ' WHEN c.relpersistence = 'u' THEN 'UNLOGGED '
        WHEN c.relpersistence = 't' THEN 'TEMPORARY ' ELSE '' END || 'TABLE ' || {name}
    || CASE WHEN c.relispartition THEN ' PARTITION OF ' || (SELECT i.inhparent::pg_catalog.regclass::text
           FROM pg_catalog.pg_inherits i WHERE i.inhrelid = c.oid)
       WHEN c.reloftype <> 0 THEN ' OF ' || c.reloftype::pg_catalog.regtype::text ELSE '' END
FROM pg_catalog.pg_class c WHERE c.oid = {oid})";

/// Whether the parentheses may be left out when nothing is in them.
constexpr std::string_view kMayBeBare =
    "SELECT 'yes' FROM pg_catalog.pg_class c WHERE c.oid = {oid} AND (c.relispartition OR c.reloftype <> 0)";

/// What stands behind the parenthesis, a line each.
constexpr std::string_view kTail =
    R"(SELECT s FROM (
SELECT 0 AS part, pg_catalog.pg_get_expr(c.relpartbound, c.oid) AS s FROM pg_catalog.pg_class c WHERE c.oid = {oid}
UNION ALL
SELECT 1, 'INHERITS (' || pg_catalog.string_agg(i.inhparent::pg_catalog.regclass::text, ', ' ORDER BY i.inhseqno) || ')'
FROM pg_catalog.pg_inherits i JOIN pg_catalog.pg_class c ON c.oid = i.inhrelid
WHERE i.inhrelid = {oid} AND NOT c.relispartition HAVING pg_catalog.count(*) > 0
UNION ALL
SELECT 2, 'PARTITION BY ' || pg_catalog.pg_get_partkeydef(c.oid) FROM pg_catalog.pg_class c
WHERE c.oid = {oid} AND c.relkind = 'p'
UNION ALL
SELECT 3, 'SERVER ' || pg_catalog.quote_ident(s.srvname) || COALESCE(' OPTIONS (' || (SELECT pg_catalog.string_agg(
    pg_catalog.format('%I %L', o.option_name, o.option_value), ', ')
    FROM pg_catalog.pg_options_to_table(f.ftoptions) o) || ')', '')
FROM pg_catalog.pg_foreign_table f JOIN pg_catalog.pg_foreign_server s ON s.oid = f.ftserver WHERE f.ftrelid = {oid}
UNION ALL
SELECT 4, 'USING ' || pg_catalog.quote_ident(m.amname) FROM pg_catalog.pg_class c
JOIN pg_catalog.pg_am m ON m.oid = c.relam WHERE c.oid = {oid} AND m.amname <> 'heap'
UNION ALL
SELECT 5, 'WITH (' || pg_catalog.string_agg(w, ', ') || ')' FROM (
    SELECT pg_catalog.format('%s=%L', o.option_name, o.option_value) AS w FROM pg_catalog.pg_class c,
        pg_catalog.pg_options_to_table(c.reloptions) o WHERE c.oid = {oid}
    UNION ALL
    SELECT pg_catalog.format('toast.%s=%L', o.option_name, o.option_value) FROM pg_catalog.pg_class c
        JOIN pg_catalog.pg_class b ON b.oid = c.reltoastrelid, pg_catalog.pg_options_to_table(b.reloptions) o
        WHERE c.oid = {oid}) w HAVING pg_catalog.count(*) > 0
UNION ALL
SELECT 6, 'TABLESPACE ' || pg_catalog.quote_ident(s.spcname) FROM pg_catalog.pg_class c
JOIN pg_catalog.pg_tablespace s ON s.oid = c.reltablespace WHERE c.oid = {oid}
) all_of_them WHERE s IS NOT NULL ORDER BY part)";

/// Sequences that its columns own and draw from, which must be there before it.
constexpr std::string_view kOwnedSequences =
    R"(SELECT q.oid FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_class q ON q.oid = d.objid AND q.relkind = 'S'
WHERE d.refobjid = {oid} AND d.refobjsubid > 0 AND d.deptype = 'a'
AND d.classid = 'pg_catalog.pg_class'::pg_catalog.regclass AND d.refclassid = 'pg_catalog.pg_class'::pg_catalog.regclass
ORDER BY d.refobjsubid, q.relname)";

constexpr std::string_view kSequence =
    R"(SELECT pg_catalog.format('CREATE SEQUENCE %s AS %s START WITH %s INCREMENT BY %s MINVALUE %s MAXVALUE %s CACHE %s%s;',
    {name}, pg_catalog.format_type(s.seqtypid, NULL), s.seqstart, s.seqincrement, s.seqmin, s.seqmax, s.seqcache,
    CASE WHEN s.seqcycle THEN ' CYCLE' ELSE '' END) FROM pg_catalog.pg_sequence s WHERE s.seqrelid = {oid})";

constexpr std::string_view kSequenceOwner =
    R"(SELECT pg_catalog.format('ALTER SEQUENCE %s OWNED BY %s.%I;', {name}, a.attrelid::pg_catalog.regclass, a.attname)
FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_attribute a ON a.attrelid = d.refobjid AND a.attnum = d.refobjsubid
WHERE d.objid = {oid} AND d.deptype = 'a' AND d.classid = 'pg_catalog.pg_class'::pg_catalog.regclass
AND d.refclassid = 'pg_catalog.pg_class'::pg_catalog.regclass)";

/// Everything that is said in statements of its own, in the order to run them.
constexpr std::string_view kDebounce =
    R"(SELECT s FROM (
SELECT 10 AS part, a.attnum::text AS n, pg_catalog.format('ALTER TABLE ONLY %s ALTER COLUMN %I %s;', {name}, a.attname,
    CASE WHEN x.adbin IS NULL THEN 'DROP DEFAULT' ELSE 'SET DEFAULT ' || pg_catalog.pg_get_expr(x.adbin, x.adrelid) END) AS s
FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_class c ON c.oid = a.attrelid
LEFT JOIN pg_catalog.pg_attrdef x ON x.adrelid = a.attrelid AND x.adnum = a.attnum
WHERE a.attrelid = {oid} AND a.attnum > 0 AND NOT a.attisdropped AND a.attgenerated = '' AND a.attidentity = ''
AND (NOT a.attislocal OR c.reloftype <> 0 OR c.relkind = 'v')
AND pg_catalog.pg_get_expr(x.adbin, x.adrelid) IS DISTINCT FROM (SELECT pg_catalog.pg_get_expr(y.adbin, y.adrelid)
    FROM pg_catalog.pg_inherits i JOIN pg_catalog.pg_attribute b ON b.attrelid = i.inhparent AND b.attname = a.attname
    JOIN pg_catalog.pg_attrdef y ON y.adrelid = b.attrelid AND y.adnum = b.attnum
    WHERE i.inhrelid = a.attrelid ORDER BY i.inhseqno LIMIT 1)
UNION ALL
SELECT 11, a.attname, pg_catalog.format('ALTER TABLE ONLY %s ALTER COLUMN %I SET NOT NULL;', {name}, a.attname)
FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_class c ON c.oid = a.attrelid
WHERE a.attrelid = {oid} AND a.attnum > 0 AND NOT a.attisdropped AND a.attnotnull
AND (NOT a.attislocal OR c.reloftype <> 0) AND NOT EXISTS (SELECT FROM pg_catalog.pg_inherits i
    JOIN pg_catalog.pg_attribute b ON b.attrelid = i.inhparent AND b.attname = a.attname AND b.attnotnull
    WHERE i.inhrelid = a.attrelid)
AND NOT EXISTS (SELECT FROM pg_catalog.pg_constraint k WHERE k.conrelid = {oid} AND k.contype = 'p'
    AND a.attnum = ANY (k.conkey))
UNION ALL
SELECT 12, a.attname, pg_catalog.format('ALTER TABLE ONLY %s ALTER COLUMN %I SET STORAGE %s;', {name}, a.attname,
    CASE a.attstorage WHEN 'p' THEN 'PLAIN' WHEN 'e' THEN 'EXTERNAL' WHEN 'm' THEN 'MAIN' ELSE 'EXTENDED' END)
FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_type t ON t.oid = a.atttypid
JOIN pg_catalog.pg_class c ON c.oid = a.attrelid
WHERE a.attrelid = {oid} AND a.attnum > 0 AND NOT a.attisdropped AND a.attstorage <> t.typstorage AND c.relkind IN ('r', 'p')
UNION ALL
SELECT 13, a.attname, pg_catalog.format('ALTER TABLE ONLY %s ALTER COLUMN %I SET STATISTICS %s;', {name}, a.attname, a.attstattarget)
FROM pg_catalog.pg_attribute a WHERE a.attrelid = {oid} AND a.attnum > 0 AND NOT a.attisdropped AND a.attstattarget >= 0
UNION ALL
SELECT 14, a.attname, pg_catalog.format('ALTER TABLE ONLY %s ALTER COLUMN %I SET (%s);', {name}, a.attname,
    pg_catalog.string_agg(pg_catalog.format('%s=%s', o.option_name, o.option_value), ', ' ORDER BY o.option_name))
FROM pg_catalog.pg_attribute a, pg_catalog.pg_options_to_table(a.attoptions) o
WHERE a.attrelid = {oid} AND a.attnum > 0 AND NOT a.attisdropped
AND o.option_name IN ('n_distinct', 'n_distinct_inherited')  -- servers keep notes of their own there too
GROUP BY a.attname
UNION ALL
SELECT 20, k.conname, pg_catalog.format('ALTER TABLE %s ADD CONSTRAINT %I %s;', {name}, k.conname,
    pg_catalog.pg_get_constraintdef(k.oid)) FROM pg_catalog.pg_constraint k
WHERE k.conrelid = {oid} AND k.contype = 'c' AND NOT k.convalidated AND k.conislocal
UNION ALL
SELECT 30, x.relname, pg_catalog.pg_get_indexdef(i.indexrelid) || ';'
FROM pg_catalog.pg_index i JOIN pg_catalog.pg_class x ON x.oid = i.indexrelid
WHERE i.indrelid = {oid} AND NOT EXISTS (SELECT FROM pg_catalog.pg_constraint k WHERE k.conindid = i.indexrelid
    AND k.contype IN ('p', 'u', 'x'))
AND NOT EXISTS (SELECT FROM pg_catalog.pg_inherits h WHERE h.inhrelid = i.indexrelid)
UNION ALL
SELECT 31, x.relname, pg_catalog.format('ALTER TABLE %s CLUSTER ON %I;', {name}, x.relname)
FROM pg_catalog.pg_index i JOIN pg_catalog.pg_class x ON x.oid = i.indexrelid WHERE i.indrelid = {oid} AND i.indisclustered
UNION ALL
SELECT 32, '', pg_catalog.format('ALTER TABLE ONLY %s REPLICA IDENTITY %s;', {name}, CASE c.relreplident WHEN 'f' THEN 'FULL'
    WHEN 'n' THEN 'NOTHING' ELSE 'USING INDEX ' || (SELECT pg_catalog.quote_ident(x.relname) FROM pg_catalog.pg_index i
    JOIN pg_catalog.pg_class x ON x.oid = i.indexrelid WHERE i.indrelid = c.oid AND i.indisreplident) END)
FROM pg_catalog.pg_class c WHERE c.oid = {oid} AND c.relkind IN ('r', 'p') AND c.relreplident <> 'd'
UNION ALL
SELECT 33, s.stxname, pg_catalog.pg_get_statisticsobjdef(s.oid) || ';' FROM pg_catalog.pg_statistic_ext s WHERE s.stxrelid = {oid}
UNION ALL
SELECT 40, r.rulename, pg_catalog.pg_get_ruledef(r.oid) FROM pg_catalog.pg_rewrite r
WHERE r.ev_class = {oid} AND r.rulename <> '_RETURN'
UNION ALL
SELECT 50, t.tgname, pg_catalog.pg_get_triggerdef(t.oid) || ';' FROM pg_catalog.pg_trigger t
WHERE t.tgrelid = {oid} AND NOT t.tgisinternal AND t.tgparentid = 0
UNION ALL
SELECT 51, t.tgname, pg_catalog.format('ALTER TABLE %s %s TRIGGER %I;', {name}, CASE t.tgenabled WHEN 'D' THEN 'DISABLE'
    WHEN 'A' THEN 'ENABLE ALWAYS' ELSE 'ENABLE REPLICA' END, t.tgname) FROM pg_catalog.pg_trigger t
WHERE t.tgrelid = {oid} AND NOT t.tgisinternal AND t.tgparentid = 0 AND t.tgenabled <> 'O'
UNION ALL
SELECT 60, '', pg_catalog.format('ALTER TABLE %s ENABLE ROW LEVEL SECURITY;', {name}) FROM pg_catalog.pg_class c
WHERE c.oid = {oid} AND c.relrowsecurity
UNION ALL
SELECT 61, '', pg_catalog.format('ALTER TABLE %s FORCE ROW LEVEL SECURITY;', {name}) FROM pg_catalog.pg_class c
WHERE c.oid = {oid} AND c.relforcerowsecurity
UNION ALL
SELECT 62, p.polname, pg_catalog.format('CREATE POLICY %I ON %s%s%s TO %s%s%s;', p.polname, {name},
    CASE WHEN p.polpermissive THEN '' ELSE ' AS RESTRICTIVE' END,
    CASE p.polcmd WHEN 'r' THEN ' FOR SELECT' WHEN 'a' THEN ' FOR INSERT' WHEN 'w' THEN ' FOR UPDATE'
        WHEN 'd' THEN ' FOR DELETE' ELSE '' END,
    CASE WHEN p.polroles = '{{0}}' THEN 'PUBLIC' ELSE (SELECT pg_catalog.string_agg(pg_catalog.quote_ident(
        pg_catalog.pg_get_userbyid(u)), ', ' ORDER BY u) FROM pg_catalog.unnest(p.polroles) u) END,
    COALESCE(' USING (' || pg_catalog.pg_get_expr(p.polqual, p.polrelid) || ')', ''),
    COALESCE(' WITH CHECK (' || pg_catalog.pg_get_expr(p.polwithcheck, p.polrelid) || ')', ''))
FROM pg_catalog.pg_policy p WHERE p.polrelid = {oid}
UNION ALL
SELECT 70, pg_catalog.lpad(d.objsubid::text, 5, '0'), pg_catalog.format('COMMENT ON COLUMN %s.%I IS %L;', {name}, a.attname, d.description)
FROM pg_catalog.pg_description d JOIN pg_catalog.pg_attribute a ON a.attrelid = d.objoid AND a.attnum = d.objsubid
WHERE d.objoid = {oid} AND d.objsubid > 0 AND d.classoid = 'pg_catalog.pg_class'::pg_catalog.regclass
UNION ALL
SELECT 71, k.conname, pg_catalog.format('COMMENT ON CONSTRAINT %I ON %s IS %L;', k.conname, {name}, d.description)
FROM pg_catalog.pg_constraint k JOIN pg_catalog.pg_description d ON d.objoid = k.oid
AND d.classoid = 'pg_catalog.pg_constraint'::pg_catalog.regclass WHERE k.conrelid = {oid} AND k.contype <> 'f'
UNION ALL
SELECT 72, x.relname, pg_catalog.format('COMMENT ON INDEX %s IS %L;', x.oid::pg_catalog.regclass, d.description)
FROM pg_catalog.pg_index i JOIN pg_catalog.pg_class x ON x.oid = i.indexrelid JOIN pg_catalog.pg_description d
ON d.objoid = x.oid AND d.classoid = 'pg_catalog.pg_class'::pg_catalog.regclass WHERE i.indrelid = {oid}
UNION ALL
SELECT 73, t.tgname, pg_catalog.format('COMMENT ON TRIGGER %I ON %s IS %L;', t.tgname, {name}, d.description)
FROM pg_catalog.pg_trigger t JOIN pg_catalog.pg_description d ON d.objoid = t.oid
AND d.classoid = 'pg_catalog.pg_trigger'::pg_catalog.regclass WHERE t.tgrelid = {oid}
UNION ALL
SELECT 74, p.polname, pg_catalog.format('COMMENT ON POLICY %I ON %s IS %L;', p.polname, {name}, d.description)
FROM pg_catalog.pg_policy p JOIN pg_catalog.pg_description d ON d.objoid = p.oid
AND d.classoid = 'pg_catalog.pg_policy'::pg_catalog.regclass WHERE p.polrelid = {oid}
UNION ALL
SELECT 80, a.attname, pg_catalog.format('GRANT %s (%I) ON TABLE %s TO %s%s;', x.privilege_type, a.attname, {name},
    CASE WHEN x.grantee = 0 THEN 'PUBLIC' ELSE pg_catalog.quote_ident(pg_catalog.pg_get_userbyid(x.grantee)) END,
    CASE WHEN x.is_grantable THEN ' WITH GRANT OPTION' ELSE '' END)
FROM pg_catalog.pg_attribute a, pg_catalog.aclexplode(a.attacl) x WHERE a.attrelid = {oid}
) all_of_them ORDER BY part, n, s)";

constexpr std::string_view kForeignKeys =
    R"(SELECT s FROM (
SELECT 0 AS part, k.conname, pg_catalog.format('ALTER TABLE %s%s ADD CONSTRAINT %I %s;',
    CASE WHEN c.relkind = 'p' THEN '' ELSE 'ONLY ' END, {name}, k.conname, pg_catalog.pg_get_constraintdef(k.oid)) AS s
FROM pg_catalog.pg_constraint k JOIN pg_catalog.pg_class c ON c.oid = k.conrelid
WHERE k.conrelid = {oid} AND k.contype = 'f' AND k.conparentid = 0
UNION ALL
SELECT 1, k.conname, pg_catalog.format('COMMENT ON CONSTRAINT %I ON %s IS %L;', k.conname, {name}, d.description)
FROM pg_catalog.pg_constraint k JOIN pg_catalog.pg_description d ON d.objoid = k.oid
AND d.classoid = 'pg_catalog.pg_constraint'::pg_catalog.regclass WHERE k.conrelid = {oid} AND k.contype = 'f'
) all_of_them ORDER BY part, conname)";

constexpr std::string_view kView =
    R"(SELECT 'CREATE ' || CASE WHEN c.relkind = 'm' THEN 'MATERIALIZED VIEW ' ELSE 'VIEW ' END || {name}
    || COALESCE(' WITH (' || (SELECT pg_catalog.string_agg(pg_catalog.format('%s=%L', o.option_name, o.option_value), ', ')
        FROM pg_catalog.pg_options_to_table(c.reloptions) o) || ')', '')
    || E' AS\n' || pg_catalog.rtrim(pg_catalog.pg_get_viewdef(c.oid), ';')
    || CASE WHEN c.relkind = 'm' AND NOT c.relispopulated THEN E'\n  WITH NO DATA' ELSE '' END || ';'
FROM pg_catalog.pg_class c WHERE c.oid = {oid})";

std::string wordOf(catalog::ObjectKind kind) {
    switch (kind) {
        case catalog::ObjectKind::View: return "VIEW";
        case catalog::ObjectKind::MaterializedView: return "MATERIALIZED VIEW";
        case catalog::ObjectKind::ForeignTable: return "FOREIGN TABLE";
        case catalog::ObjectKind::Sequence: return "SEQUENCE";
        default: return "TABLE";
    }
}

Status appendSequence(DefinitionReader& reader, const DefinedObject& sequence, std::string& out) {
    if (Status status = reader.append(filled(kSequence, sequence), out); !status) return status;
    return reader.appendRights(sequence, "relowner", "relacl", 's', out);
}

Result<DefinedObject> relationByOid(DefinitionReader& reader, const std::string& oid, const std::string& word) {
    auto name =
        reader.texts(fmt::format("SELECT pg_catalog.format('%I.%I', n.nspname, c.relname) FROM pg_catalog.pg_class c "
                                 "JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace WHERE c.oid = {}",
                                 oid));
    if (!name) return name.error();
    if (name->empty()) return Error{.kind = ErrorKind::NotFound, .message = "It is gone."};
    return DefinedObject{.oid = oid, .name = name->front(), .word = word, .holder = "pg_class"};
}

/// The CREATE TABLE statement alone.
Status appendTable(DefinitionReader& reader, const DefinedObject& table, std::string& out) {
    std::vector<std::string> lines;
    std::string head;
    for (const std::string_view query : {kColumns, kConstraints}) {
        auto part = reader.texts(filled(query, table));
        if (!part) return part.error();
        for (std::string& line : *part) lines.push_back("    " + std::move(line));
    }
    auto heads = reader.texts(filled(kHead, table));
    if (!heads) return heads.error();
    auto isBare = reader.texts(filled(kMayBeBare, table));
    if (!isBare) return isBare.error();
    auto tail = reader.texts(filled(kTail, table));
    if (!tail) return tail.error();
    out += heads->front();
    if (!lines.empty()) {
        out += fmt::format(" (\n{}\n)", base::joined(lines, ",\n"));
    } else if (isBare->empty()) {
        out += " ()";
    }
    for (const std::string& line : *tail) out += "\n" + line;
    out += ";\n";
    return {};
}

Status appendTableWithSequences(DefinitionReader& reader, const DefinedObject& table, std::string& out) {
    auto owned = reader.texts(filled(kOwnedSequences, table));
    if (!owned) return owned.error();
    std::string owners;
    for (const std::string& oid : *owned) {
        auto sequence = relationByOid(reader, oid, "SEQUENCE");
        if (!sequence) return sequence.error();
        if (Status status = appendSequence(reader, *sequence, out); !status) return status;
        if (Status status = reader.append(filled(kSequenceOwner, *sequence), owners); !status) return status;
    }
    if (Status status = appendTable(reader, table, out); !status) return status;
    // A sequence can be owned only by a table of the same owner, so the table's comes first.
    if (Status status = reader.appendRights(table, "relowner", "relacl", 'r', out); !status) return status;
    out += owners;
    return {};
}

}  // namespace

Result<catalog::Definition> relationDefinition(DefinitionReader& reader, const catalog::ObjectName& object) {
    auto oid = reader.texts(
        fmt::format("SELECT c.oid FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace "
                    "WHERE n.nspname = {} AND c.relname = {} AND c.relkind IN ('r', 'p', 'v', 'm', 'f', 'S')",
                    quotedText(object.schema), quotedText(object.name)));
    if (!oid) return oid.error();
    if (oid->empty()) {
        return Error{.kind = ErrorKind::NotFound,
                     .message = fmt::format("There is no {} in schema {}.", object.name, object.schema)};
    }
    auto relation = relationByOid(reader, oid->front(), wordOf(object.kind));
    if (!relation) return relation.error();
    catalog::Definition definition;
    Status status;
    if (object.kind == catalog::ObjectKind::Sequence) {
        status = appendSequence(reader, *relation, definition.text);
        if (status) status = reader.append(filled(kSequenceOwner, *relation), definition.links);
        return status ? Result<catalog::Definition>(definition) : Result<catalog::Definition>(status.error());
    }
    if (isViewKind(object.kind)) {
        status = reader.append(filled(kView, *relation), definition.text);
        if (status) status = reader.appendRights(*relation, "relowner", "relacl", 'r', definition.text);
    } else {
        status = appendTableWithSequences(reader, *relation, definition.text);
    }
    if (status) status = reader.append(filled(kDebounce, *relation), definition.text);
    if (status) status = reader.append(filled(kForeignKeys, *relation), definition.links);
    return status ? Result<catalog::Definition>(definition) : Result<catalog::Definition>(status.error());
}

}  // namespace pantry::db::postgres
