// Every engine keeps the same promises to a session, shown on real servers.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <atomic>
#include <future>
#include <thread>

#include "core/db/engine_bench.h"
#include "core/db/host_lookup.h"
#include "core/sql/write/ordered_query.h"

namespace pantry::db {
namespace {

using test::Line;
using test::rowsOf;
using testing::ElementsAre;
using testing::HasSubstr;

class EnginesTest : public testing::TestWithParam<Engine> {
protected:
    void SetUp() override {
        ASSERT_EQ(test::sharedPostgres().startup(), "");
        ASSERT_EQ(test::sharedMariaDb().startup(), "");
        Line line(plainProfile());
        if (GetParam() == Engine::MariaDb) line.run("CREATE DATABASE IF NOT EXISTS records");
    }
    [[nodiscard]] ConnectionProfile plainProfile() const {
        return GetParam() == Engine::Postgres ? test::profileFor(test::sharedPostgres())
                                              : test::profileFor(test::sharedMariaDb());
    }
    [[nodiscard]] ConnectionProfile profile() const {
        ConnectionProfile p = plainProfile();
        if (GetParam() == Engine::MariaDb) p.database = "records";
        return p;
    }
    [[nodiscard]] bool isPostgres() const { return GetParam() == Engine::Postgres; }
    /// A query of so many rows.
    [[nodiscard]] std::string series(std::size_t rows) const {
        return isPostgres() ? fmt::format("SELECT n, 'row ' || n AS label FROM generate_series(1, {}) n", rows)
                            : fmt::format("SELECT seq AS n, concat('row ', seq) AS label FROM seq_1_to_{}", rows);
    }
    [[nodiscard]] std::string sleepFor(int seconds) const {
        return fmt::format("SELECT {}sleep({})", isPostgres() ? "pg_" : "", seconds);
    }
};

TEST_P(EnginesTest, AStatementIsCheckedWithoutBeingRun) {
    Line line(profile());
    line.run("DROP TABLE IF EXISTS checked");
    line.run("CREATE TABLE checked (id int, name varchar(40))");
    const auto opinionsOn = [&](std::vector<sql::Statement> statements) {
        std::promise<Result<std::vector<Session::Opinion>>> said;
        line->check(std::move(statements), [&](auto opinions) { said.set_value(std::move(opinions)); });
        auto opinions = said.get_future().get();
        EXPECT_TRUE(opinions) << opinions.error().text();
        return opinions.value_or(std::vector<Session::Opinion>());
    };
    const auto all =
        opinionsOn({"SELECT id FROM checked WHERE name = :name", "SELECT idd FROM checked", "DELETE FROM checkedd",
                    "INSERT INTO checked VALUES (1, 'a')", "SELEC 1", "DROP TABLE checked"});
    ASSERT_EQ(all.size(), 6U);
    EXPECT_FALSE(all[0].error) << all[0].error->text();
    ASSERT_TRUE(all[1].error);
    EXPECT_EQ(all[1].error->kind, ErrorKind::UnknownName);
    EXPECT_THAT(all[1].error->message, HasSubstr("idd"));
    ASSERT_TRUE(all[2].error);
    EXPECT_FALSE(all[3].error);
    EXPECT_TRUE(all[4].error);
    EXPECT_FALSE(all[5].isKnown) << "what defines something is only read";
    EXPECT_THAT(line.rows("SELECT count(*) FROM checked"), ElementsAre("0")) << "nothing ran";
}

TEST_P(EnginesTest, RowsComeWithNamesTypesAndOrigins) {
    Line line(profile());
    line.run("DROP TABLE IF EXISTS plot");
    line.run("CREATE TABLE plot (plot_id int PRIMARY KEY, name varchar(40), hectares decimal(6,2))");
    const auto inserted = line.run("INSERT INTO plot VALUES (1, 'Larkspur', 0.50), (2, NULL, 12.25)");
    EXPECT_EQ(inserted->summary().result.affectedRows, 2);
    const auto read = line.run("SELECT plot_id, name AS called, hectares, hectares * 2 AS twice FROM plot ORDER BY 1");
    ASSERT_FALSE(read->error()) << read->error()->text();
    EXPECT_THAT(rowsOf(read->result()), ElementsAre("1|Larkspur|0.50|1.00", "2|∅|12.25|24.50"));
    const auto& columns = read->result()->columns();
    EXPECT_EQ(columns[1].name, "called");
    EXPECT_EQ(columns[1].typeName, isPostgres() ? "character varying(40)" : "varchar(40)");
    EXPECT_EQ(columns[2].typeName, isPostgres() ? "numeric(6,2)" : "decimal(6,2)");
    EXPECT_EQ(columns[1].originTable, "plot");
    EXPECT_EQ(columns[1].originColumn, "name");
    EXPECT_EQ(columns[3].originTable, "");
    EXPECT_EQ(read->result()->cell(0, 0).kind, data::CellKind::Integer);
}

TEST_P(EnginesTest, OriginsTellTablesOfTheSameNameApart) {
    Line line(profile());
    const std::string kind = isPostgres() ? "SCHEMA" : "DATABASE";
    for (const std::string schema : {"cellar", "loft"}) {
        line.run(fmt::format("DROP {} IF EXISTS {}{}", kind, schema, isPostgres() ? " CASCADE" : ""));
        line.run(fmt::format("CREATE {} {}", kind, schema));
        line.run(fmt::format("CREATE TABLE {}.crate (crate_id int PRIMARY KEY, what varchar(20))", schema));
        line.run(fmt::format("INSERT INTO {}.crate VALUES (1, '{}')", schema, schema));
    }
    line.run("CREATE VIEW cellar.full_crate AS SELECT crate_id, what FROM loft.crate");
    const auto read = line.run(
        "SELECT c.what, l.what AS other, v.what AS seen FROM cellar.crate c JOIN loft.crate l ON l.crate_id = "
        "c.crate_id "
        "JOIN cellar.full_crate v ON v.crate_id = c.crate_id");
    ASSERT_FALSE(read->error()) << read->error()->text();
    const auto& columns = read->result()->columns();
    const auto originOf = [](const data::Column& c) {
        return c.originSchema + "." + c.originTable + "." + c.originColumn;
    };
    EXPECT_EQ(originOf(columns[0]), "cellar.crate.what");
    EXPECT_EQ(originOf(columns[1]), "loft.crate.what");
    // Of a view the engine tells the view, or what stands behind it; never a table that only shares its name.
    EXPECT_THAT(originOf(columns[2]), testing::AnyOf("cellar.full_crate.what", "loft.crate.what", ".."));
    const auto seen = line.run("SELECT what FROM cellar.full_crate");
    EXPECT_THAT(originOf(seen->result()->columns()[0]),
                testing::AnyOf("cellar.full_crate.what", "loft.crate.what", ".."));
    const auto here = line.run(isPostgres() ? "SET search_path TO loft" : "USE loft");
    ASSERT_FALSE(here->error());
    EXPECT_EQ(originOf(line.run("SELECT what FROM crate")->result()->columns()[0]), "loft.crate.what");
    EXPECT_EQ(originOf(line.run("SELECT what AS a, upper(what) AS b FROM crate")->result()->columns()[1]), "..");
}

TEST_P(EnginesTest, AnErrorIsToldAtItsPlace) {
    Line line(profile());
    const std::string sql = "SELECT 'Äpfel', wheer\nFROM nowhere";
    const auto run = line.run(isPostgres() ? "SELECT 'Äpfel' AS a,\n  wheer FROM (SELECT 1 AS b) AS x"
                                           : "SELECT 'Äpfel' AS a,\n  wheer FROM (SELECT 1 AS b) AS x");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::UnknownName);
    EXPECT_THAT(run->error()->message, HasSubstr("wheer"));
    EXPECT_EQ(line.run("SELECT 1 FROM nowhere_at_all")->error()->kind, ErrorKind::UnknownName);
    EXPECT_EQ(run->error()->byteOffset, std::string("SELECT 'Äpfel' AS a,\n  ").size());
    const auto syntax = line.run("SELECT 1,\n  FROM plot");
    ASSERT_TRUE(syntax->error());
    EXPECT_EQ(syntax->error()->byteOffset, 12U);
}

TEST_P(EnginesTest, AConstraintIsNamed) {
    Line line(profile());
    line.run("DROP TABLE IF EXISTS picking");
    line.run("DROP TABLE IF EXISTS variety");
    line.run("CREATE TABLE variety (id int PRIMARY KEY)");
    line.run("CREATE TABLE picking (id int, CONSTRAINT picking_variety FOREIGN KEY (id) REFERENCES variety (id))");
    const auto run = line.run("INSERT INTO picking VALUES (7)");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->constraint, "picking_variety");
    EXPECT_FALSE(run->error()->code.empty());
}

TEST_P(EnginesTest, ReadingPausesAfterTheFirstPageAndGoesOnOnDemand) {
    Line line(profile());
    auto recorder = std::make_shared<test::RunRecorder>();
    const RunHandle handle = line->execute({.statement = series(20'000), .pageRows = 500}, recorder);
    recorder->waitFor("paused");
    EXPECT_EQ(recorder->result()->rowCount(), 500U);
    handle.fetchMore(700);
    recorder->waitFor("paused", 2);
    EXPECT_EQ(recorder->result()->rowCount(), 1200U);
    handle.fetchAll();
    recorder->waitForEnd();
    EXPECT_EQ(recorder->result()->rowCount(), 20'000U);
    EXPECT_TRUE(recorder->summary().result.isComplete);
    EXPECT_EQ(data::toText(recorder->result()->cell(19'999, 1)), "row 20000");
}

TEST_P(EnginesTest, AnotherStatementEndsAPausedOneAndTheTransactionLives) {
    Line line(profile());
    line.run("DROP TABLE IF EXISTS tally");
    line.run("CREATE TABLE tally (n int)");
    line.run("BEGIN");
    line.run("INSERT INTO tally VALUES (1)");
    auto recorder = std::make_shared<test::RunRecorder>();
    line->execute({.statement = series(100'000), .pageRows = 100}, recorder);
    recorder->waitFor("paused");
    EXPECT_EQ(line.rows("SELECT n FROM tally").front(), "1");
    recorder->waitForEnd();
    EXPECT_FALSE(recorder->error());
    EXPECT_FALSE(recorder->summary().result.isComplete);
    EXPECT_EQ(line->state().connection.transaction, TransactionState::Open);
    EXPECT_FALSE(line.run("COMMIT")->error());
    EXPECT_THAT(line.rows("SELECT n FROM tally"), ElementsAre("1"));
}

TEST_P(EnginesTest, AStopReachesTheServerWhileItComputes) {
    Line line(profile());
    auto recorder = std::make_shared<test::RunRecorder>();
    line.rows("SELECT 1");
    const RunHandle handle = line->execute({.statement = sleepFor(600)}, recorder);
    recorder->waitFor("started");
    handle.cancel();
    recorder->waitForEnd();
    // MariaDB's sleep() answers 1 when it is interrupted; a stop is told as one all the same.
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::Cancelled);
    EXPECT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
}

TEST_P(EnginesTest, AStopWhileRowsComeKeepsThem) {
    Line line(profile());
    auto recorder = std::make_shared<test::RunRecorder>();
    const RunHandle handle = line->execute({.statement = series(30'000'000), .pageRows = std::nullopt}, recorder);
    recorder->waitForRows(1000);
    handle.cancel();
    recorder->waitForEnd();
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::Cancelled);
    EXPECT_GE(recorder->result()->rowCount(), 1000U);
    EXPECT_LT(recorder->result()->rowCount(), 30'000'000U);
    EXPECT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
}

TEST_P(EnginesTest, AStopEndsTheWaitForALock) {
    Line holder(profile());
    Line line(profile());
    holder.run("DROP TABLE IF EXISTS gate");
    holder.run("CREATE TABLE gate (id int PRIMARY KEY, n int)");
    holder.run("INSERT INTO gate VALUES (1, 1)");
    holder.run("BEGIN");
    holder.run("UPDATE gate SET n = 2 WHERE id = 1");
    line.rows("SELECT 1");
    auto recorder = std::make_shared<test::RunRecorder>();
    const RunHandle handle = line->execute({.statement = "UPDATE gate SET n = 3 WHERE id = 1"}, recorder);
    recorder->waitFor("started");
    handle.cancel();
    recorder->waitForEnd();
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::Cancelled);
    // On a busy machine the line may be given up before the server has heard of the wish; it hears of it all the same.
    const std::string waiting =
        isPostgres()
            ? "SELECT count(*) FROM pg_stat_activity WHERE state = 'active' AND query LIKE 'UPDATE gate SET n = 3%'"
            : "SELECT count(*) FROM information_schema.processlist WHERE info LIKE 'UPDATE gate SET n = 3%'";
    Line watcher(profile());
    while (watcher.rows(waiting).front() != "0") std::this_thread::sleep_for(std::chrono::milliseconds(10));
    holder.run("ROLLBACK");
    EXPECT_THAT(line.rows("SELECT n FROM gate"), ElementsAre("1"));
}

TEST_P(EnginesTest, AStopThatComesBeforeTheServerHasBegunIsNotForgotten) {
    Line holder(profile());
    Line line(profile());
    holder.run("DROP TABLE IF EXISTS hatch");
    holder.run("CREATE TABLE hatch (id int PRIMARY KEY, n int)");
    holder.run("INSERT INTO hatch VALUES (1, 1)");
    holder.run("BEGIN");
    line.run("CREATE TEMPORARY TABLE latch (n int)");
    holder.run("UPDATE hatch SET n = 2 WHERE id = 1");
    constexpr int kTimes = 30;
    for (int i = 0; i < kTimes; ++i) {
        auto recorder = std::make_shared<test::RunRecorder>();
        const RunHandle handle = line->execute({.statement = "UPDATE hatch SET n = 3 WHERE id = 1"}, recorder);
        std::this_thread::sleep_for(std::chrono::microseconds(100 * i));
        handle.cancel();
        recorder->waitForEnd();
        ASSERT_TRUE(recorder->error());
        EXPECT_EQ(recorder->error()->kind, ErrorKind::Cancelled);
    }
    EXPECT_THAT(line.rows("SELECT count(*) FROM latch"), ElementsAre("0")) << "the line was given up";
    holder.run("ROLLBACK");
    EXPECT_THAT(line.rows("SELECT n FROM hatch"), ElementsAre("1"));
}

TEST_P(EnginesTest, TheServerOrdersAsWasAskedInTheResult) {
    Line line(profile());
    line.run("DROP TABLE IF EXISTS shelf");
    line.run(isPostgres() ? "CREATE TABLE shelf (id int, \"order\" int)" : "CREATE TABLE shelf (id int, `order` int)");
    line.run("INSERT INTO shelf VALUES (1, 30), (2, 10), (3, 20)");
    const auto first = [&](std::string_view statement, const std::vector<std::string>& columns, sql::OrderWish wish) {
        const sql::Dialect dialect = isPostgres() ? sql::Dialect::Postgres : sql::Dialect::MySql;
        const auto ordered = sql::orderedQuery(statement, dialect, columns, {wish});
        return ordered ? line.rows(*ordered).front() : "none";
    };
    EXPECT_EQ(first("SELECT id FROM shelf ORDER BY id", {"id"}, {0, true}), "3");
    EXPECT_EQ(first("SELECT * FROM shelf;", {"id", "order"}, {1, false}).substr(0, 1), "2");
    EXPECT_EQ(first("SELECT id, id FROM shelf", {"id", "id"}, {1, true}).substr(0, 1), "3");
    EXPECT_EQ(first("SELECT id FROM shelf ORDER BY id LIMIT 2", {"id"}, {0, true}), "2") << "of what the limit chose";
    EXPECT_EQ(first("SELECT 5 AS n UNION SELECT 7", {"n"}, {0, true}), "7");
    EXPECT_EQ(first("WITH s AS (SELECT id FROM shelf) SELECT id FROM s", {"id"}, {0, true}), "3");
}

TEST_P(EnginesTest, ChangesAreCountedUntilTheTransactionEnds) {
    Line line(profile());
    line.run("DROP TABLE IF EXISTS ladder");
    line.run("CREATE TABLE ladder (n int)");
    line->setCommitsByHand(true);
    line.run("SELECT 1");
    EXPECT_EQ(line->state().connection.transaction, TransactionState::None) << "reading holds nothing open";
    line.run("INSERT INTO ladder VALUES (1), (2)");
    line.run("UPDATE ladder SET n = n + 1");
    EXPECT_EQ(line->state().connection.transaction, TransactionState::Open);
    EXPECT_EQ(line->state().openChanges, 4);
    Line other(profile());
    EXPECT_THAT(other.rows("SELECT count(*) FROM ladder"), ElementsAre("0"));
    line.run("ROLLBACK");
    EXPECT_EQ(line->state().openChanges, 0);
    EXPECT_EQ(line->state().connection.transaction, TransactionState::None);
    EXPECT_THAT(line.rows("SELECT count(*) FROM ladder"), ElementsAre("0"));
}

TEST_P(EnginesTest, WhatTheUserTypesShowsInTheState) {
    Line line(profile());
    if (isPostgres()) {
        line.run("CREATE SCHEMA IF NOT EXISTS kitchen");
        line.run("SET search_path TO kitchen, public");
        EXPECT_EQ(line->state().connection.schema, "kitchen");
        line.run("SET statement_timeout = '3s'");
        EXPECT_EQ(line->state().connection.statementLimit, std::chrono::seconds(3));
    } else {
        line.run("CREATE DATABASE IF NOT EXISTS kitchen");
        line.run("USE kitchen");
        EXPECT_EQ(line->state().connection.database, "kitchen");
        line.run("SET max_statement_time = 3");
        EXPECT_EQ(line->state().connection.statementLimit, std::chrono::seconds(3));
    }
    line.run("BEGIN");
    EXPECT_EQ(line->state().connection.transaction, TransactionState::Open);
    line.run("ROLLBACK");
    EXPECT_EQ(line->state().connection.transaction, TransactionState::None);
    EXPECT_THAT(line->state().connection.isolation, HasSubstr("read"));
}

TEST_P(EnginesTest, ARoleThatTheUserTakesShowsInTheState) {
    Line line(profile());
    line.run(isPostgres() ? "DO $$ BEGIN CREATE ROLE gatherer; EXCEPTION WHEN duplicate_object THEN NULL; END $$"
                          : "CREATE ROLE IF NOT EXISTS gatherer");
    line.run("SELECT 1");
    const std::string user = line->state().connection.user;
    EXPECT_TRUE(line->state().connection.role.empty());
    EXPECT_GT(line->state().connectedSince, base::Moment{});
    line.run("SET ROLE gatherer");
    EXPECT_EQ(line->state().connection.role, "gatherer");
    EXPECT_EQ(line->state().connection.user, user);
    line.run("SET ROLE NONE");
    EXPECT_TRUE(line->state().connection.role.empty());
}

TEST_P(EnginesTest, AReadOnlyConnectionIsRefusedByTheServer) {
    Line writer(profile());
    writer.run("DROP TABLE IF EXISTS sealed");
    writer.run("CREATE TABLE sealed (n int)");
    ConnectionProfile p = profile();
    p.isReadOnly = true;
    Line line(p);
    const auto run = line.run("INSERT INTO sealed VALUES (1)");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::ReadOnly) << run->error()->text();
    EXPECT_TRUE(line->state().connection.isReadOnly);
}

TEST_P(EnginesTest, StatementsRunOnConnecting) {
    ConnectionProfile p = profile();
    p.onConnect = isPostgres() ? "SET application_name = 'a; b'; SET work_mem = '5MB'" : "SET @greeting = 'a; b'";
    Line line(p);
    EXPECT_THAT(line.rows(isPostgres() ? "SHOW application_name" : "SELECT @greeting"), ElementsAre("a; b"));
    p.onConnect = "SELECT nonsense";
    Line broken(p);
    EXPECT_THAT(broken.rows("SELECT 1").front(), HasSubstr("A statement to run on connecting failed"));
}

TEST_P(EnginesTest, ParametersTakeAnyText) {
    Line line(profile());
    const std::string text = "O'Grady \\ \"quoted\" :x";
    const auto run = line.run("SELECT :text AS a, :none AS b", {{"text", text}, {"none", std::nullopt}});
    ASSERT_FALSE(run->error()) << run->error()->text();
    EXPECT_THAT(rowsOf(run->result()), ElementsAre(text + "|∅"));
}

TEST_P(EnginesTest, TheCatalogHoldsTablesKeysIndexesAndTriggers) {
    Line line(profile());
    for (const char* sql :
         {"DROP VIEW IF EXISTS tall_tree", "DROP TABLE IF EXISTS tree", "DROP TABLE IF EXISTS garden",
          "CREATE TABLE garden (garden_id int PRIMARY KEY, name varchar(40) NOT NULL DEFAULT 'new')",
          "CREATE TABLE tree (tree_id int PRIMARY KEY, garden_id int NOT NULL, height decimal(4,1), "
          "CONSTRAINT tree_garden FOREIGN KEY (garden_id) REFERENCES garden (garden_id) ON DELETE CASCADE)",
          "CREATE UNIQUE INDEX tree_height ON tree (height, tree_id)",
          "CREATE VIEW tall_tree AS SELECT tree_id FROM tree WHERE height > 3"}) {
        const auto run = line.run(sql);
        ASSERT_FALSE(run->error()) << sql << run->error()->text();
    }
    std::promise<Result<catalog::CatalogPtr>> promise;
    line->loadCatalog({}, [&](Result<catalog::CatalogPtr> loaded) { promise.set_value(std::move(loaded)); });
    const auto catalog = promise.get_future().get();
    ASSERT_TRUE(catalog) << catalog.error().text();
    const catalog::Relation* tree = (*catalog)->find("", "tree");
    ASSERT_NE(tree, nullptr);
    EXPECT_EQ(tree->schema, isPostgres() ? "public" : "records");
    ASSERT_EQ(tree->columns.size(), 3U);
    EXPECT_EQ(tree->columns[0].keyPosition, 1);
    EXPECT_FALSE(tree->columns[1].isNullable);
    ASSERT_EQ(tree->foreignKeys.size(), 1U);
    EXPECT_EQ(tree->foreignKeys[0].relation, "garden");
    EXPECT_EQ(tree->foreignKeys[0].onDelete, "CASCADE");
    EXPECT_THAT(tree->foreignKeys[0].columns, ElementsAre("garden_id"));
    const auto index = std::ranges::find(tree->indexes, "tree_height", &catalog::Index::name);
    ASSERT_NE(index, tree->indexes.end());
    EXPECT_TRUE(index->isUnique);
    EXPECT_THAT(index->columns, ElementsAre("height", "tree_id"));
    const catalog::Relation* view = (*catalog)->find("", "tall_tree");
    ASSERT_NE(view, nullptr);
    EXPECT_EQ(view->kind, catalog::ObjectKind::View);
    ASSERT_TRUE((*catalog)->find("", "garden")->columns[1].defaultValue);
}

TEST_P(EnginesTest, AnIdleLineIsClosedUnlessItHoldsSomething) {
    Line line(profile());
    line.run("BEGIN");
    const auto close = [&] {
        std::promise<bool> promise;
        line->closeIfIdle(std::chrono::seconds(0), [&](bool isClosed) { promise.set_value(isClosed); });
        return promise.get_future().get();
    };
    EXPECT_FALSE(close());
    line.run("ROLLBACK");
    EXPECT_TRUE(close());
    EXPECT_FALSE(line->state().isConnected);
    const auto again = line.run("SELECT 1");
    EXPECT_FALSE(again->error());
    EXPECT_TRUE(again->notices().empty()) << "nothing was lost, so there is nothing to tell";
}

INSTANTIATE_TEST_SUITE_P(All, EnginesTest, testing::Values(Engine::Postgres, Engine::MariaDb),
                         [](const auto& engine) { return engine.param == Engine::Postgres ? "Postgres" : "MariaDb"; });

// ---- What only one engine has ----

TEST(PostgresTest, ValuesAreExactlyAsSent) {
    Line line(test::profileFor(test::sharedPostgres()));
    EXPECT_THAT(line.rows("SELECT 1.10::numeric, 'infinity'::timestamptz, '1 mon 2 days'::interval, '{1,NULL}'::int[], "
                          "B'0101', true, '\\x00ff'::bytea, 0.1::float8, 9223372036854775807, '{\"a\": 1}'::jsonb"),
                ElementsAre(std::string("1.10|infinity|1 mon 2 days|{1,NULL}|0101|true|") + std::string("\0\xff", 2) +
                            "|0.1|9223372036854775807|{\"a\": 1}"));
}

TEST(PostgresTest, TypesMadeAMomentAgoHaveTheirNames) {
    Line line(test::profileFor(test::sharedPostgres()));
    line.run("CREATE TYPE ripeness AS ENUM ('green', 'ripe')");
    const auto run = line.run("SELECT 'ripe'::ripeness AS r");
    ASSERT_TRUE(run->result());
    EXPECT_EQ(run->result()->columns()[0].typeName, "ripeness");
}

TEST(PostgresTest, NoticesAndNotificationsAreTold) {
    Line line(test::profileFor(test::sharedPostgres()));
    const auto run = line.run("DO $$ BEGIN RAISE WARNING 'frost tonight'; END $$");
    EXPECT_THAT(run->notices(), ElementsAre("WARNING: frost tonight"));
    EXPECT_FALSE(line.run("LISTEN frost")->error());
    EXPECT_FALSE(Line(test::profileFor(test::sharedPostgres())).run("NOTIFY frost, 'plot 7'")->error());
    std::vector<std::string> heard;
    for (int i = 0; i < 50 && heard.empty(); ++i) heard = line.run("SELECT pg_sleep(0.02)")->notices();
    ASSERT_EQ(heard.size(), 1U);
    EXPECT_THAT(heard[0], HasSubstr("frost: plot 7"));
}

TEST(PostgresTest, NotificationsAreHeardWhileNothingRuns) {
    Line line(test::profileFor(test::sharedPostgres()));
    line.run("LISTEN sun");
    Line(test::profileFor(test::sharedPostgres())).run("NOTIFY sun, 'at last'");
    std::promise<std::vector<Notice>> promise;
    std::atomic<bool> isHeard{false};
    while (!isHeard) {
        line->pollNotices([&](std::vector<Notice> notices) {
            if (!isHeard.exchange(true)) promise.set_value(std::move(notices));
        });
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    EXPECT_THAT(promise.get_future().get().at(0).message, HasSubstr("sun: at last"));
}

TEST(PostgresTest, ALineThatListensIsNotClosedForBeingIdle) {
    Line line(test::profileFor(test::sharedPostgres()));
    const auto close = [&] {
        std::promise<bool> promise;
        line->closeIfIdle(std::chrono::seconds(0), [&](bool isClosed) { promise.set_value(isClosed); });
        return promise.get_future().get();
    };
    line.run("LISTEN rain");
    EXPECT_FALSE(close());
    line.run("UNLISTEN rain");
    EXPECT_TRUE(close());
}

TEST(PostgresTest, TheSessionsWayOfReadingTextsIsKnown) {
    Line line(test::profileFor(test::sharedPostgres()));
    line.run("SET standard_conforming_strings = off");
    EXPECT_EQ(line->state().connection.backslash, sql::Backslash::Escapes);
    Line kitchen(test::profileFor(test::sharedMariaDb()));
    kitchen.run("SET sql_mode = 'ANSI_QUOTES,NO_BACKSLASH_ESCAPES'");
    EXPECT_TRUE(kitchen->state().connection.quotesAreNames);
    EXPECT_EQ(kitchen->state().connection.backslash, sql::Backslash::Plain);
}

TEST(HostLookupTest, LookingUpAHostIsStoppedAndAnUnknownOneIsNamed) {
    ConnectionProfile p{.id = "far", .name = "far", .engine = Engine::Postgres, .host = "no-such-host.invalid"};
    base::Cancellation stop;
    stop.request();
    EXPECT_EQ(lookUpHost(p, stop).error().kind, ErrorKind::Cancelled);
    const Status unknown = lookUpHost(p, {});
    ASSERT_FALSE(unknown);
    EXPECT_THAT(unknown.error().message, HasSubstr("no-such-host.invalid"));
    p.host = "/run/nowhere";
    EXPECT_TRUE(lookUpHost(p, {})) << "a socket has no host";
}

TEST(PostgresTest, CopyReadsAndWritesTheLinesOfAScript) {
    Line line(test::profileFor(test::sharedPostgres()));
    line.run("CREATE TABLE copied (id int, name text)");
    const auto in = line.run("COPY copied FROM STDIN;\n1\tLarkspur\n2\t\\N\n\\.");
    ASSERT_FALSE(in->error()) << in->error()->text();
    EXPECT_EQ(in->summary().result.affectedRows, 2);
    EXPECT_THAT(line.rows("COPY copied TO STDOUT WITH (FORMAT csv)"), ElementsAre("1,Larkspur", "2,"));
    const auto open = line.run("COPY copied FROM STDIN;\n3\tx\n");
    ASSERT_TRUE(open->error());
    EXPECT_THAT(line.rows("SELECT count(*) FROM copied"), ElementsAre("2"));
}

TEST(PostgresTest, AStatementThatFailsLeavesTheTransactionToBeEnded) {
    Line line(test::profileFor(test::sharedPostgres()));
    line.run("BEGIN");
    line.run("SELECT nonsense");
    EXPECT_EQ(line->state().connection.transaction, TransactionState::Failed);
    const auto run = line.run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_THAT(run->error()->hint, HasSubstr("ROLLBACK"));
    line.run("ROLLBACK");
    EXPECT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
}

TEST(MariaDbTest, ValuesAreExactlyAsSent) {
    Line line(test::profileFor(test::sharedMariaDb()));
    const auto run = line.run(
        "SELECT 1.10, 18446744073709551615, b'0101' + 0, CAST('2026-11-23 08:00:00.25' AS datetime(2)), x'00ff', "
        "TIMESTAMP '2026-11-23 08:00:00', CAST(0.1 AS double), '-838:59:59'");
    ASSERT_FALSE(run->error()) << run->error()->text();
    EXPECT_THAT(rowsOf(run->result()), ElementsAre("1.10|18446744073709551615|5|2026-11-23 08:00:00.25|" +
                                                   std::string("\0\xff", 2) + "|2026-11-23 08:00:00|0.1|-838:59:59"));
    EXPECT_EQ(run->result()->columns()[1].typeName, "bigint unsigned");
    EXPECT_EQ(run->result()->columns()[4].type, data::ColumnType::Binary);
}

TEST(MariaDbTest, ACallReturnsAllItsResults) {
    Line line(test::profileFor(test::sharedMariaDb()));
    line.run("CREATE DATABASE IF NOT EXISTS records");
    line.run("USE records");
    line.run("CREATE OR REPLACE PROCEDURE two_results() BEGIN SELECT 1 AS a; SELECT 'x' AS b, 2 AS c; END");
    const auto run = line.run("CALL two_results()");
    ASSERT_FALSE(run->error()) << run->error()->text();
    ASSERT_EQ(run->results().size(), 2U);
    EXPECT_THAT(rowsOf(run->results()[0]), ElementsAre("1"));
    EXPECT_THAT(rowsOf(run->results()[1]), ElementsAre("x|2"));
    EXPECT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
}

TEST(MariaDbTest, WarningsAndGeneratedKeysAreTold) {
    Line line(test::profileFor(test::sharedMariaDb()));
    line.run("CREATE DATABASE IF NOT EXISTS records");
    line.run("USE records");
    line.run("CREATE OR REPLACE TABLE jar (id int AUTO_INCREMENT PRIMARY KEY, name varchar(3))");
    const auto run = line.run("INSERT IGNORE INTO jar (name) VALUES ('marmalade')");
    EXPECT_EQ(run->summary().result.generatedKey, "1");
    ASSERT_EQ(run->notices().size(), 1U);
    EXPECT_THAT(run->notices()[0], HasSubstr("WARNING: Data truncated"));
}

}  // namespace
}  // namespace pantry::db
