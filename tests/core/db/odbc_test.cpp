// What comes through a driver of ODBC, shown with the drivers of three engines.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <future>
#include <thread>

#include "core/db/address.h"
#include "core/db/driver.h"
#include "core/db/engine_bench.h"
#include "core/db/places_on_server.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using test::Line;
using testing::ElementsAre;
using testing::HasSubstr;

/// Words that lead to the throwaway server; its socket carries the usual port in its name.
std::string postgresSource() {
    return fmt::format("DRIVER={{PostgreSQL Unicode}};Servername={};Port=5432;Database=postgres",
                       test::sharedPostgres().folder().string());
}

enum class Through { Sqlite, Postgres, MariaDb };

class OdbcTest : public testing::TestWithParam<Through> {
protected:
    void SetUp() override {
        if (GetParam() == Through::Postgres) {
            ASSERT_EQ(test::sharedPostgres().startup(), "");
        }
        if (GetParam() != Through::MariaDb) return;
        ASSERT_EQ(test::sharedMariaDb().startup(), "");
        Line line(test::profileFor(test::sharedMariaDb()));
        line.run("CREATE DATABASE IF NOT EXISTS through_odbc CHARACTER SET utf8mb4");
    }
    [[nodiscard]] ConnectionProfile profile() const {
        ConnectionProfile p{.id = "odbc", .name = "source", .engine = Engine::Odbc};
        switch (GetParam()) {
            case Through::Sqlite:
                p.database = fmt::format("DRIVER=SQLite3;Database={}", (folder_ / "a.db").string());
                break;
            case Through::Postgres:
                p.user = test::sharedPostgres().user();
                p.database = postgresSource();
                break;
            case Through::MariaDb:
                p.user = "root";
                p.database = fmt::format("DRIVER={{MariaDB Unicode}};SOCKET={};Database=through_odbc",
                                         test::sharedMariaDb().socket());
        }
        return p;
    }
    void fill(Line& line) const {
        line.run("DROP TABLE IF EXISTS apple_harvest");
        line.run("DROP TABLE IF EXISTS apple_tree");
        const char* statements[] = {
            "CREATE TABLE apple_tree (apple_tree_id integer PRIMARY KEY, variety varchar(40) NOT NULL, kilograms "
            "decimal(8,3))",
            "CREATE TABLE apple_harvest (harvest_id integer PRIMARY KEY, apple_tree_id integer NOT NULL, "
            "CONSTRAINT of_tree FOREIGN KEY (apple_tree_id) REFERENCES apple_tree (apple_tree_id))",
            "INSERT INTO apple_tree VALUES (1, 'Belle 🍏 d’Été', 12.250), (2, 'Gärtners', NULL)"};
        for (const char* sql : statements) {
            const auto run = line.run(sql);
            ASSERT_FALSE(run->error()) << run->error()->text();
        }
    }
    test::TemporaryFolder folder_;
};

TEST_P(OdbcTest, RowsComeAsTheyAreWithNamesAndTypes) {
    Line line(profile());
    fill(line);
    const auto read = line.run("SELECT apple_tree_id, variety, kilograms FROM apple_tree ORDER BY apple_tree_id");
    ASSERT_FALSE(read->error()) << read->error()->text();
    EXPECT_THAT(test::rowsOf(read->result()),
                ElementsAre(GetParam() == Through::Sqlite ? "1|Belle 🍏 d’Été|12.25" : "1|Belle 🍏 d’Été|12.250",
                            "2|Gärtners|∅"));
    EXPECT_EQ(read->result()->columns()[1].name, "variety");
    EXPECT_EQ(read->result()->columns()[0].type, data::ColumnType::Integer);
    EXPECT_EQ(line.run("UPDATE apple_tree SET kilograms = 1 WHERE apple_tree_id > 0")->summary().result.affectedRows,
              2);
    EXPECT_EQ(line.run("UPDATE apple_tree SET kilograms = 1 WHERE apple_tree_id > 5")->summary().result.affectedRows,
              0);
}

TEST_P(OdbcTest, ALongTextIsWholeWhereverItsPiecesAreCut) {
    Line line(profile());
    line.run("DROP TABLE IF EXISTS note");
    line.run("CREATE TABLE note (words text)");
    std::string words;
    for (int i = 0; i < 9000; ++i) words += i % 3 == 0 ? "🌳" : "é";
    ASSERT_FALSE(line.run("INSERT INTO note VALUES (:words)", {{"words", words}})->error());
    const auto rows = line.rows("SELECT words FROM note");
    ASSERT_EQ(rows.size(), 1U);
    EXPECT_TRUE(rows[0] == words) << "begins with " << rows[0].substr(0, 20);
}

TEST_P(OdbcTest, ManyRowsComePageByPage) {
    Line line(profile());
    fill(line);
    std::string series = "SELECT 0 AS n";
    for (int i = 1; i < 10; ++i) series += fmt::format(" UNION ALL SELECT {}", i);
    const auto read = line.run(
        fmt::format("SELECT a.n + 10 * b.n + 100 * c.n + 1000 * d.n FROM ({0}) a, ({0}) b, ({0}) c, ({0}) d", series));
    ASSERT_FALSE(read->error()) << read->error()->text();
    EXPECT_EQ(read->result()->rowCount(), 10'000U);
}

TEST_P(OdbcTest, TransactionsAreBegunAndUndoneThroughTheDriver) {
    Line line(profile());
    fill(line);
    line.run("BEGIN");
    line.run("DELETE FROM apple_tree");
    EXPECT_EQ(line->state().connection.transaction, TransactionState::Open);
    EXPECT_EQ(line->state().openChanges, 2);
    line.run("ROLLBACK");
    EXPECT_EQ(line->state().connection.transaction, TransactionState::None);
    EXPECT_THAT(line.rows("SELECT count(*) FROM apple_tree"), ElementsAre("2"));
}

TEST_P(OdbcTest, AnErrorIsTheServersWithoutTheDriversPrefixes) {
    Line line(profile());
    const auto run = line.run("SELECT wheer FROM nowhere");
    ASSERT_TRUE(run->error());
    EXPECT_THAT(run->error()->message, HasSubstr("nowhere"));
    EXPECT_EQ(run->error()->message.find('['), std::string::npos);
    EXPECT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
}

TEST_P(OdbcTest, TheCatalogHasTablesColumnsAndKeys) {
    Line line(profile());
    fill(line);
    std::promise<Result<catalog::CatalogPtr>> promise;
    line->loadCatalog({}, [&](Result<catalog::CatalogPtr> c) { promise.set_value(std::move(c)); });
    const auto catalog = promise.get_future().get();
    ASSERT_TRUE(catalog) << catalog.error().text();
    const auto& all = (*catalog)->relations();
    const auto apple_harvest = std::ranges::find(all, "apple_harvest", &catalog::Relation::name);
    ASSERT_NE(apple_harvest, all.end());
    EXPECT_EQ((*apple_harvest)->column("harvest_id")->keyPosition, 1);
    ASSERT_EQ((*apple_harvest)->foreignKeys.size(), 1U);
    EXPECT_EQ((*apple_harvest)->foreignKeys[0].relation, "apple_tree");
    EXPECT_THAT((*apple_harvest)->foreignKeys[0].referencedColumns, ElementsAre("apple_tree_id"));
}

TEST_P(OdbcTest, AConnectionForReadingRefusesChanges) {
    {
        Line line(profile());
        fill(line);
    }
    ConnectionProfile p = profile();
    p.isReadOnly = true;
    Line line(p);
    EXPECT_EQ(line.run("DELETE FROM apple_tree")->error()->kind, ErrorKind::ReadOnly);
    EXPECT_THAT(line.rows("SELECT count(*) FROM apple_tree"), ElementsAre("2"));
}

std::string throughName(const testing::TestParamInfo<Through>& through) {
    const char* names[] = {"Sqlite", "Postgres", "MariaDb"};
    return names[static_cast<std::size_t>(through.param)];
}

INSTANTIATE_TEST_SUITE_P(Drivers, OdbcTest, testing::Values(Through::Sqlite, Through::Postgres, Through::MariaDb),
                         throughName);

TEST(OdbcStopTest, AComputingStatementIsStopped) {
    ASSERT_EQ(test::sharedPostgres().startup(), "");
    ConnectionProfile p{.id = "odbc", .name = "source", .engine = Engine::Odbc, .user = test::sharedPostgres().user()};
    p.database = postgresSource();
    Line line(p);
    Line watcher(test::profileFor(test::sharedPostgres()));
    auto recorder = std::make_shared<test::RunRecorder>();
    const auto handle = line->execute({.statement = "SELECT pg_sleep(88)", .pageRows = 10}, recorder);
    const std::string running =
        "SELECT count(*)::text FROM pg_stat_activity WHERE query LIKE 'SELECT pg_sleep(88%' AND state = 'active'";
    while (watcher.rows(running).front() != "1") std::this_thread::sleep_for(std::chrono::milliseconds(10));
    handle.cancel();
    recorder->waitForEnd();
    EXPECT_EQ(recorder->error()->kind, ErrorKind::Cancelled);
    EXPECT_EQ(watcher.rows(running).front(), "0");
}

TEST(OdbcAddressTest, ADriversOwnSettingsStayAndThePasswordDoesNot) {
    const auto address = parseAddress("Driver={PostgreSQL Unicode};Servername=trial-db;Uid=inspector;Pwd=secret");
    ASSERT_TRUE(address);
    EXPECT_EQ(address->profile.engine, Engine::Odbc);
    EXPECT_EQ(address->profile.user, "inspector");
    EXPECT_EQ(address->password, "secret");
    EXPECT_EQ(address->profile.database, "Driver={PostgreSQL Unicode};Servername=trial-db;");
    const auto again = parseAddress(addressOf(address->profile));
    ASSERT_TRUE(again);
    EXPECT_EQ(again->profile.database, address->profile.database);
    EXPECT_EQ(parseAddress("DSN=orchard")->profile.database, "orchard");
}

TEST(OdbcAddressTest, APastedStringConnectsAsItIsKept) {
    const test::TemporaryFolder folder;
    const auto address = parseAddress(fmt::format("DRIVER=SQLite3; Database={}", (folder / "a.db").string()));
    ASSERT_TRUE(address);
    EXPECT_THAT(Line(address->profile).rows("SELECT 40 + 2"), ElementsAre("42"));
    ConnectionProfile typed = address->profile;
    typed.database = fmt::format("DRIVER = SQLite3 ; Database = {} ;", (folder / "a.db").string());
    EXPECT_THAT(Line(typed).rows("SELECT 40 + 2"), ElementsAre("42"));
}

TEST(OdbcAddressTest, ASourceThatIsNotSetUpIsNamedWithWhatToDo) {
    Line line({.id = "odbc", .name = "source", .engine = Engine::Odbc, .database = "no-such-source"});
    const auto run = line.run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::NotFound);
    EXPECT_THAT(run->error()->hint, HasSubstr("odbc.ini"));
}

TEST(PlacesOnServerTest, TheDatabasesOfAServerAreListedThoughTheNamedOneIsNotThere) {
    ASSERT_EQ(test::sharedPostgres().startup(), "");
    ASSERT_EQ(test::sharedMariaDb().startup(), "");
    const auto postgres = placesOnServer(test::profileFor(test::sharedPostgres(), "no-such-database"), {}, {});
    ASSERT_TRUE(postgres) << postgres.error().text();
    EXPECT_THAT(*postgres, testing::Contains("postgres"));
    EXPECT_THAT(*postgres, testing::Not(testing::Contains("template0")));
    const auto mariadb = placesOnServer(test::profileFor(test::sharedMariaDb(), "no-such-database"), {}, {});
    ASSERT_TRUE(mariadb) << mariadb.error().text();
    EXPECT_THAT(*mariadb, testing::Contains("mysql"));
}

}  // namespace
}  // namespace pantry::db
