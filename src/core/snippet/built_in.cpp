#include "core/snippet/built_in.h"

#include <vector>

namespace pantry::snippet {
namespace {

using enum sql::Dialect;

/// Definitions.
const std::vector<Snippet>& definitions() {
    static const std::vector<Snippet> all{
        {"newtable",
         "New table",
         R"(CREATE TABLE «table=new_table» (
    «table»_id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    «column=name» «type:type=text» NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);«»)",
         {Postgres}},
        {"newtable",
         "New table",
         R"(CREATE TABLE «table=new_table» (
    «table»_id BIGINT AUTO_INCREMENT PRIMARY KEY,
    «column=name» «type:type=VARCHAR(200)» NOT NULL,
    created_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP
);«»)",
         {MySql}},
        {"newtable",
         "New table",
         R"(CREATE TABLE «table=new_table» (
    «table»_id INTEGER PRIMARY KEY,
    «column=name» «type:type=TEXT» NOT NULL,
    created_at TEXT NOT NULL DEFAULT CURRENT_TIMESTAMP
);«»)",
         {Sqlite, Ansi}},
        {"addcolumn", "Add a column", "ALTER TABLE «table:table» ADD COLUMN «column=note» «type:type=TEXT»;«»", {}},
        {"newindex",
         "New index",
         "CREATE INDEX «table»_by_«column» ON «table:table» («column:column of table»);«»",
         {}},
        {"foreignkey",
         "New foreign key",
         R"(ALTER TABLE «table:table»
    ADD CONSTRAINT «table»_to_«other» FOREIGN KEY («column:column of table»)
    REFERENCES «other:table» («key:column of other»);«»)",
         {Postgres, MySql, Ansi}},
        {"foreignkey",
         "New column with a foreign key",
         "ALTER TABLE «table:table» ADD COLUMN «column=other_id» INTEGER REFERENCES «other:table» («key:column of "
         "other»);«»",
         {Sqlite}},
        {"newview",
         "New view",
         R"(CREATE VIEW «view=new_view» AS
SELECT «each column of table joined by ", ": «column»»
FROM «table:relation»;«»)",
         {}},
    };
    return all;
}

/// Changes of rows.
const std::vector<Snippet>& changes() {
    static const std::vector<Snippet> all{
        {"insertrow",
         "Insert a row",
         R"(INSERT INTO «table:table» («each column of table joined by ", ": «column»»)
VALUES («each column of table joined by ", ": :«column»»);«»)",
         {}},
        {"upsert",
         "Insert a row, or change it when it is there",
         R"(INSERT INTO «table:table» («each column of table joined by ", ": «column»»)
VALUES («each column of table joined by ", ": :«column»»)
ON CONFLICT («key:column of table») DO UPDATE SET
    «each column of table joined by ",\n": «column» = excluded.«column»»;«»)",
         {Postgres, Sqlite}},
        {"upsert",
         "Insert a row, or change it when it is there",
         R"(INSERT INTO «table:table» («each column of table joined by ", ": «column»»)
VALUES («each column of table joined by ", ": :«column»»)
ON DUPLICATE KEY UPDATE
    «each column of table joined by ",\n": «column» = VALUES(«column»)»;«»)",
         {MySql}},
    };
    return all;
}

/// Queries that people look up.
const std::vector<Snippet>& queries() {
    static const std::vector<Snippet> all{
        {"window",
         "Window function",
         R"(SELECT «column:column of table»,
       «function=row_number()» OVER (PARTITION BY «group:column of table» ORDER BY «order:column of table») AS place
FROM «table:relation»;«»)",
         {}},
        {"running",
         "Running total",
         R"(SELECT «order:column of table», «number:column of table»,
       sum(«number») OVER (ORDER BY «order» ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS running_total
FROM «table:relation»
ORDER BY «order»;«»)",
         {}},
        {"groupjoin",
         "Group by with a join",
         R"(SELECT a.«column:column of table», count(*) AS how_many
FROM «table:relation» AS a
JOIN «other:relation» AS b ON b.«link:column of other» = a.«key:column of table»
GROUP BY a.«column»
ORDER BY how_many DESC;«»)",
         {}},
        {"pivot",
         "Rows to columns, by CASE",
         R"(SELECT «group:column of table»,
       sum(CASE WHEN «column:column of table» = '«first=a»' THEN «number:column of table» END) AS «first»,
       sum(CASE WHEN «column» = '«second=b»' THEN «number» END) AS «second»
FROM «table:relation»
GROUP BY «group»
ORDER BY «group»;«»)",
         {}},
        {"recursive",
         "Recursive query: what hangs below what",
         R"(WITH RECURSIVE below AS (
    SELECT «key:column of table», «parent:column of table», 0 AS depth
    FROM «table:relation»
    WHERE «parent» IS NULL
    UNION ALL
    SELECT t.«key», t.«parent», below.depth + 1
    FROM «table» AS t
    JOIN below ON t.«parent» = below.«key»
)
SELECT * FROM below ORDER BY depth;«»)",
         {}},
        {"duplicates",
         "Values that occur more than once",
         R"(SELECT «column:column of table», count(*) AS how_many
FROM «table:relation»
GROUP BY «column»
HAVING count(*) > 1
ORDER BY how_many DESC;«»)",
         {}},
        {"latest",
         "The latest row of each group",
         R"(SELECT DISTINCT ON («group:column of table») *
FROM «table:relation»
ORDER BY «group», «order:column of table» DESC;«»)",
         {Postgres}},
        {"latest",
         "The latest row of each group",
         R"(SELECT *
FROM (
    SELECT t.*, row_number() OVER (PARTITION BY «group:column of table» ORDER BY «order:column of table» DESC) AS place
    FROM «table:relation» AS t
) AS ranked
WHERE place = 1;«»)",
         {MySql, Sqlite, Ansi}},
        {"islands",
         "Runs of numbers without a gap",
         R"(WITH seen AS (
    SELECT DISTINCT «number:column of table» AS n FROM «table:relation»
), numbered AS (
    SELECT n, n - row_number() OVER (ORDER BY n) AS island FROM seen
)
SELECT min(n) AS first_one, max(n) AS last_one, count(*) AS how_many
FROM numbered
GROUP BY island
ORDER BY first_one;«»)",
         {}},
        {"gaps",
         "Numbers that are missing between others",
         R"(WITH seen AS (
    SELECT «number:column of table» AS n, lead(«number») OVER (ORDER BY «number») AS following
    FROM «table:relation»
)
SELECT n + 1 AS first_missing, following - 1 AS last_missing
FROM seen
WHERE following - n > 1
ORDER BY first_missing;«»)",
         {}},
        {"dates",
         "A row for each day",
         R"(SELECT day::date
FROM generate_series(DATE '«from=2026-01-01»', DATE '«to=2026-01-31»', INTERVAL '1 day') AS day;«»)",
         {Postgres}},
        {"dates",
         "A row for each day",
         R"(WITH RECURSIVE days AS (
    SELECT DATE '«from=2026-01-01»' AS day
    UNION ALL
    SELECT day + INTERVAL 1 DAY FROM days WHERE day < DATE '«to=2026-01-31»'
)
SELECT day FROM days;«»)",
         {MySql}},
        {"dates",
         "A row for each day",
         R"(WITH RECURSIVE days AS (
    SELECT '«from=2026-01-01»' AS day
    UNION ALL
    SELECT date(day, '+1 day') FROM days WHERE day < '«to=2026-01-31»'
)
SELECT day FROM days;«»)",
         {Sqlite}},
        {"bymonth",
         "How many in each month",
         R"(SELECT date_trunc('month', «date:column of table»)::date AS month, count(*)
FROM «table:relation»
GROUP BY month
ORDER BY month;«»)",
         {Postgres}},
        {"bymonth",
         "How many in each month",
         R"(SELECT date_format(«date:column of table», '%Y-%m') AS month, count(*)
FROM «table:relation»
GROUP BY month
ORDER BY month;«»)",
         {MySql}},
        {"bymonth",
         "How many in each month",
         R"(SELECT strftime('%Y-%m', «date:column of table») AS month, count(*)
FROM «table:relation»
GROUP BY month
ORDER BY month;«»)",
         {Sqlite}},
    };
    return all;
}

/// About the server and its work.
const std::vector<Snippet>& aboutServers() {
    static const std::vector<Snippet> all{
        {"plan",
         "How a query is carried out, with its real rows and times",
         "EXPLAIN (ANALYZE, BUFFERS)\n«query=SELECT 1»;«»",
         {Postgres}},
        {"plan", "How a query is carried out", "EXPLAIN\n«query=SELECT 1»;«»", {MySql}},
        {"plan", "How a query is carried out", "EXPLAIN QUERY PLAN\n«query=SELECT 1»;«»", {Sqlite}},
        {"locks",
         "Who waits for whom",
         R"(SELECT waiting.pid, waiting.query, blocking.pid AS blocked_by, blocking.query AS its_query,
       now() - waiting.query_start AS waits_for
FROM pg_stat_activity AS waiting
CROSS JOIN LATERAL unnest(pg_blocking_pids(waiting.pid)) AS blocker(pid)
JOIN pg_stat_activity AS blocking ON blocking.pid = blocker.pid
ORDER BY waits_for DESC;«»)",
         {Postgres}},
        {"locks",
         "Who waits for whom",
         R"(SELECT waiting.trx_mysql_thread_id AS waits, waiting.trx_query AS query,
       blocking.trx_mysql_thread_id AS blocked_by, blocking.trx_query AS its_query
FROM information_schema.innodb_lock_waits AS w
JOIN information_schema.innodb_trx AS waiting ON waiting.trx_id = w.requesting_trx_id
JOIN information_schema.innodb_trx AS blocking ON blocking.trx_id = w.blocking_trx_id;«»)",
         {MySql}},
        {"sizes",
         "The largest tables",
         R"(SELECT c.oid::regclass AS name, pg_size_pretty(pg_total_relation_size(c.oid)) AS size
FROM pg_class AS c
WHERE c.relkind IN ('r', 'm')
ORDER BY pg_total_relation_size(c.oid) DESC
LIMIT «rows=20»;«»)",
         {Postgres}},
        {"sizes",
         "The largest tables",
         R"(SELECT table_schema, table_name, round((data_length + index_length) / 1048576, 1) AS megabytes
FROM information_schema.tables
WHERE table_type = 'BASE TABLE'
ORDER BY data_length + index_length DESC
LIMIT «rows=20»;«»)",
         {MySql}},
        {"sizes",
         "The largest tables",
         R"(SELECT name, sum(pgsize) AS bytes
FROM dbstat
GROUP BY name
ORDER BY bytes DESC
LIMIT «rows=20»;«»)",
         {Sqlite}},
    };
    return all;
}

std::vector<Snippet> together() {
    std::vector<Snippet> all;
    for (const auto* theme : {&definitions(), &changes(), &queries(), &aboutServers()})
        all.insert(all.end(), theme->begin(), theme->end());
    for (Snippet& one : all) one.isBuiltIn = true;
    return all;
}

}  // namespace

std::span<const Snippet> builtIn() {
    static const std::vector<Snippet> all = together();
    return all;
}

}  // namespace pantry::snippet
