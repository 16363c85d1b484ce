// The second lock: what a server itself refuses on a guarded line, and how a confirmation opens it for one statement.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/db/engine_bench.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using test::Line;
using test::rowsOf;
using testing::ElementsAre;
using testing::HasSubstr;

class GuardedLinesTest : public testing::TestWithParam<Engine> {
protected:
    void SetUp() override {
        switch (GetParam()) {
            case Engine::Postgres:
                ASSERT_EQ(test::sharedPostgres().startup(), "");
                profile_ = test::profileFor(test::sharedPostgres());
                break;
            case Engine::MariaDb:
                ASSERT_EQ(test::sharedMariaDb().startup(), "");
                Line(test::profileFor(test::sharedMariaDb())).run("CREATE DATABASE IF NOT EXISTS locked");
                profile_ = test::profileFor(test::sharedMariaDb(), "locked");
                break;
            default: profile_ = test::profileOf(folder_ / "locked.db"); test::writeFile(profile_.database, "");
        }
        Line line(profile_);
        line.run("DROP TABLE IF EXISTS jar");
        ASSERT_FALSE(line.run("CREATE TABLE jar (id int PRIMARY KEY, label varchar(40))")->error());
        ASSERT_FALSE(line.run("INSERT INTO jar VALUES (1, 'plum'), (2, 'quince')")->error());
    }

    /// Only the server's own mode: nothing is looked at before.
    static RunGuard onlyLocked() { return {.isLocked = true}; }
    static RunGuard confirmed() { return {.guard = Guard::Changes, .isLocked = true, .isConfirmed = true}; }

    std::shared_ptr<test::RunRecorder> run(Session& session, const std::string& sql, RunGuard guard) {
        auto recorder = std::make_shared<test::RunRecorder>();
        session.execute({.statement = sql, .pageRows = std::nullopt, .guard = guard}, recorder);
        recorder->waitForEnd();
        return recorder;
    }
    std::string jars() { return Line(profile_).rows("SELECT count(*) FROM jar").front(); }

    test::TemporaryFolder folder_;
    ConnectionProfile profile_;
};

/// Promises of engines with functions of their users' own.
class GuardedServersTest : public GuardedLinesTest {};
/// And of PostgreSQL alone.
class GuardedPostgresTest : public GuardedLinesTest {};

TEST_P(GuardedLinesTest, TheEngineItselfRefusesWhatChangesAndThatIsOfferedAsHeldBack) {
    Session session(profile_, std::nullopt);
    for (const char* sql : {"INSERT INTO jar VALUES (3, 'medlar')", "UPDATE jar SET label = 'x'",
                            "DELETE FROM jar WHERE id = 1", "DROP TABLE jar", "CREATE TABLE other (a int)"}) {
        const auto refused = run(session, sql, onlyLocked());
        ASSERT_TRUE(refused->error()) << sql;
        EXPECT_EQ(refused->error()->kind, ErrorKind::ReadOnly) << sql << ": " << refused->error()->text();
        ASSERT_TRUE(refused->summary().held) << sql;
        EXPECT_TRUE(refused->summary().held->wasRefused);
        EXPECT_TRUE(refused->summary().wasSent);
        EXPECT_EQ(refused->summary().held->reason, refused->error()->message);
    }
    EXPECT_TRUE(session.state().connection.isLocked);
    EXPECT_FALSE(session.state().connection.isReadOnly) << "nobody chose that";
    EXPECT_EQ(jars(), "2");
}

TEST_P(GuardedLinesTest, AConfirmationOpensTheLineForOneStatement) {
    Session session(profile_, std::nullopt);
    EXPECT_EQ(rowsOf(run(session, "SELECT count(*) FROM jar", onlyLocked())->result()), std::vector<std::string>{"2"});
    const auto changed = run(session, "INSERT INTO jar VALUES (3, 'medlar')", confirmed());
    EXPECT_FALSE(changed->error()) << changed->error()->text();
    EXPECT_TRUE(run(session, "INSERT INTO jar VALUES (4, 'sloe')", onlyLocked())->error());
    const auto failed = run(session, "INSERT INTO jar VALUES (3, 'again')", confirmed());
    EXPECT_TRUE(failed->error()) << "a key twice";
    EXPECT_TRUE(run(session, "DELETE FROM jar", onlyLocked())->error()) << "closed after a failure as well";
    EXPECT_EQ(jars(), "3");
}

TEST_P(GuardedLinesTest, ATransactionThatSomebodyBeganTakesConfirmedChanges) {
    Session session(profile_, std::nullopt);
    const RunGuard guard{.guard = Guard::Changes, .isLocked = true};
    EXPECT_FALSE(run(session, "SELECT 1", guard)->error());
    for (const char* ending : {"ROLLBACK", "COMMIT"}) {
        ASSERT_FALSE(run(session, "BEGIN", guard)->error());
        EXPECT_FALSE(run(session, "SELECT count(*) FROM jar", guard)->error());
        const auto held = run(session, "INSERT INTO jar VALUES (5, 'sloe')", guard);
        EXPECT_TRUE(held->summary().held);
        EXPECT_FALSE(held->summary().wasSent);
        const auto changed = run(session, "INSERT INTO jar VALUES (5, 'sloe')", confirmed());
        EXPECT_FALSE(changed->error()) << changed->error()->text();
        EXPECT_EQ(rowsOf(run(session, "SELECT count(*) FROM jar", guard)->result()), std::vector<std::string>{"3"});
        EXPECT_EQ(session.state().connection.transaction, TransactionState::Open);
        EXPECT_EQ(session.state().openChanges, 1);
        ASSERT_FALSE(run(session, ending, guard)->error());
    }
    EXPECT_EQ(jars(), "3");
    EXPECT_TRUE(run(session, "DELETE FROM jar", onlyLocked())->error());
}

TEST_P(GuardedLinesTest, WhereReadingOnlyWasChosenAConfirmationOpensOnceToo) {
    profile_.isReadOnly = true;
    Session session(profile_, std::nullopt);
    const RunGuard guard = runGuardOf(profile_);
    const auto refused = run(session, "DELETE FROM jar WHERE id = 1", guard);
    ASSERT_TRUE(refused->summary().held);
    EXPECT_TRUE(refused->summary().held->wasRefused) << "the engine's own reason";
    EXPECT_TRUE(session.state().connection.isReadOnly);
    RunGuard consent = guard;
    consent.isConfirmed = true;
    EXPECT_FALSE(run(session, "DELETE FROM jar WHERE id = 1", consent)->error());
    EXPECT_TRUE(run(session, "DELETE FROM jar WHERE id = 2", guard)->error());
    EXPECT_TRUE(session.state().connection.isReadOnly);
    EXPECT_EQ(jars(), "1");
}

TEST_P(GuardedLinesTest, AnUnlockedRunOpensTheLineAgain) {
    Session session(profile_, std::nullopt);
    EXPECT_TRUE(run(session, "DELETE FROM jar", onlyLocked())->error());
    EXPECT_FALSE(run(session, "DELETE FROM jar", {})->error()) << "the connection became a local one";
    EXPECT_EQ(jars(), "0");
}

TEST_P(GuardedLinesTest, OneTextIsOneStatement) {
    Session session(profile_, std::nullopt);
    const auto two = run(session, "SELECT 1; DELETE FROM jar", {});
    EXPECT_TRUE(two->error()) << "the server itself takes one at a time";
    EXPECT_EQ(jars(), "2");
}

TEST_P(GuardedServersTest, CountingNeverExecutes) {
    Line admin(profile_);
    const bool isPostgres = GetParam() == Engine::Postgres;
    admin.run("DROP FUNCTION IF EXISTS cull");
    const auto made =
        admin.run(isPostgres ? "CREATE FUNCTION cull() RETURNS int LANGUAGE sql AS 'DELETE FROM jar; SELECT 1'"
                             : "CREATE FUNCTION cull() RETURNS int BEGIN DELETE FROM jar; RETURN 1; END");
    ASSERT_FALSE(made->error()) << made->error()->text();
    const auto held = heldBack(runGuardOf(profile_), {.engine = GetParam()}, "DELETE FROM jar");
    ASSERT_TRUE(held);
    Session session(profile_, std::nullopt);
    EXPECT_EQ(rowsOf(run(session, held->countQuery, onlyReading())->result()), std::vector<std::string>{"2"});
    const auto counted = run(session, "SELECT count(*) FROM jar WHERE cull() >= 0", onlyReading());
    ASSERT_TRUE(counted->error());
    EXPECT_EQ(counted->error()->kind, ErrorKind::HeldBack);
    EXPECT_THAT(counted->error()->message, HasSubstr("cull()"));
    EXPECT_FALSE(counted->summary().held) << "nobody is asked to confirm a count";
    EXPECT_EQ(jars(), "2");
    admin.run("DROP FUNCTION cull");
}

TEST_P(GuardedPostgresTest, TemporaryFunctionsAndViewsOverSeveralLevelsAreSeenThrough) {
    Line admin(profile_);
    admin.run("DROP SCHEMA IF EXISTS hidden CASCADE");
    for (const char* sql : {"CREATE SCHEMA hidden", "CREATE VIEW hidden.lock AS SELECT pg_try_advisory_lock(5) AS l",
                            "CREATE VIEW hidden.upper AS SELECT * FROM hidden.lock",
                            "CREATE VIEW hidden.top AS SELECT count(*) AS n FROM hidden.upper"}) {
        ASSERT_FALSE(admin.run(sql)->error()) << sql;
    }
    Session session(profile_, std::nullopt);
    const RunGuard guard{.guard = Guard::Changes, .isLocked = true};
    for (const char* sql :
         {"CREATE FUNCTION pg_temp.fell() RETURNS int LANGUAGE sql AS 'SELECT pg_advisory_lock(6); SELECT 1'",
          "CREATE TEMPORARY VIEW felling AS SELECT pg_temp.fell() AS n"}) {
        const auto made = run(session, sql, confirmed());
        ASSERT_FALSE(made->error()) << made->error()->text();
    }
    for (const char* sql : {"SELECT pg_temp.fell()", "SELECT * FROM felling", "TABLE pg_temp.felling",
                            "SELECT n FROM hidden.top", "WITH a AS (TABLE hidden.upper) SELECT 1 FROM a"}) {
        const auto held = run(session, sql, guard);
        EXPECT_TRUE(held->summary().held && !held->summary().wasSent) << sql;
    }
    EXPECT_EQ(admin.rows("SELECT count(*) FROM pg_locks WHERE locktype = 'advisory'").front(), "0");
    admin.run("DROP SCHEMA hidden CASCADE");
}

TEST_P(GuardedServersTest, ByHandWhatMayChangeSomethingBeginsATransaction) {
    const bool isPostgres = GetParam() == Engine::Postgres;
    Line admin(profile_);
    admin.run("DROP FUNCTION IF EXISTS cull");
    admin.run(isPostgres ? "CREATE FUNCTION cull() RETURNS int LANGUAGE sql AS 'DELETE FROM jar; SELECT 1'"
                         : "CREATE FUNCTION cull() RETURNS int BEGIN DELETE FROM jar; RETURN 1; END");
    Session session(profile_, std::nullopt);
    session.setCommitsByHand(true);
    EXPECT_FALSE(run(session, "SELECT count(*), lower('A') FROM jar", {})->error());
    EXPECT_EQ(session.state().connection.transaction, TransactionState::None) << "plain reading";
    std::vector<std::string> statements{"SELECT cull()", "SELECT * FROM jar FOR UPDATE"};
    if (isPostgres)
        statements.push_back("WITH d AS (WITH z AS (SELECT 1) DELETE FROM jar RETURNING 1) SELECT * FROM d");
    for (const std::string& sql : statements) {
        const auto ran = run(session, sql, {});
        EXPECT_FALSE(ran->error()) << sql << ": " << ran->error()->text();
        EXPECT_EQ(session.state().connection.transaction, TransactionState::Open) << sql;
        EXPECT_EQ(jars(), "2") << sql;
        EXPECT_FALSE(run(session, "ROLLBACK", {})->error());
        EXPECT_EQ(jars(), "2") << sql;
    }
    admin.run("DROP FUNCTION cull");
}

TEST_P(GuardedPostgresTest, ATransactionsLevelCanBeSetBehindItsBeginning) {
    Session session(profile_, std::nullopt);
    const RunGuard guard{.guard = Guard::Changes, .isLocked = true};
    EXPECT_FALSE(run(session, "BEGIN", guard)->error());
    const auto set = run(session, "SET TRANSACTION ISOLATION LEVEL SERIALIZABLE", guard);
    EXPECT_FALSE(set->error()) << set->error()->text();
    EXPECT_EQ(session.state().connection.isolation, "serializable");
    EXPECT_FALSE(run(session, "SELECT 1", guard)->error());
    EXPECT_FALSE(run(session, "COMMIT", guard)->error());
}

TEST_P(GuardedLinesTest, AFailedReadingInATransactionIsToldAndTheTransactionIsTheUsersToEnd) {
    Session session(profile_, std::nullopt);
    const RunGuard guard{.guard = Guard::Changes, .isLocked = true};
    ASSERT_FALSE(run(session, "BEGIN", guard)->error());
    EXPECT_TRUE(run(session, "SELECT nothing FROM nowhere", guard)->error());
    EXPECT_FALSE(run(session, "ROLLBACK", guard)->error());
    EXPECT_EQ(session.state().connection.transaction, TransactionState::None);
    EXPECT_FALSE(run(session, "SELECT count(*) FROM jar", guard)->error());
}

std::string engineNamed(const testing::TestParamInfo<Engine>& engine) { return std::string(engineWord(engine.param)); }

INSTANTIATE_TEST_SUITE_P(Engines, GuardedLinesTest, testing::Values(Engine::Postgres, Engine::MariaDb, Engine::Sqlite),
                         engineNamed);
INSTANTIATE_TEST_SUITE_P(Engines, GuardedServersTest, testing::Values(Engine::Postgres, Engine::MariaDb), engineNamed);
INSTANTIATE_TEST_SUITE_P(Engines, GuardedPostgresTest, testing::Values(Engine::Postgres), engineNamed);

}  // namespace
}  // namespace pantry::db
