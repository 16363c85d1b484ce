#include "core/sql/write/server_queries.h"

namespace pantry::sql {

const std::vector<ServerQuery>& serverQueries(Dialect dialect) {
    static const std::vector<ServerQuery> kPostgres{
        {"roles", "Roles",
         "SELECT r.rolname AS role, r.rolcanlogin AS may_log_in, r.rolsuper AS superuser,\n"
         "       r.rolcreatedb AS may_create_databases, r.rolcreaterole AS may_create_roles,\n"
         "       array_to_string(ARRAY(SELECT m.rolname FROM pg_auth_members a JOIN pg_roles m ON m.oid = a.roleid\n"
         "                             WHERE a.member = r.oid ORDER BY 1), ', ') AS member_of\n"
         "FROM pg_roles r\nORDER BY r.rolname LIKE 'pg\\_%', r.rolname;\n"},
        {"rights", "Rights",
         "SELECT coalesce(r.rolname, 'PUBLIC') AS role, n.nspname AS schema, c.relname AS object,\n"
         "       string_agg(a.privilege_type, ', ' ORDER BY a.privilege_type) AS may,\n"
         "       bool_or(a.is_grantable) AS may_hand_on\nFROM pg_class c\n"
         "JOIN pg_namespace n ON n.oid = c.relnamespace\nCROSS JOIN LATERAL aclexplode(c.relacl) AS a\n"
         "LEFT JOIN pg_roles r ON r.oid = a.grantee\n"
         "WHERE n.nspname NOT LIKE 'pg\\_%' AND n.nspname <> 'information_schema'\n"
         "GROUP BY 1, 2, 3\nORDER BY 1, 2, 3;\n"},
        {"databases", "Databases",
         "SELECT d.datname AS name, pg_get_userbyid(d.datdba) AS owner, pg_encoding_to_char(d.encoding) AS encoding,\n"
         "       CASE WHEN has_database_privilege(d.oid, 'CONNECT') THEN pg_database_size(d.oid) END AS bytes\n"
         "FROM pg_database d\nWHERE NOT d.datistemplate\nORDER BY d.datname;\n"},
        {"extensions", "Extensions",
         "SELECT name, installed_version, default_version, comment\nFROM pg_available_extensions\n"
         "ORDER BY installed_version IS NULL, name;\n"},
        {"settings", "Settings",
         "SELECT category, name, setting, unit, short_desc AS meaning, source\nFROM pg_settings\n"
         "ORDER BY category, name;\n"},
        {"sessions", "Sessions",
         "SELECT pid, usename AS role, datname AS database, application_name, state, wait_event,\n"
         "       now() - query_start AS since, query\nFROM pg_stat_activity\n"
         "WHERE backend_type = 'client backend'\nORDER BY query_start DESC NULLS LAST;\n"},
        {"locks", "Locks that are waited for",
         "SELECT w.pid AS waits, w.query AS waiting_query, b.pid AS holds, b.query AS holding_query\n"
         "FROM pg_stat_activity w\nCROSS JOIN LATERAL unnest(pg_blocking_pids(w.pid)) AS p (pid)\n"
         "JOIN pg_stat_activity b ON b.pid = p.pid;\n"}};
    static const std::vector<ServerQuery> kMySql{
        {"roles", "Users and roles",
         "SELECT user, host, is_role, default_role, max_user_connections\nFROM mysql.user\nORDER BY is_role, user, "
         "host;\n"},
        {"rights", "Rights",
         "SELECT grantee, scope, privileges AS may, is_grantable AS may_hand_on\nFROM (\n"
         "    SELECT grantee, '*.*' AS scope, is_grantable,\n"
         "           GROUP_CONCAT(privilege_type ORDER BY privilege_type SEPARATOR ', ') AS privileges\n"
         "    FROM information_schema.user_privileges GROUP BY grantee, is_grantable\n    UNION ALL\n"
         "    SELECT grantee, CONCAT(table_schema, '.*'), is_grantable,\n"
         "           GROUP_CONCAT(privilege_type ORDER BY privilege_type SEPARATOR ', ')\n"
         "    FROM information_schema.schema_privileges GROUP BY grantee, table_schema, is_grantable\n    UNION ALL\n"
         "    SELECT grantee, CONCAT(table_schema, '.', table_name), is_grantable,\n"
         "           GROUP_CONCAT(privilege_type ORDER BY privilege_type SEPARATOR ', ')\n"
         "    FROM information_schema.table_privileges GROUP BY grantee, table_schema, table_name, is_grantable\n"
         ") AS rights\nORDER BY grantee, scope;\n"},
        {"databases", "Databases",
         "SELECT s.schema_name AS name, s.default_collation_name AS collation_name, count(t.table_name) AS "
         "number_of_tables,\n"
         "       sum(t.data_length + t.index_length) AS bytes\nFROM information_schema.schemata s\n"
         "LEFT JOIN information_schema.tables t ON t.table_schema = s.schema_name\n"
         "GROUP BY s.schema_name, s.default_collation_name\nORDER BY s.schema_name;\n"},
        {"settings", "Settings",
         "SELECT variable_name AS name, global_value, session_value, variable_comment AS meaning\n"
         "FROM information_schema.system_variables\nORDER BY variable_name;\n"},
        {"sessions", "Sessions",
         "SELECT id, user, host, db, command, time, state, info\nFROM information_schema.processlist\nORDER BY time "
         "DESC;\n"}};
    static const std::vector<ServerQuery> kSqlite{
        {"databases", "Files", "SELECT seq, name, file\nFROM pragma_database_list;\n"},
        {"settings", "Settings",
         "SELECT 'journal_mode' AS name, journal_mode AS value FROM pragma_journal_mode\n"
         "UNION ALL SELECT 'foreign_keys', foreign_keys FROM pragma_foreign_keys\n"
         "UNION ALL SELECT 'page_size', page_size FROM pragma_page_size\n"
         "UNION ALL SELECT 'page_count', page_count FROM pragma_page_count\n"
         "UNION ALL SELECT 'freelist_count', freelist_count FROM pragma_freelist_count\n"
         "UNION ALL SELECT 'encoding', encoding FROM pragma_encoding\n"
         "UNION ALL SELECT 'user_version', user_version FROM pragma_user_version;\n"},
        {"functions", "Functions",
         "SELECT name, type, narg AS number_of_arguments, builtin\nFROM pragma_function_list\nORDER BY name, narg;\n"},
        {"options", "Compiled with", "SELECT compile_options AS option\nFROM pragma_compile_options;\n"}};
    static const std::vector<ServerQuery> kNone;
    switch (dialect) {
        case Dialect::Postgres: return kPostgres;
        case Dialect::MySql: return kMySql;
        case Dialect::Sqlite: return kSqlite;
        case Dialect::Ansi: break;
    }
    return kNone;
}

}  // namespace pantry::sql
