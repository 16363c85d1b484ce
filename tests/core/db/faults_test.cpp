// What may happen to servers and lines, done to real ones.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <sys/mount.h>

#include <filesystem>
#include <fstream>
#include <thread>

#include "core/db/engine_bench.h"

namespace pantry::db {
namespace {

using test::Line;
using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;

/// One server of each engine; every test leaves it running.
template <class Server>
class FaultsTest : public testing::Test {
protected:
    FaultsTest() : server_(theServer()) {}
    static Server& theServer() {
        static Server server;
        return server;
    }
    void SetUp() override {
        ASSERT_EQ(server_.startup(), "");
        if (!kIsPostgres) Line(test::profileFor(server_)).run("CREATE DATABASE IF NOT EXISTS records");
    }
    [[nodiscard]] ConnectionProfile profile() const {
        ConnectionProfile p = test::profileFor(server_);
        if (!kIsPostgres) p.database = "records";
        return p;
    }
    /// Until the server works on a statement with this word in it.
    void waitUntilRuns(const std::string& word) {
        Line watcher(profile());
        const std::string query =
            kIsPostgres
                ? "SELECT count(*) > 1 FROM pg_stat_activity WHERE state = 'active' AND query LIKE '%" + word + "%'"
                : "SELECT if(count(*) > 1, 'true', 'false') FROM information_schema.processlist WHERE info LIKE '%" +
                      word + "%'";
        while (watcher.rows(query).front() == "false") std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    static constexpr bool kIsPostgres = std::is_same_v<Server, demo::PostgresServer>;
    static std::string series(std::size_t rows) {
        return kIsPostgres ? fmt::format("SELECT n, repeat('x', 200) FROM generate_series(1, {}) n", rows)
                           : fmt::format("SELECT seq, repeat('x', 200) FROM mysql.seq_1_to_{}", rows);
    }
    /// A change that stays on its way until the server is gone.
    std::shared_ptr<test::RunRecorder> killDuringAnInsert(Line& line) {
        auto recorder = std::make_shared<test::RunRecorder>();
        const std::string rows = kIsPostgres ? "SELECT 1 FROM pg_sleep(60)" : "SELECT SLEEP(60)";
        line->execute({.statement = "INSERT INTO doubt " + rows, .pageRows = std::nullopt}, recorder);
        waitUntilRuns("INTO doubt");
        server_.kill();
        recorder->waitForEnd();
        return recorder;
    }
    static std::string sleep(int seconds) {
        return fmt::format("SELECT {}sleep({})", kIsPostgres ? "pg_" : "", seconds);
    }

    Server& server_;
};
using Servers = testing::Types<demo::PostgresServer, demo::MariaDbServer>;
struct ServerNames {
    template <class Server>
    static std::string GetName(int) {
        return std::is_same_v<Server, demo::PostgresServer> ? "Postgres" : "MariaDb";
    }
};
TYPED_TEST_SUITE(FaultsTest, Servers, ServerNames);

TYPED_TEST(FaultsTest, AServerKilledWhileRowsComeLeavesThemAndTheNextRunConnectsAgain) {
    Line line(this->profile());
    auto recorder = std::make_shared<test::RunRecorder>();
    line->execute({.statement = this->series(5'000'000), .pageRows = std::nullopt}, recorder);
    recorder->waitForRows(1000);
    this->server_.kill();
    recorder->waitForEnd();
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::ConnectionLost) << recorder->error()->text();
    EXPECT_THAT(recorder->error()->text(), HasSubstr("was lost"));
    EXPECT_GE(recorder->result()->rowCount(), 1000U);

    const auto down = line.run("SELECT 1");
    ASSERT_TRUE(down->error()) << "the server is still down";
    EXPECT_EQ(down->error()->kind, ErrorKind::Connection);

    this->server_.restart();
    ASSERT_EQ(this->server_.startup(), "");
    const auto again = line.run("SELECT 1");
    ASSERT_FALSE(again->error()) << again->error()->text();
    EXPECT_THAT(again->notices(), Contains(HasSubstr("Connected again")));
}

TYPED_TEST(FaultsTest, ALostTransactionIsToldAndNothingRunsInItsPlace) {
    Line line(this->profile());
    line.run("DROP TABLE IF EXISTS tally");
    line.run("CREATE TABLE tally (n int)");
    line.run("BEGIN");
    line.run("INSERT INTO tally VALUES (1), (2)");
    this->server_.kill();
    this->server_.restart();
    const auto refused = line.run("SELECT 2");
    ASSERT_TRUE(refused->error());
    EXPECT_EQ(refused->error()->kind, ErrorKind::ConnectionLost);
    EXPECT_THAT(refused->error()->text(), HasSubstr("transaction with 2 changes is lost"));
    const auto again = line.run("SELECT 2");
    ASSERT_FALSE(again->error()) << again->error()->text();
    EXPECT_EQ(line->state().connection.transaction, TransactionState::None);
}

TYPED_TEST(FaultsTest, AChangeThatWasOnItsWayWhenTheServerDiedIsInDoubt) {
    Line line(this->profile());
    line.run("DROP TABLE IF EXISTS doubt");
    line.run("CREATE TABLE doubt (n int)");
    const auto recorder = this->killDuringAnInsert(line);
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::InDoubt) << recorder->error()->text();
    EXPECT_THAT(recorder->error()->hint, HasSubstr("look before you run it again"));
    this->server_.restart();
    ASSERT_EQ(this->server_.startup(), "");
}

TYPED_TEST(FaultsTest, WhatATransactionDidIsUndoneForCertain) {
    Line line(this->profile());
    line.run("DROP TABLE IF EXISTS doubt");
    line.run("CREATE TABLE doubt (n int)");
    line.run("BEGIN");
    const auto recorder = this->killDuringAnInsert(line);
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::ConnectionLost) << recorder->error()->text();
    this->server_.restart();
    ASSERT_EQ(this->server_.startup(), "");
}

TYPED_TEST(FaultsTest, TransactionsThatWaitForEachOtherAreToldApartFromALock) {
    Line one(this->profile());
    Line other(this->profile());
    one.run("DROP TABLE IF EXISTS crossing");
    one.run("CREATE TABLE crossing (id int PRIMARY KEY, n int)");
    one.run("INSERT INTO crossing VALUES (1, 0), (2, 0)");
    for (Line* line : {&one, &other}) line->run("BEGIN");
    one.run("UPDATE crossing SET n = 1 WHERE id = 1");
    other.run("UPDATE crossing SET n = 1 WHERE id = 2");
    auto waiting = std::make_shared<test::RunRecorder>();
    one->execute({.statement = "UPDATE crossing SET n = 2 WHERE id = 2", .pageRows = std::nullopt}, waiting);
    const auto crossed = other.run("UPDATE crossing SET n = 2 WHERE id = 1");
    if (crossed->error()) other.run("ROLLBACK");
    waiting->waitForEnd();
    const auto& undone = crossed->error() ? crossed->error() : waiting->error();
    ASSERT_TRUE(undone) << "one of them must give way";
    EXPECT_EQ(undone->kind, ErrorKind::SerializationConflict) << undone->text();
    EXPECT_THAT(undone->hint, HasSubstr("Run the transaction again"));
    for (Line* line : {&one, &other}) line->run("ROLLBACK");
}

TYPED_TEST(FaultsTest, LostTemporaryTablesAreTold) {
    Line line(this->profile());
    ASSERT_FALSE(line.run("CREATE TEMPORARY TABLE basket (n int)")->error());
    this->server_.kill();
    this->server_.restart();
    const auto refused = line.run("SELECT 1");
    ASSERT_TRUE(refused->error()) << "the statement may mean what is gone";
    EXPECT_THAT(refused->error()->text(), HasSubstr("temporary tables are gone"));
    EXPECT_FALSE(line.run("SELECT 1")->error());
}

TYPED_TEST(FaultsTest, ALineThatWasLostWithNothingOnItIsOpenedAgainAndTheStatementRuns) {
    Line line(this->profile());
    ASSERT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
    for (int i = 0; i < 3; ++i) {
        this->server_.kill();
        this->server_.restart();
        ASSERT_EQ(this->server_.startup(), "");
        const auto again = line.run("SELECT 7");
        ASSERT_FALSE(again->error()) << again->error()->text();
        EXPECT_THAT(again->notices(), Contains(HasSubstr("Connected again")));
    }
}

TYPED_TEST(FaultsTest, ALineThatTheServerClosedIsOpenedAgainAndTheStatementRuns) {
    constexpr bool isPostgres = std::is_same_v<TypeParam, demo::PostgresServer>;
    Line line(this->profile());
    const std::string own = line.rows(isPostgres ? "SELECT pg_backend_pid()" : "SELECT connection_id()").front();
    Line owner(this->profile());
    owner.run((isPostgres ? "SELECT pg_terminate_backend(" : "KILL (") + own + ")");
    // PostgreSQL's process closes its socket when it ends, MariaDB's thread before it is off the list.
    const auto isThere = [&] {
        if (isPostgres) return std::filesystem::exists("/proc/" + own);
        return owner.rows("SELECT count(*) FROM information_schema.processlist WHERE id = " + own).front() != "0";
    };
    while (isThere()) std::this_thread::sleep_for(std::chrono::milliseconds(10));
    const auto again = line.run("SELECT 7");
    ASSERT_FALSE(again->error()) << again->error()->text();
    EXPECT_THAT(again->notices(), Contains(HasSubstr("Connected again")));
}

TYPED_TEST(FaultsTest, WordsInAMistakeDoNotMakeItALostLine) {
    Line line(this->profile());
    line.run("CREATE TEMPORARY TABLE basket (n int)");
    std::optional<Error> error;
    if constexpr (std::is_same_v<TypeParam, demo::PostgresServer>) {
        line.run("CREATE EXTENSION IF NOT EXISTS dblink");
        error = line.run("SELECT * FROM dblink('host=127.0.0.1 port=1', 'SELECT 1') AS t(n int)")->error();
    } else {
        error = line.run("SIGNAL SQLSTATE '08S01' SET MYSQL_ERRNO = 2013, MESSAGE_TEXT = 'Lost connection to server'")
                    ->error();
        ASSERT_TRUE(error);
        EXPECT_EQ(error->kind, ErrorKind::Statement) << error->text();
        error =
            line.run("SIGNAL SQLSTATE '08S01' SET MYSQL_ERRNO = 1927, MESSAGE_TEXT = 'Connection was killed'")->error();
    }
    ASSERT_TRUE(error);
    EXPECT_EQ(error->kind, ErrorKind::Statement) << error->text();
    EXPECT_FALSE(line.run("SELECT * FROM basket")->error()) << "the line and what is on it stay";
}

TYPED_TEST(FaultsTest, AServerThatAnswersNothingCanBeLeft) {
    Line line(this->profile());
    ASSERT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
    auto recorder = std::make_shared<test::RunRecorder>();
    const RunHandle handle = line->execute({.statement = this->sleep(60)}, recorder);
    this->waitUntilRuns("sleep(60)");
    this->server_.freeze();
    handle.cancel();
    recorder->waitForEnd();
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::Cancelled);
    EXPECT_THAT(recorder->error()->hint, HasSubstr("did not answer"));
    this->server_.unfreeze();
    EXPECT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
}

TYPED_TEST(FaultsTest, ConnectingToAServerThatAnswersNothingCanBeStopped) {
    this->server_.freeze();
    Line line(this->profile());
    auto recorder = std::make_shared<test::RunRecorder>();
    const RunHandle handle = line->execute({.statement = "SELECT 1"}, recorder);
    recorder->waitFor("started");
    handle.cancel();
    recorder->waitForEnd();
    ASSERT_TRUE(recorder->error());
    EXPECT_EQ(recorder->error()->kind, ErrorKind::Cancelled);
    this->server_.unfreeze();
}

TYPED_TEST(FaultsTest, ASessionThatSomebodyEndedSaysSo) {
    Line line(this->profile());
    Line other(this->profile());
    const std::string id = line.rows(this->kIsPostgres ? "SELECT pg_backend_pid()" : "SELECT connection_id()").front();
    other.run(this->kIsPostgres ? "SELECT pg_terminate_backend(" + id + ")" : "KILL " + id);
    // The server's farewell takes a moment to arrive.
    std::shared_ptr<test::RunRecorder> run;
    for (int i = 0; i < 100; ++i) {
        run = line.run("SELECT 1");
        if (run->error() || !run->notices().empty()) break;
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    if (run->error()) {
        EXPECT_EQ(run->error()->kind, ErrorKind::ConnectionLost) << run->error()->text();
        run = line.run("SELECT 1");
    }
    ASSERT_FALSE(run->error());
    EXPECT_THAT(run->notices(), Contains(HasSubstr("Connected again")));
}

TYPED_TEST(FaultsTest, RightsThatWereTakenAwayAreNamed) {
    Line owner(this->profile());
    ConnectionProfile p = this->profile();
    for (const std::string& sql : {std::string("CREATE TABLE secret_plot (n int)"),
                                   std::string(this->kIsPostgres ? "CREATE ROLE reader LOGIN" : "CREATE USER reader"),
                                   std::string("GRANT SELECT ON secret_plot TO reader")}) {
        ASSERT_FALSE(owner.run(sql)->error()) << sql;
    }
    p.user = "reader";
    Line line(p);
    ASSERT_FALSE(line.run("SELECT * FROM secret_plot")->error());
    owner.run("REVOKE SELECT ON secret_plot FROM reader");
    const auto run = line.run("SELECT * FROM secret_plot");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Permission) << run->error()->text();
    EXPECT_THAT(run->error()->message, HasSubstr("secret_plot"));
    EXPECT_FALSE(run->error()->hint.empty());
}

TYPED_TEST(FaultsTest, AWrongPasswordIsToldWithoutShowingIt) {
    Line owner(this->profile());
    if (this->kIsPostgres) {
        owner.run("CREATE ROLE guest LOGIN PASSWORD 'right'");
        std::ofstream rules(this->server_.folder() / "data" / "pg_hba.conf");
        rules << "local all guest scram-sha-256\nlocal all all trust\n";
        rules.close();
        owner.run("SELECT pg_reload_conf()");
        std::this_thread::sleep_for(std::chrono::milliseconds(300));  // the server reads it when it likes
    } else {
        owner.run("CREATE USER guest IDENTIFIED BY 'right'");
        owner.run("GRANT SELECT ON records.* TO guest");
    }
    ConnectionProfile p = this->profile();
    p.user = "guest";
    Line right(p, "right");
    EXPECT_THAT(right.rows("SELECT 1"), ElementsAre("1"));
    Line wrong(p, "wrong-and-secret");
    const auto run = wrong.run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Permission) << run->error()->text();
    EXPECT_EQ(run->error()->text().find("wrong-and-secret"), std::string::npos);
}

TYPED_TEST(FaultsTest, ADatabaseThatIsNotThereIsNamed) {
    ConnectionProfile p = this->profile();
    p.database = "atlantis";
    const auto run = Line(p).run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::NotFound) << run->error()->text();
    EXPECT_THAT(run->error()->message, HasSubstr("atlantis"));
}

TYPED_TEST(FaultsTest, AServerThatIsNotThereIsNamed) {
    ConnectionProfile p = this->profile();
    p.host = this->kIsPostgres ? "/tmp/no-such-folder" : "/tmp/no-such-folder/socket";
    const auto run = Line(p).run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Connection);
    EXPECT_THAT(run->error()->hint, HasSubstr("Is the server running"));
}

TYPED_TEST(FaultsTest, ALockThatIsWaitedForTooLongIsTold) {
    Line holder(this->profile());
    Line line(this->profile());
    const std::string table = "gate";
    holder.run("CREATE TABLE " + table + " (id int PRIMARY KEY, n int)");
    holder.run("INSERT INTO " + table + " VALUES (1, 1)");
    holder.run("BEGIN");
    holder.run("UPDATE " + table + " SET n = 2 WHERE id = 1");
    line.run(this->kIsPostgres ? "SET lock_timeout = '50ms'" : "SET innodb_lock_wait_timeout = 1");
    const auto run = line.run("UPDATE " + table + " SET n = 3 WHERE id = 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Busy) << run->error()->text();
    EXPECT_THAT(run->error()->hint, HasSubstr("lock"));
}

TYPED_TEST(FaultsTest, LinesThatAreUsedUpAreTold) {
    const bool isPostgres = this->kIsPostgres;
    std::vector<std::unique_ptr<Line>> lines;
    std::optional<Error> error;
    Line first(this->profile());
    if (!isPostgres) first.run("SET GLOBAL max_connections = 10");  // the least it takes
    if (!isPostgres) first.run("CREATE USER warden");
    if (!isPostgres) first.run("GRANT SELECT ON records.* TO warden");
    if (isPostgres) first.run("CREATE ROLE warden LOGIN CONNECTION LIMIT 3");
    ConnectionProfile p = this->profile();
    p.user = "warden";
    for (int i = 0; i < 20 && !error; ++i) {
        lines.push_back(std::make_unique<Line>(p));
        error = lines.back()->run("SELECT 1")->error();
    }
    ASSERT_TRUE(error);
    EXPECT_EQ(error->kind, ErrorKind::Busy) << error->text();
    EXPECT_THAT(error->message, HasSubstr("no connection left"));
    lines.erase(lines.begin());  // one is given back
    if (!isPostgres) first.run("SET GLOBAL max_connections = 100");
    std::vector<std::string> rows;
    for (int i = 0; i < 100 && rows != std::vector<std::string>{"1"}; ++i) {
        rows = lines.back()->rows("SELECT 1");
        if (rows.front() != "1") std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    EXPECT_THAT(rows, ElementsAre("1"));
}

TEST(DiskFaultsTest, AFullDiskIsTold) {
    demo::PostgresServer server;
    ASSERT_EQ(server.startup(), "");
    Line line(test::profileFor(server));
    const std::string folder = server.folder() / "small";
    std::filesystem::create_directory(folder);
    const bool isMounted = ::mount("tmpfs", folder.c_str(), "tmpfs", 0, "size=2m,mode=0777") == 0;
    // Without the right to mount, the temporary files of a statement are limited instead: the same end, told alike.
    if (isMounted) {
        std::filesystem::create_directory(folder + "/space");
        const std::string owner = fmt::format("chown {} {}/space", server.user(), folder);
        ASSERT_EQ(std::system(owner.c_str()), 0);
        ASSERT_FALSE(line.run("CREATE TABLESPACE small LOCATION '" + folder + "/space'")->error());
        const auto run = line.run(
            "CREATE TABLE much TABLESPACE small AS SELECT n, repeat('x', 100) AS t FROM generate_series(1, 100000) n");
        ASSERT_TRUE(run->error());
        EXPECT_EQ(run->error()->kind, ErrorKind::Io) << run->error()->text();
        EXPECT_THAT(run->error()->text(), HasSubstr("disk space"));
    } else {
        line.run("SET work_mem = '64kB'");
        line.run("SET temp_file_limit = '1MB'");
        const auto run = line.run("SELECT n FROM generate_series(1, 1000000) n ORDER BY n DESC");
        ASSERT_TRUE(run->error());
        EXPECT_THAT(run->error()->message, HasSubstr("temporary file size exceeds"));
    }
    EXPECT_THAT(line.rows("SELECT 1"), ElementsAre("1"));
    if (isMounted) {
        server.stop();
        ::umount2(folder.c_str(), MNT_DETACH);
    }
}

}  // namespace
}  // namespace pantry::db
