#include "demo/demo_shelf.h"

#include <chrono>
#include <string>
#include <vector>

#include "core/base/file.h"
#include "core/shelf/shelf.h"
#include "core/shelf/version_words.h"

namespace pantry::demo {
namespace {

namespace fs = std::filesystem;
using namespace std::chrono;

struct Query {
    const char* path;
    const char* content;
};

constexpr Query kQueries[] = {
    {"harvest/kilograms-per-month.sql", R"(-- title: Kilograms per month
-- note: What was picked, by month and fruit.
-- connection: Orchard records
-- parameter: since DATE = 2025-01-01

SELECT
    substr(p.picked_on, 1, 7) AS month,
    v.fruit,
    round(sum(p.weight_kg), 1) AS kilograms,
    count(*) AS pickings
FROM picking p
JOIN tree t USING (tree_id)
JOIN variety v USING (variety_id)
WHERE p.picked_on >= :since
GROUP BY month, v.fruit
ORDER BY month, v.fruit;
)"},
    {"harvest/pickings-without-a-picker.sql", R"(-- title: Pickings without a picker
-- note: Somebody forgot to write a name. Ask who was there on that day.
-- connection: Orchard records

SELECT p.picked_on, pl.name AS plot, t.tag, p.weight_kg, p.grade
FROM picking p
JOIN tree t USING (tree_id)
JOIN plot pl USING (plot_id)
WHERE p.picker IS NULL
ORDER BY p.picked_on DESC;
)"},
    {"harvest/trees-without-a-picking.sql", R"(-- title: Trees without a picking
-- note: Old enough to bear, and nothing was picked in that year.
-- connection: Orchard records
-- parameter: year TEXT = 2026

SELECT pl.name AS plot, v.name AS variety, t.tag, t.planted_on
FROM tree t
JOIN plot pl USING (plot_id)
JOIN variety v USING (variety_id)
WHERE t.felled_on IS NULL
  AND t.planted_on < date(:year || '-01-01', '-4 years')
  AND NOT EXISTS (SELECT 1 FROM picking p WHERE p.tree_id = t.tree_id AND substr(p.picked_on, 1, 4) = :year)
ORDER BY plot, t.row_no, t.place_no;
)"},
    {"kitchen/jars-left-per-batch.sql", R"(-- title: Jars left per batch
-- note: What the store still has. Negative moves are jars that left it.
-- connection: Kitchen
-- parameter: least INTEGER = 20

SELECT b.code, r.name AS recipe, sum(m.jars) AS jars_left, b.best_before
FROM batch b
JOIN kettle_run k USING (run_id)
JOIN recipe r USING (recipe_id)
JOIN stock_move m USING (batch_id)
GROUP BY b.batch_id, b.code, r.name, b.best_before
HAVING sum(m.jars) >= :least
ORDER BY b.best_before;
)"},
    {"kitchen/batches-of-one-kettle-run.sql", R"(-- title: Batches of one kettle run
-- connection: Kitchen
-- parameter: run INTEGER = 1

SELECT k.started_at, k.kettle, k.yield_kg, b.code, j.name AS jar, b.jars
FROM kettle_run k
JOIN batch b USING (run_id)
JOIN jar_type j USING (jar_type_id)
WHERE k.run_id = :run
ORDER BY b.code;
)"},
    {"kitchen/takings-per-stall.sql", R"(-- title: Takings per stall
-- connection: Kitchen
-- parameter: since DATE = 2026-01-01

SELECT s.name AS stall, count(*) AS sales, sum(x.jars) AS jars, round(sum(x.jars * x.price), 2) AS takings
FROM stall_sale x
JOIN stall s USING (stall_id)
WHERE x.sold_on >= :since
GROUP BY s.name
ORDER BY takings DESC;
)"},
    {"plot-health/frost-alerts-unanswered.sql", R"(-- title: Frost alerts unanswered
-- note: Nobody went out that night.
-- connection: Orchard records (live)

SELECT a.raised_at, p.name AS plot, a.lowest_c
FROM frost_alert a
JOIN plot p USING (plot_id)
WHERE a.answered_by IS NULL
ORDER BY a.raised_at DESC;
)"},
    {"plot-health/treatments-per-plot.sql", R"(-- title: Treatments per plot
-- connection: Orchard records

SELECT p.name AS plot, x.agent, count(*) AS times, round(sum(x.cost), 2) AS cost
FROM treatment x
JOIN plot p USING (plot_id)
GROUP BY p.name, x.agent
ORDER BY cost DESC;
)"},
    {"plot-health/trees-never-inspected.sql", R"(-- title: Trees never inspected
-- connection: Orchard records

SELECT p.name AS plot, t.row_no, t.place_no, t.tag, t.planted_on
FROM tree t
JOIN plot p USING (plot_id)
LEFT JOIN inspection i USING (tree_id)
WHERE i.inspection_id IS NULL AND t.felled_on IS NULL
ORDER BY plot, t.row_no, t.place_no;
)"},
    {"probes/probes-that-drift.sql", R"(-- title: Probes that drift
-- note: The mean of the last days against that of the days before.
-- connection: Probes

WITH day_mean AS (
    SELECT probe_id, substr(taken_at, 1, 10) AS day, avg(value) AS mean
    FROM reading
    WHERE value IS NOT NULL
    GROUP BY probe_id, day
),
last_day AS (SELECT max(day) AS day FROM day_mean)
SELECT
    p.place,
    p.measures,
    round(avg(CASE WHEN d.day > date(l.day, '-3 days') THEN d.mean END), 2) AS lately,
    round(avg(CASE WHEN d.day <= date(l.day, '-3 days') THEN d.mean END), 2) AS before
FROM day_mean d
JOIN probe p USING (probe_id)
CROSS JOIN last_day l
GROUP BY p.probe_id, p.place, p.measures
ORDER BY abs(lately - before) DESC;
)"},
    {"probes/silent-hours.sql", R"(-- title: Silent hours
-- note: Hours in which a probe did not answer at all.
-- connection: Probes

SELECT p.place, substr(r.taken_at, 1, 13) AS hour, count(*) AS asked
FROM reading r
JOIN probe p USING (probe_id)
GROUP BY p.place, hour
HAVING count(r.value) = 0
ORDER BY hour DESC;
)"},
    {"server-care/mariadb-sizes.sql", R"(-- title: Largest tables (MariaDB)
-- connection: Kitchen on MariaDB

SELECT table_schema, table_name, table_rows, round((data_length + index_length) / 1048576, 1) AS mib
FROM information_schema.tables
WHERE table_schema NOT IN ('mysql', 'sys', 'information_schema', 'performance_schema')
ORDER BY data_length + index_length DESC
LIMIT 50;
)"},
    {"server-care/mariadb-sessions.sql", R"(-- title: Who works and waits (MariaDB)
-- connection: Kitchen on MariaDB

SELECT id, user, host, db, command, time AS seconds, state, left(info, 200) AS statement
FROM information_schema.processlist
WHERE command <> 'Sleep'
ORDER BY time DESC;
)"},
    {"server-care/postgresql-locks.sql", R"(-- title: Who waits for whom (PostgreSQL)
-- connection: Records on PostgreSQL

SELECT
    waiting.pid,
    waiting.usename AS waits,
    age(clock_timestamp(), waiting.query_start) AS since,
    left(waiting.query, 200) AS waiting_statement,
    holder.pid AS holder_pid,
    holder.usename AS holds,
    holder.state,
    left(holder.query, 200) AS last_statement_of_holder
FROM pg_stat_activity waiting
CROSS JOIN LATERAL unnest(pg_blocking_pids(waiting.pid)) AS blocking (pid)
JOIN pg_stat_activity holder ON holder.pid = blocking.pid
ORDER BY waiting.query_start;
)"},
    {"server-care/postgresql-sizes.sql", R"(-- title: Largest tables (PostgreSQL)
-- connection: Records on PostgreSQL

SELECT
    n.nspname AS schema,
    c.relname AS table_name,
    c.reltuples::bigint AS rows_estimated,
    pg_size_pretty(pg_total_relation_size(c.oid)) AS size,
    pg_size_pretty(pg_indexes_size(c.oid)) AS of_it_indexes
FROM pg_class c
JOIN pg_namespace n ON n.oid = c.relnamespace
WHERE c.relkind IN ('r', 'm', 'p') AND n.nspname NOT IN ('pg_catalog', 'information_schema')
ORDER BY pg_total_relation_size(c.oid) DESC
LIMIT 50;
)"},
    {"server-care/postgresql-slow.sql", R"(-- title: What runs for long (PostgreSQL)
-- connection: Records on PostgreSQL
-- parameter: seconds INTEGER = 5

SELECT pid, usename, datname, state, age(clock_timestamp(), query_start) AS running, left(query, 300) AS statement
FROM pg_stat_activity
WHERE state <> 'idle' AND pid <> pg_backend_pid() AND query_start < clock_timestamp() - make_interval(secs => :seconds)
ORDER BY query_start;
)"},
    {"server-care/postgresql-unused-indexes.sql", R"(-- title: Indexes that nobody uses (PostgreSQL)
-- note: Since the counters were reset. Those that keep rows unique are needed all the same.
-- connection: Records on PostgreSQL

SELECT s.schemaname, s.relname AS table_name, s.indexrelname AS index_name, s.idx_scan AS scans,
       pg_size_pretty(pg_relation_size(s.indexrelid)) AS size
FROM pg_stat_user_indexes s
JOIN pg_index i ON i.indexrelid = s.indexrelid
WHERE s.idx_scan = 0 AND NOT i.indisunique
ORDER BY pg_relation_size(s.indexrelid) DESC;
)"},
};

constexpr const char* kScab = "plot-health/scab-by-plot.sql";
constexpr const char* kScabHead = R"(-- title: Scab by plot
-- note: Which plots need treatment before blossom. Visits without a score count as visits.
--       Ask Maud Okafor before changing the limit: the wardens plan their rounds by it.
-- connection: Orchard records
)";

/// A query that was changed now and then.
struct Moment {
    sys_days day;
    const char* author;
    const char* text;
};
const Moment kScabVersions[] = {
    {2026y / March / 2, "Tilda Moss", R"(
SELECT p.name AS plot, avg(i.scab_score) AS scab
FROM plot p, tree t, inspection i
WHERE t.plot_id = p.plot_id AND i.tree_id = t.tree_id
GROUP BY p.name
ORDER BY scab DESC;
)"},
    {2026y / March / 4, "Maud Okafor", R"(
SELECT
    p.name AS plot,
    count(*) AS visits,
    avg(i.scab_score) AS scab,
    max(i.visited_on) AS last_visit
FROM plot p
JOIN tree t USING (plot_id)
JOIN inspection i USING (tree_id)
GROUP BY p.name
ORDER BY scab DESC;
)"},
    {2026y / May / 2, "Tilda Moss", R"(
SELECT
    p.name AS plot,
    count(*) AS visits,
    avg(i.scab_score) AS scab,
    max(i.visited_on) AS last_visit
FROM plot p
JOIN tree t USING (plot_id)
JOIN inspection i USING (tree_id)
WHERE i.visited_on >= '2026-01-01'
GROUP BY p.name
ORDER BY scab DESC;
)"},
    {2026y / August / 21, "Tilda Moss", R"(
SELECT
    p.name AS plot,
    count(*) AS visits,
    round(avg(i.scab_score), 2) AS scab,
    max(i.visited_on) AS last_visit
FROM plot p
JOIN tree t USING (plot_id)
JOIN inspection i USING (tree_id)
WHERE i.visited_on >= '2026-01-01'
GROUP BY p.name
ORDER BY scab DESC;
)"},
    {2026y / November / 9, "Maud Okafor", R"(
SELECT
    p.name AS plot,
    count(*) AS visits,
    round(avg(i.scab_score), 2) AS scab,
    max(i.visited_on) AS last_visit,
    w.full_name AS lead_warden
FROM plot p
JOIN tree t USING (plot_id)
JOIN inspection i USING (tree_id)
LEFT JOIN warden w
    ON w.warden_id = p.lead_warden_id
WHERE i.visited_on >= '2026-01-01'
GROUP BY p.name, w.full_name
ORDER BY scab DESC;
)"},
    {2026y / November / 20, "Tilda Moss", R"(-- parameter: since DATE = 2026-01-01
-- parameter: fewest INTEGER = 20

SELECT
    p.name AS plot,
    count(*) AS visits,
    round(avg(i.scab_score), 2) AS scab,
    max(i.visited_on) AS last_visit,
    w.full_name AS lead_warden
FROM plot p
JOIN tree t USING (plot_id)
JOIN inspection i USING (tree_id)
LEFT JOIN warden w
    ON w.warden_id = p.lead_warden_id
WHERE i.visited_on >= :since
GROUP BY p.name, w.full_name
HAVING count(*) >= :fewest
ORDER BY scab DESC;
)"},
};

shelf::Author authorOf(const Moment& moment) {
    std::string address = moment.author;
    for (char& c : address) c = c == ' ' ? '.' : c;
    return {moment.author, address + "@larkspur.example", base::Moment(moment.day) + hours(9)};
}

/// Each version of the query that has several.
Status writeScab(shelf::Shelf& shelf) {
    auto repository = shelf.repository();
    if (!repository) return repository.error();
    std::string before;
    for (const Moment& moment : kScabVersions) {
        const std::string content = std::string(kScabHead) + moment.text;
        if (Status made = base::makeFolder(shelf.fileOf(kScab).parent_path()); !made) return made;
        if (Status written = base::writeFileAtomically(shelf.fileOf(kScab), content); !written) return written;
        const auto kept =
            (*repository)->keep({{kScab, content}}, shelf::describeChange(before, content), authorOf(moment));
        if (!kept) return kept.error();
        before = content;
    }
    return {};
}

}  // namespace

Status writeShelf(const fs::path& folder) {
    auto shelf = shelf::Shelf::openOwn(folder);
    if (!shelf) return shelf.error();
    std::error_code ignored;
    if (!fs::exists(shelf->fileOf(kScab), ignored)) {
        if (Status written = writeScab(*shelf); !written) return written;
    }
    auto repository = shelf->repository();
    if (!repository) return repository.error();
    std::vector<shelf::FileChange> fresh;
    for (const Query& query : kQueries) {
        const fs::path file = shelf->fileOf(query.path);
        if (fs::exists(file, ignored)) continue;
        if (Status made = base::makeFolder(file.parent_path()); !made) return made;
        if (Status written = base::writeFileAtomically(file, query.content); !written) return written;
        fresh.push_back({query.path, query.content});
    }
    if (fresh.empty()) return {};
    const auto kept = (*repository)->keep(fresh, "First version", authorOf(kScabVersions[5]));
    return kept ? Status() : kept.error();
}

}  // namespace pantry::demo
