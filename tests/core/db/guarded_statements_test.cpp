// What the guard holds back on a live connection, and what it lets through, shown on real servers: each harmful
// statement is really sent to a session, and nothing changes; each reading one runs.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <set>

#include "core/base/text.h"
#include "core/db/engine_bench.h"
#include "support/corpus.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using test::Line;

using test::replaced;

/// The statements of a corpus file.
std::vector<std::string> corpus(const std::string& name) {
    return test::corpusLines(std::string(GUARDED_FOLDER) + "/" + name);
}

ConnectionProfile live(ConnectionProfile profile) {
    profile.environment = Environment::Live;
    return profile;
}

/// A session as somebody uses it on a live connection.
class LiveLine {
public:
    explicit LiveLine(const ConnectionProfile& profile)
        : guard_(runGuardOf(live(profile))), session_(live(profile), std::nullopt) {}

    std::shared_ptr<test::RunRecorder> run(const std::string& sql, bool isConfirmed = false) {
        auto recorder = std::make_shared<test::RunRecorder>();
        RunGuard guard = guard_;
        guard.isConfirmed = isConfirmed;
        session_.execute({.statement = sql, .pageRows = std::nullopt, .guard = guard}, recorder);
        recorder->waitForEnd();
        return recorder;
    }
    Session* operator->() { return &session_; }

private:
    RunGuard guard_;
    Session session_;
};

struct World {
    Engine engine;
    std::string harmful;
    std::string reading;
    std::size_t leastHarmful;
};

class GuardedStatementsTest : public testing::TestWithParam<World> {
protected:
    void SetUp() override {
        switch (GetParam().engine) {
            case Engine::Postgres: return setUpPostgres();
            case Engine::MariaDb: return setUpMariaDb();
            default: return setUpSqlite();
        }
    }
    void TearDown() override {
        if (GetParam().engine == Engine::Postgres)
            Line(test::profileFor(test::sharedPostgres())).run("DROP DATABASE IF EXISTS guarded WITH (FORCE)");
    }

    void makeAll(const std::vector<std::string>& statements) {
        Line line(profile_);
        for (const std::string& sql : statements) {
            const auto run = line.run(sql);
            ASSERT_FALSE(run->error()) << sql << ": " << run->error()->text();
        }
    }

    static std::vector<std::string> tables() {
        std::vector<std::string> statements{
            "CREATE TABLE plot (id int PRIMARY KEY, name varchar(40), hectares decimal(8,2) DEFAULT 1, note text)",
            "CREATE TABLE tree (id int, plot_id int, variety text)"};
        for (int i = 1; i <= 24; ++i) {
            statements.push_back(fmt::format("INSERT INTO plot VALUES ({0}, 'Larkspur {0}', {0}, NULL)", i));
            statements.push_back(fmt::format("INSERT INTO tree VALUES ({0}, {1}, 'Bramley')", i, i % 5 + 1));
        }
        return statements;
    }

    void setUpPostgres() {
        ASSERT_EQ(test::sharedPostgres().startup(), "");
        Line admin(test::profileFor(test::sharedPostgres()));
        admin.run("DROP DATABASE IF EXISTS guarded WITH (FORCE)");
        ASSERT_FALSE(admin.run("CREATE DATABASE guarded")->error());
        admin.run("DROP ROLE IF EXISTS warden");
        admin.run("CREATE ROLE warden");
        profile_ = test::profileFor(test::sharedPostgres(), "guarded");
        makeAll(tables());
        makeAll({"CREATE SEQUENCE basket_seq", "CREATE TYPE mood AS ENUM ('calm')",
                 "CREATE FUNCTION cull() RETURNS int LANGUAGE sql AS 'DELETE FROM public.tree; SELECT 1'",
                 "CREATE FUNCTION cull(plot) RETURNS int LANGUAGE sql AS 'DELETE FROM public.tree; SELECT 1'",
                 "CREATE FUNCTION cull_plot(plot) RETURNS int LANGUAGE sql AS 'DELETE FROM public.tree; SELECT 1'",
                 "CREATE FUNCTION fell(int, int) RETURNS int LANGUAGE sql AS 'DELETE FROM public.tree; SELECT 1'",
                 "CREATE FUNCTION quiet_fell(int) RETURNS int LANGUAGE plpgsql AS "
                 "'BEGIN EXECUTE ''DELETE FROM public.tree''; RETURN 1; END'",
                 // A function that is declared to read and calls one that does not.
                 "CREATE FUNCTION inspect_and_cull(int) RETURNS int STABLE LANGUAGE plpgsql AS "
                 "'BEGIN RETURN public.quiet_fell(1); END'",
                 "CREATE FUNCTION tidy_name(text) RETURNS text IMMUTABLE LANGUAGE sql AS 'SELECT trim($1)'",
                 "CREATE FUNCTION total_hectares() RETURNS numeric STABLE LANGUAGE sql AS "
                 "'SELECT sum(hectares) FROM public.plot'",
                 "CREATE FUNCTION plus_one(int, int) RETURNS int IMMUTABLE LANGUAGE sql AS 'SELECT $1 + $2 + 1'",
                 "CREATE OPERATOR <+> (function = plus_one, leftarg = int, rightarg = int)",
                 "CREATE OPERATOR <~> (function = fell, leftarg = int, rightarg = int)",
                 "CREATE AGGREGATE felled (int) (sfunc = fell, stype = int, initcond = '0')",
                 "CREATE AGGREGATE middle (int) (sfunc = int4larger, stype = int)",
                 "CREATE PROCEDURE prune() LANGUAGE sql AS 'DELETE FROM public.tree'",
                 "CREATE VIEW culling AS SELECT public.cull() AS n", "CREATE VIEW richest AS SELECT * FROM public.plot",
                 "CREATE MATERIALIZED VIEW harvest AS SELECT id FROM public.plot",
                 "CREATE INDEX tree_brin ON tree USING brin (id)", "SELECT lo_create(7001)"});
        fingerprint_ =
            "SELECT (SELECT md5(string_agg(p::text, ',' ORDER BY id)) FROM public.plot p),"
            " (SELECT md5(string_agg(t::text, ',' ORDER BY id)) FROM public.tree t),"
            " (SELECT md5(string_agg(relname || relkind::text || relowner || coalesce(reloptions::text, '') || "
            "   relrowsecurity || coalesce(relacl::text, ''), ',' ORDER BY oid)) FROM pg_class"
            "   WHERE relnamespace NOT IN ('pg_toast'::regnamespace)),"
            " (SELECT md5(string_agg(proname || provolatile::text || oid, ',' ORDER BY oid)) FROM pg_proc),"
            " (SELECT md5(string_agg(attname || atttypid, ',' ORDER BY attrelid, attnum)) FROM pg_attribute"
            "   WHERE attrelid IN ('public.plot'::regclass, 'public.tree'::regclass)),"
            " (SELECT last_value || is_called::text FROM public.basket_seq),"
            " (SELECT count(*) || max(loid::text) || (SELECT count(*) FROM pg_largeobject) FROM (SELECT oid AS loid"
            "   FROM pg_largeobject_metadata) l),"
            " (SELECT md5(string_agg(rolname || rolsuper || coalesce(rolpassword, ''), ',' ORDER BY oid)) FROM "
            "pg_authid),"
            " (SELECT count(*) FROM pg_auth_members), (SELECT count(*) FROM pg_database),"
            " (SELECT count(*) FROM pg_namespace WHERE nspname NOT LIKE 'pg_temp%' AND nspname NOT LIKE 'pg_toast_t%'),"
            " (SELECT count(*) FROM pg_type WHERE typnamespace = 'public'::regnamespace),"
            " (SELECT count(*) FROM pg_extension), (SELECT count(*) FROM pg_description),"
            " (SELECT count(*) FROM pg_db_role_setting), (SELECT count(*) FROM pg_replication_slots),"
            " (SELECT count(*) FROM pg_prepared_xacts), (SELECT count(*) FROM pg_locks WHERE locktype = 'advisory'),"
            " (SELECT count(*) FROM pg_file_settings), (SELECT count(*) FROM pg_publication),"
            " (SELECT count(*) FROM pg_policy), (SELECT count(*) FROM pg_trigger), (SELECT count(*) FROM pg_rewrite),"
            " (SELECT count(*) FROM pg_replication_origin),"
            " (SELECT count(*) FROM pg_locks WHERE relation = 'public.plot'::regclass AND mode NOT IN"
            "   ('AccessShareLock')),"
            " (SELECT count(*) FROM pg_stat_activity WHERE pid = VICTIM)";
        own_ =
            "SELECT current_setting('standard_conforming_strings'), current_user, session_user, "
            "current_setting('session_replication_role'), current_setting('client_encoding'), "
            "current_setting('row_security')";
        victim_ = std::make_unique<Line>(profile_);
        victimId_ = victim_->rows("SELECT pg_backend_pid()").front();
    }

    void setUpMariaDb() {
        ASSERT_EQ(test::sharedMariaDb().startup(), "");
        Line admin(test::profileFor(test::sharedMariaDb()));
        admin.run("DROP DATABASE IF EXISTS guarded");
        admin.run("CREATE DATABASE guarded");
        admin.run("CREATE ROLE IF NOT EXISTS warden");
        profile_ = test::profileFor(test::sharedMariaDb(), "guarded");
        makeAll(tables());
        makeAll({"CREATE SEQUENCE basket", "CREATE INDEX plot_name ON plot (name)",
                 "CREATE FUNCTION cull() RETURNS int MODIFIES SQL DATA BEGIN DELETE FROM tree; RETURN 1; END",
                 "CREATE FUNCTION undeclared() RETURNS int BEGIN DELETE FROM tree; RETURN 1; END",
                 "CREATE FUNCTION tidy_name(t text) RETURNS text DETERMINISTIC NO SQL RETURN trim(t)",
                 "CREATE FUNCTION total_hectares() RETURNS decimal(10,2) READS SQL DATA "
                 "RETURN (SELECT sum(hectares) FROM plot)",
                 "CREATE PROCEDURE prune() DELETE FROM tree", "CREATE VIEW richest AS SELECT * FROM plot",
                 "CREATE VIEW culling AS SELECT cull() AS n"});
        fingerprint_ =
            "SELECT (SELECT md5(group_concat(concat_ws('|', id, name, hectares, note) ORDER BY id)) FROM guarded.plot),"
            " (SELECT md5(group_concat(concat_ws('|', id, plot_id, variety) ORDER BY id)) FROM guarded.tree),"
            " (SELECT md5(group_concat(concat_ws('|', table_name, table_type, engine, table_collation) ORDER BY "
            "table_name)) FROM information_schema.tables WHERE table_schema = 'guarded'),"
            " (SELECT md5(group_concat(concat_ws('|', column_name, column_type) ORDER BY table_name, column_name)) "
            "FROM "
            "information_schema.columns WHERE table_schema = 'guarded'),"
            " (SELECT md5(group_concat(concat_ws('|', routine_name, sql_data_access) ORDER BY routine_name)) FROM "
            "information_schema.routines WHERE routine_schema = 'guarded'),"
            " (SELECT next_not_cached_value FROM guarded.basket), (SELECT count(*) FROM information_schema.schemata),"
            " (SELECT md5(group_concat(concat_ws('|', User, Host, Priv) ORDER BY User, Host)) FROM mysql.global_priv),"
            " (SELECT count(*) FROM information_schema.statistics WHERE table_schema = 'guarded'),"
            " (SELECT count(*) FROM information_schema.triggers), (SELECT count(*) FROM information_schema.events),"
            " (SELECT count(*) FROM information_schema.plugins), (SELECT count(*) FROM mysql.servers),"
            " (SELECT count(*) FROM mysql.tables_priv), (SELECT count(*) FROM mysql.column_stats),"
            " @@global.max_connections, @@global.read_only, @@global.event_scheduler, @@global.general_log,"
            " @@global.sql_mode, @@global.tx_isolation, @@global.tx_read_only, is_used_lock('x'), is_used_lock('y'),"
            " (SELECT count(*) FROM information_schema.processlist WHERE id = VICTIM)";
        own_ =
            "SELECT @@sql_mode, @@autocommit, @@foreign_key_checks, @@unique_checks, @@sql_log_bin, "
            "@@character_set_client, current_role(), @@insert_id, @@in_transaction";
        victim_ = std::make_unique<Line>(profile_);
        victimId_ = victim_->rows("SELECT connection_id()").front();
    }

    void setUpSqlite() {
        profile_ = {.id = "lite", .name = "records", .engine = Engine::Sqlite};
        profile_.database = folder_.path() / "guarded.db";
        std::ofstream(profile_.database).close();
        makeAll(tables());
        makeAll({"CREATE VIEW richest AS SELECT * FROM plot"});
        fingerprint_ =
            "SELECT (SELECT group_concat(id || coalesce(name, '') || hectares || coalesce(note, '')) FROM plot),"
            " (SELECT group_concat(id || plot_id || variety) FROM tree),"
            " (SELECT group_concat(name || coalesce(sql, '')) FROM sqlite_schema),"
            " (SELECT * FROM pragma_user_version), (SELECT * FROM pragma_application_id),"
            " (SELECT * FROM pragma_journal_mode), (SELECT * FROM pragma_auto_vacuum),"
            " (SELECT * FROM pragma_page_size), (SELECT * FROM pragma_encoding), (SELECT * FROM pragma_schema_version)";
        own_ =
            "SELECT (SELECT * FROM pragma_foreign_keys), (SELECT * FROM pragma_ignore_check_constraints),"
            " (SELECT * FROM pragma_locking_mode), (SELECT * FROM pragma_synchronous),"
            " (SELECT * FROM pragma_recursive_triggers), (SELECT count(*) FROM pragma_database_list)";
    }

    [[nodiscard]] std::string filled(const std::string& sql) const {
        return replaced(replaced(sql, "VICTIM", victimId_.empty() ? "0" : victimId_), "OUTFILE", outFile());
    }
    [[nodiscard]] std::string outFile() const {
        const std::filesystem::path folder = GetParam().engine == Engine::Postgres  ? test::sharedPostgres().folder()
                                             : GetParam().engine == Engine::MariaDb ? test::sharedMariaDb().folder()
                                                                                    : folder_.path();
        return folder / "stolen.out";
    }
    std::string worldNow(Line& watcher) {
        const auto rows = watcher.rows(filled(fingerprint_));
        return rows.empty() ? "nothing" : rows.front() + (std::filesystem::exists(outFile()) ? " and a file" : "");
    }

    test::TemporaryFolder folder_;
    ConnectionProfile profile_;
    std::string fingerprint_;
    std::string own_;
    std::string victimId_;
    std::unique_ptr<Line> victim_;
};

TEST_P(GuardedStatementsTest, HarmfulOnesAreHeldBackAndChangeNothing) {
    const std::vector<std::string> statements = corpus(GetParam().harmful);
    ASSERT_GE(std::set<std::string>(statements.begin(), statements.end()).size(), GetParam().leastHarmful);
    Line watcher(profile_);
    const std::string before = worldNow(watcher);
    ASSERT_THAT(before, testing::Not(testing::HasSubstr("failed")));
    LiveLine line(profile_);
    // What was prepared with a confirmation runs only with another one.
    if (GetParam().engine != Engine::Sqlite) {
        const bool isPostgres = GetParam().engine == Engine::Postgres;
        line.run(isPostgres ? "PREPARE fell AS DELETE FROM tree" : "PREPARE fell FROM 'DELETE FROM tree'", true);
    }
    const auto own = test::rowsOf(line.run(own_)->result());
    ASSERT_FALSE(own.empty());
    for (const std::string& statement : statements) {
        const std::string sql = filled(statement);
        const auto run = line.run(sql);
        EXPECT_TRUE(run->summary().held) << sql << "\n  was not held back"
                                         << (run->error() ? ": " + run->error()->text() : " and ran");
        EXPECT_FALSE(run->summary().held.value_or(HeldBack{.reason = "-"}).reason.empty()) << sql;
        const std::string after = worldNow(watcher);
        ASSERT_EQ(after, before) << sql << "\n  changed something";
        ASSERT_EQ(line->state().connection.transaction, TransactionState::None) << sql;
    }
    EXPECT_EQ(test::rowsOf(line.run(own_)->result()), own);
}

TEST_P(GuardedStatementsTest, ReadingOnesRunWithoutAnybodyBeingAsked) {
    const std::vector<std::string> statements = corpus(GetParam().reading);
    ASSERT_GE(std::set<std::string>(statements.begin(), statements.end()).size(), 300U);
    LiveLine line(profile_);
    for (const std::string& sql : statements) {
        const auto run = line.run(filled(sql));
        const bool isHeld = run->summary().held.has_value();
        EXPECT_FALSE(isHeld) << sql << "\n  was held back: " << (isHeld ? run->summary().held->reason : "");
        EXPECT_TRUE(isHeld || !run->error()) << sql << ": " << run->error().value_or(Error{}).text();
    }
}

INSTANTIATE_TEST_SUITE_P(Engines, GuardedStatementsTest,
                         testing::Values(World{Engine::Postgres, "postgres_harmful.txt", "postgres_reading.txt", 400},
                                         World{Engine::MariaDb, "mariadb_harmful.txt", "mariadb_reading.txt", 400},
                                         World{Engine::Sqlite, "sqlite_harmful.txt", "sqlite_reading.txt", 150}),
                         [](const auto& world) { return std::string(engineWord(world.param.engine)); });

}  // namespace
}  // namespace pantry::db
