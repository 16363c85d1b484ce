#include "core/store/ledger.h"
#include "core/store/ledger_statistics.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <sys/wait.h>
#include <unistd.h>

#include <atomic>
#include <numeric>
#include <set>
#include <thread>

#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using namespace std::chrono_literals;
using test::TemporaryFolder;

class LedgerTest : public testing::Test {
protected:
    LedgerTest() : ledger_(Ledger::open(path()).value()) {}
    [[nodiscard]] std::filesystem::path path() const { return folder_ / "ledger.db"; }

    std::int64_t run(const std::string& statement, RunEnd end = {}, const std::string& connection = "c1") {
        const auto id =
            ledger_
                ->start({.connectionId = connection, .connectionName = "Kitchen", .statement = statement}, base::now())
                .value();
        EXPECT_TRUE(ledger_->end(id, end));
        return id;
    }
    std::vector<std::string> found(const std::string& search) {
        std::vector<std::string> out;
        const auto entries = ledger_->find({.search = parseLedgerSearch(search, base::now())}).value();
        for (const auto& e : entries) out.push_back(e.start.statement);
        return out;
    }

    TemporaryFolder folder_;
    std::unique_ptr<Ledger> ledger_;
};

TEST_F(LedgerTest, KeepsRunsNewestFirst) {
    run("select 1", {.duration = 5ms, .rows = 24});
    run("select 2", {.status = RunStatus::Failed, .error = "No such table."});

    const auto entries = ledger_->find({}).value();

    ASSERT_EQ(entries.size(), 2U);
    EXPECT_EQ(entries[0].start.statement, "select 2");
    EXPECT_EQ(entries[0].end.status, RunStatus::Failed);
    EXPECT_EQ(entries[0].end.error, "No such table.");
    EXPECT_EQ(entries[1].end.rows, 24);
    EXPECT_EQ(entries[1].end.duration, 5ms);
}

TEST_F(LedgerTest, FindsByWordsAndByWhatHappened) {
    run("select * from inspection", {.duration = 3s, .rows = 5000});
    run("select * from plot", {.rows = 24});
    run("delete from plot", {.status = RunStatus::Failed, .error = "locked"});

    EXPECT_THAT(found("spect"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("plot select"), testing::ElementsAre("select * from plot"));
    EXPECT_THAT(found("failed"), testing::ElementsAre("delete from plot"));
    EXPECT_THAT(found("slow"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("rows>1000"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("today pl"), testing::ElementsAre("delete from plot", "select * from plot"));
    EXPECT_THAT(found("100%"), testing::IsEmpty());
    EXPECT_THAT(found("\"quoted"), testing::IsEmpty());
}

TEST_F(LedgerTest, AsksForOneConnection) {
    run("select 1", {}, "c1");
    run("select 2", {}, "c2");
    EXPECT_EQ(ledger_->find({.connections = {"c2"}})->size(), 1U);
    EXPECT_EQ(ledger_->usage()->size(), 2U);
}

TEST_F(LedgerTest, SurvivesAProgramThatWasKilled) {
    const pid_t child = ::fork();
    if (child == 0) {  // starts a run and is gone before its end
        const auto own = Ledger::open(path());
        const auto id = (*own)->start({.connectionId = "c", .connectionName = "Kitchen", .statement = "select forever"},
                                      base::now());
        ::kill(::getpid(), SIGKILL);
        ::_exit(id ? 0 : 1);
    }
    int state = 0;
    ::waitpid(child, &state, 0);
    ASSERT_TRUE(WIFSIGNALED(state));

    const auto entries = ledger_->find({}).value();
    ASSERT_EQ(entries.size(), 1U);
    EXPECT_EQ(entries[0].end.status, RunStatus::Interrupted);
    EXPECT_EQ(Ledger::open(path()).value()->find({.search = parseLedgerSearch("failed", base::now())})->size(), 1U);
}

TEST_F(LedgerTest, ARunningRunOfALivingProgramIsRunning) {
    const auto id = ledger_->start({.connectionName = "Kitchen", .statement = "select 1"}, base::now());
    ASSERT_TRUE(id);
    EXPECT_EQ(Ledger::open(path()).value()->find({})->at(0).end.status, RunStatus::Running);
}

TEST_F(LedgerTest, RemovesAnEntryFromTheSearchToo) {
    const auto id = run("select secret_thing");
    ASSERT_TRUE(ledger_->remove({id}));
    EXPECT_THAT(found("secret_thing"), testing::IsEmpty());
    EXPECT_TRUE(ledger_->find({})->empty());
}

TEST_F(LedgerTest, ALedgerOfANewerVersionIsNotTouched) {
    ledger_.reset();
    test::runScript(path(), "PRAGMA user_version = 99");
    const auto opened = Ledger::open(path());
    ASSERT_FALSE(opened);
    EXPECT_EQ(opened.error().kind, ErrorKind::TooNew);
}

TEST_F(LedgerTest, LedgersOfEveryVersionAreReadAndWrittenOn) {
    std::size_t versions = 0;
    for (const auto& file : std::filesystem::directory_iterator(LEDGERS_FOLDER)) {
        ++versions;
        const auto path = folder_ / (file.path().stem().string() + ".db");
        test::runScript(path, test::contentOf(file.path()));
        const auto ledger = Ledger::open(path);
        ASSERT_TRUE(ledger) << ledger.error().text();
        const auto entries = (*ledger)->find({}).value();
        ASSERT_EQ(entries.size(), 2U) << file.path();
        EXPECT_EQ(entries[0].end.error, "No such column: jasr");
        EXPECT_EQ(entries[1].end.rows, 24);
        EXPECT_EQ(entries[1].start.sheet, "Jars");
        const bool hasParameters = file.path().stem() != "version_1";
        EXPECT_EQ(entries[1].start.parameters, hasParameters ? "least = 200" : "");
        ASSERT_TRUE(
            (*ledger)->start({.connectionId = "c1", .statement = "SELECT 3", .parameters = "n = 3"}, base::now()));
        EXPECT_EQ((*ledger)->find({})->at(0).start.parameters, "n = 3");
        EXPECT_EQ((*ledger)->find({.search = parseLedgerSearch("batch", base::now())})->size(), 2U);
        EXPECT_EQ((*ledger)->find({})->size(), 3U);
    }
    EXPECT_EQ(versions, 5U) << "a version more needs a file more";
}

TEST_F(LedgerTest, APlanIsKeptWithItsRunAndGoesAndComesBackWithIt) {
    auto ledger = Ledger::open(path()).value();
    const auto id = ledger->start({.connectionId = "c1", .statement = "EXPLAIN SELECT 1"}, base::now()).value();
    ASSERT_TRUE(ledger->end(id, {.rows = 1, .plan = "SCAN plot\n"}));
    EXPECT_EQ(ledger->find({})->at(0).end.plan, "SCAN plot\n");
    const auto gone = ledger->remove({id});
    ASSERT_TRUE(gone);
    EXPECT_TRUE(ledger->find({})->empty());
    const auto other = ledger->start({.connectionId = "c1", .statement = "SELECT 2"}, base::now()).value();
    EXPECT_EQ(ledger->find({})->at(0).end.plan, "") << other;
    ASSERT_TRUE(ledger->restore(*gone));
    EXPECT_EQ(ledger->find({.search = parseLedgerSearch("explain", base::now())})->at(0).end.plan, "SCAN plot\n");
}

TEST_F(LedgerTest, ConditionsCombineAndAreNegated) {
    run("select * from inspection", {.duration = 3s, .fetching = 2500ms, .rows = 5000});
    run("update plot set name = 'x'", {.affected = 3}, "c2");
    run("select * from plot where name = 'y'", {.status = RunStatus::Failed, .error = "no column naem"});
    run("select 1", {.status = RunStatus::Stopped});
    run("drop table crate", {.status = RunStatus::HeldBack});
    EXPECT_THAT(found("table:plot"),
                testing::ElementsAre("select * from plot where name = 'y'", "update plot set name = 'x'"));
    EXPECT_THAT(found("table:PLOT -failed"), testing::ElementsAre("update plot set name = 'x'"));
    EXPECT_THAT(found("changes"), testing::ElementsAre("drop table crate", "update plot set name = 'x'"));
    EXPECT_THAT(found("changes -held"), testing::ElementsAre("update plot set name = 'x'"));
    EXPECT_THAT(found("naem"), testing::ElementsAre("select * from plot where name = 'y'"))
        << "errors are searched too";
    EXPECT_THAT(found("took>400ms"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("took>1s"), testing::IsEmpty()) << "reading the rows is not the server's time";
    EXPECT_THAT(found("rows=3"), testing::ElementsAre("update plot set name = 'x'"));
    EXPECT_THAT(found("-select -update"), testing::ElementsAre("drop table crate"));
    EXPECT_THAT(found("stopped"), testing::ElementsAre("select 1"));
    EXPECT_THAT(found("on:kit table:inspection"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("on:it"), testing::IsEmpty()) << "where a word begins";
    EXPECT_THAT(found("\"name = 'y'\""), testing::ElementsAre("select * from plot where name = 'y'"));
    EXPECT_THAT(found("before:today"), testing::IsEmpty());
    EXPECT_EQ(found("since:today").size(), 5U);
    EXPECT_THAT(found("yesterday"), testing::IsEmpty());
    EXPECT_EQ(found("se").size(), 4U) << "shorter than what the index knows: 'use', 'select', 'set'";
}

TEST_F(LedgerTest, EqualRunsAreOneEntryWithTheirCountAndTheirDurations) {
    for (int i = 0; i < 20; ++i) {
        run(fmt::format("SELECT * FROM plot WHERE plot_id = {}", i), {.duration = std::chrono::milliseconds(i)});
        if (i % 2 == 0) run("select 1");
    }
    run("select  *  from plot -- again\nwhere plot_id=7;", {.status = RunStatus::Failed, .error = "locked"});
    run("SELECT * FROM plot WHERE plot_id = 3", {}, "c2");
    const auto page = ledger_->findFolded({}).value();
    ASSERT_EQ(page.folds.size(), 3U);
    EXPECT_EQ(page.folds[0].last.start.connectionId, "c2") << "on another connection it is another one";
    EXPECT_EQ(page.folds[1].runs, 21);
    EXPECT_EQ(page.folds[1].last.end.status, RunStatus::Failed);
    ASSERT_EQ(page.folds[1].points.size(), LedgerFold::kMostPoints);
    EXPECT_EQ(page.folds[1].points.back().status, RunStatus::Failed);
    EXPECT_EQ(page.folds[1].points[10].duration, 19ms) << "the oldest first";
    EXPECT_EQ(page.folds[2].runs, 10);
    EXPECT_FALSE(page.next);
    const auto failed = ledger_->findFolded({.search = parseLedgerSearch("failed", base::now())}).value();
    ASSERT_EQ(failed.folds.size(), 1U);
    EXPECT_EQ(failed.folds[0].runs, 21) << "how often it ran, not how often it failed";
    EXPECT_EQ(ledger_->runsLike(page.folds[1].last, 100)->size(), 21U);
}

TEST_F(LedgerTest, ValuesStandApartWhenThatIsAskedFor) {
    for (int i = 0; i < 6; ++i) run(fmt::format("SELECT * FROM plot WHERE plot_id = {}", i % 2));
    run("SELECT * FROM plot WHERE plot_id = 0", {}, "c2");
    EXPECT_EQ(ledger_->findFolded({})->folds.size(), 2U);
    const auto apart = ledger_->findFolded({.search = parseLedgerSearch("apart", base::now())}).value();
    ASSERT_EQ(apart.folds.size(), 3U);
    EXPECT_EQ(apart.folds[1].last.start.statement, "SELECT * FROM plot WHERE plot_id = 1");
    EXPECT_EQ(apart.folds[1].runs, 3);
    EXPECT_EQ(apart.folds[1].points.size(), 3U);
    EXPECT_EQ(apart.folds[2].runs, 3) << "not that of the other connection";
    EXPECT_EQ(ledger_->runsLike(apart.folds[1].last, 100, LedgerAlike::Text)->size(), 3U);
    EXPECT_EQ(ledger_->runsLike(apart.folds[1].last, 100)->size(), 6U);
    const auto narrowed = ledger_->findFolded({.search = parseLedgerSearch("apart \"= 1\"", base::now())}).value();
    EXPECT_EQ(narrowed.folds.size(), 1U);
    EXPECT_EQ(ledger_->findFolded({.search = parseLedgerSearch("-apart", base::now())})->folds.size(), 2U);
}

TEST_F(LedgerTest, RunsAreFoundByTheirMoment) {
    run("SELECT 1");
    run("SELECT 2");
    const auto all = ledger_->find({}).value();
    ASSERT_EQ(all.size(), 2U);
    const auto at = ledger_->runsAt(all[1].startedAt).value();
    ASSERT_FALSE(at.empty());
    EXPECT_TRUE(std::ranges::any_of(at, [&](const LedgerEntry& one) { return one.id == all[1].id; }));
    EXPECT_TRUE(ledger_->runsAt(all[1].startedAt - 1h)->empty());
}

TEST_F(LedgerTest, TheLastGoodRunOfAStatementIsKnown) {
    run("SELECT name FROM plot", {.duration = 5ms, .rows = 24});
    run("select  name from plot;", {.duration = 8ms, .rows = 25});
    run("SELECT name FROM plot", {.status = RunStatus::Failed, .error = "locked"});
    const auto last = [&](const std::string& connection, const std::string& statement) {
        return ledger_->lastGoodRun(connection, statement, sql::Dialect::Sqlite).value();
    };
    ASSERT_TRUE(last("c1", "SELECT name -- again\nFROM plot"));
    EXPECT_EQ(last("c1", "SELECT name FROM plot")->end.rows, 25);
    EXPECT_FALSE(last("c2", "SELECT name FROM plot"));
    EXPECT_FALSE(last("c1", "SELECT name FROM tree"));
}

TEST_F(LedgerTest, PagesFollowEachOtherToTheEnd) {
    for (int i = 0; i < 25; ++i) run(fmt::format("SELECT column_{} FROM plot", i));
    for (const char* search : {"", "plot"}) {
        LedgerQuery query{.search = parseLedgerSearch(search, base::now()), .limit = 10};
        std::vector<std::string> all;
        for (int pages = 0; pages < 10; ++pages) {
            const auto page = ledger_->findFolded(query).value();
            for (const LedgerFold& one : page.folds) all.push_back(one.last.start.statement);
            query.behind = page.next;
            if (!page.next) break;
        }
        ASSERT_EQ(all.size(), 25U) << search;
        EXPECT_EQ(all.front(), "SELECT column_24 FROM plot");
        EXPECT_EQ(all.back(), "SELECT column_0 FROM plot");
        EXPECT_EQ(std::set(all.begin(), all.end()).size(), 25U);
    }
}

TEST_F(LedgerTest, WhatIsRemovedComesBackAsItWas) {
    const auto first = run("SELECT 1", {.rows = 1});
    const auto second = run("SELECT 2", {.status = RunStatus::Failed, .error = "broken pear"});
    ASSERT_TRUE(ledger_->setStarred(second, true));
    ASSERT_TRUE(ledger_->setNote(second, "ask the warden"));
    const auto gone = ledger_->remove({first, second}).value();
    ASSERT_EQ(gone.size(), 2U);
    EXPECT_TRUE(ledger_->find({})->empty());
    EXPECT_TRUE(ledger_->findFolded({})->folds.empty());
    EXPECT_THAT(found("pear"), testing::IsEmpty());
    ASSERT_TRUE(ledger_->restore(gone));
    const auto back = ledger_->find({}).value();
    ASSERT_EQ(back.size(), 2U);
    EXPECT_EQ(back[0].id, second);
    EXPECT_TRUE(back[0].isStarred);
    EXPECT_EQ(back[0].note, "ask the warden");
    EXPECT_THAT(found("pear"), testing::ElementsAre("SELECT 2"));
    EXPECT_THAT(found("warden"), testing::ElementsAre("SELECT 2"));
    EXPECT_THAT(found("starred"), testing::ElementsAre("SELECT 2"));
    EXPECT_THAT(found("noted -starred"), testing::IsEmpty());
    EXPECT_EQ(ledger_->findFolded({})->folds.front().runs, 2) << "they differ in nothing but a value";
}

TEST_F(LedgerTest, ThinningTakesTheOldestAndLeavesWhatIsStarredOrNoted) {
    std::vector<std::int64_t> ids;
    for (int i = 0; i < 10; ++i) ids.push_back(run(fmt::format("SELECT a{} FROM t", i)));
    ASSERT_TRUE(ledger_->setStarred(ids[0], true));
    ASSERT_TRUE(ledger_->setNote(ids[1], "why?"));
    EXPECT_EQ(ledger_->thin(std::nullopt, 3).value(), 5);
    EXPECT_THAT(found(""), testing::ElementsAre("SELECT a9 FROM t", "SELECT a8 FROM t", "SELECT a7 FROM t",
                                                "SELECT a1 FROM t", "SELECT a0 FROM t"));
    EXPECT_EQ(ledger_->thin(base::now() + 1h, std::nullopt).value(), 3);
    EXPECT_EQ(ledger_->findFolded({})->folds.size(), 2U);
    EXPECT_THAT(found("a9"), testing::IsEmpty());
    EXPECT_EQ(ledger_->thin(std::nullopt, 100).value(), 0);
}

TEST_F(LedgerTest, ImportedRunsStandInTheirPlaceAndAreThereOnce) {
    run("SELECT now");
    const LedgerEntry old{.startedAt = base::now() - 48h,
                          .start = {.connectionId = "c1", .statement = "SELECT old, password 'x'"},
                          .end = {.rows = 7},
                          .isStarred = true};
    LedgerEntry running = old;
    running.start.statement = "SELECT forever";
    running.end.status = RunStatus::Running;
    EXPECT_EQ(ledger_->import({old, running, old}).value(), 2U);
    EXPECT_EQ(ledger_->import({old, running}).value(), 0U);
    const auto all = ledger_->find({}).value();
    ASSERT_EQ(all.size(), 3U);
    EXPECT_EQ(all[0].start.statement, "SELECT now") << "by when it ran, not by when it came";
    EXPECT_EQ(all[1].end.status, RunStatus::Interrupted);
    EXPECT_EQ(all[2].end.rows, 7);
    EXPECT_TRUE(all[2].isStarred);
    EXPECT_EQ(all[2].start.statement.find("'x'"), std::string::npos) << "no secret comes in with a file";
}

TEST_F(LedgerTest, AllThatIsKnownOfARunComesBack) {
    const auto id = ledger_->start({.connectionId = "c1",
                                    .connectionName = "Records",
                                    .environment = "trial",
                                    .engine = "postgres",
                                    .server = "host:5432",
                                    .database = "orchard",
                                    .schema = "public",
                                    .user = "inspector",
                                    .statement = "SELECT naem FROM plot",
                                    .sheet = "Plots",
                                    .saved = "Plot health/Scab",
                                    .parameters = "n = 3"},
                                   base::now());
    ASSERT_TRUE(ledger_->end(*id, {.status = RunStatus::Failed,
                                   .duration = 5ms,
                                   .fetching = 1ms,
                                   .error = "No column naem",
                                   .errorCode = "42703",
                                   .errorPlace = 7}));
    const LedgerEntry e = ledger_->find({.search = parseLedgerSearch("by:insp on:rec sheet:pl", base::now())})->at(0);
    EXPECT_EQ(e.start.server, "host:5432");
    EXPECT_EQ(e.start.schema, "public");
    EXPECT_EQ(e.start.saved, "Plot health/Scab");
    EXPECT_EQ(e.end.fetching, 1ms);
    EXPECT_EQ(e.end.errorCode, "42703");
    EXPECT_EQ(e.end.errorPlace, 7);
}

TEST_F(LedgerTest, StatisticsCountWhatRanFailedAndGotSlower) {
    const base::Moment noon = base::now() - std::chrono::hours(48);
    std::vector<LedgerEntry> entries;
    const auto add = [&](const std::string& statement, int minute, RunEnd end, const std::string& connection = "c1") {
        entries.push_back({.startedAt = noon + std::chrono::minutes(minute),
                           .start = {.connectionId = connection, .connectionName = connection, .statement = statement},
                           .end = std::move(end)});
    };
    for (int i = 0; i < 12; ++i)
        add("SELECT * FROM plot WHERE plot_id = " + std::to_string(i), i,
            {.duration = i < 7 ? 10ms : 400ms, .rows = 1});
    for (int i = 0; i < 3; ++i) add("SELECT nme FROM tree", 20 + i, {.status = RunStatus::Failed, .error = "no nme"});
    add("SELECT count(*) FROM inspection", 40, {.duration = 9s, .rows = 1}, "c2");
    ASSERT_TRUE(ledger_->import(entries));
    const auto all = ledger_->statistics({}, {});
    ASSERT_TRUE(all) << all.error().text();
    EXPECT_EQ(all->runs, 16);
    EXPECT_EQ(all->failed, 3);
    EXPECT_EQ(all->most.front().runs, 12);
    EXPECT_EQ(all->most.front().last.start.statement, "SELECT * FROM plot WHERE plot_id = 11");
    EXPECT_EQ(all->longest.front().total, 9s);
    ASSERT_EQ(all->failing.size(), 1U);
    EXPECT_EQ(all->failing.front().failed, 3);
    ASSERT_EQ(all->slower.size(), 1U);
    EXPECT_DOUBLE_EQ(all->slower.front().times, 40.0);
    EXPECT_EQ(all->slower.front().since, noon + std::chrono::minutes(7)) << "the first of the last five";
    std::int64_t byDay = 0;
    for (const auto& day : all->days) byDay += day.runs;
    EXPECT_EQ(byDay, 16);
    EXPECT_EQ(std::accumulate(all->byHour.begin(), all->byHour.end(), std::int64_t{0}), 16);
    EXPECT_EQ(ledger_->statistics({"c2"}, {})->runs, 1);
    EXPECT_EQ(ledger_->statistics({"c1", "c2"}, noon + std::chrono::minutes(30))->runs, 1);
    EXPECT_TRUE(ledger_->statistics({"none"}, {})->most.empty());
}

TEST_F(LedgerTest, TheLastRunOfASavedQueryIsFound) {
    EXPECT_FALSE(ledger_->lastOfSaved("a.sql")->has_value());
    const auto run = [&](const std::string& saved, const std::string& statement) {
        const auto id = ledger_->start({.connectionId = "c", .statement = statement, .saved = saved}, base::now());
        ASSERT_TRUE(ledger_->end(*id, {.rows = 1}));
    };
    run("a.sql", "SELECT 1");
    run("a.sql", "SELECT 2");
    run("b.sql", "SELECT 3");
    run("", "SELECT 4");
    EXPECT_EQ((*ledger_->lastOfSaved("a.sql"))->start.statement, "SELECT 2");
    EXPECT_FALSE(ledger_->lastOfSaved("")->has_value());
    EXPECT_EQ(ledger_->find({.search = parseLedgerSearch("saved:a", base::now())})->size(), 2U);
    EXPECT_EQ(ledger_->find({.search = parseLedgerSearch("-saved:a", base::now())})->size(), 2U);
}

TEST_F(LedgerTest, AFileThatIsNoLedgerIsNotTouched) {
    test::writeFile(folder_ / "other.db", std::string(9000, 'x'));
    EXPECT_EQ(Ledger::open(folder_ / "other.db").error().kind, ErrorKind::Damaged);
    EXPECT_EQ(test::contentOf(folder_ / "other.db"), std::string(9000, 'x'));
}

TEST_F(LedgerTest, ManyMayOpenANewOneAtTheSameMoment) {
    for (int round = 0; round < 20; ++round) {
        const auto path = folder_ / fmt::format("new-{}.db", round);
        std::vector<std::thread> openers;
        std::atomic<int> opened = 0;
        for (int i = 0; i < 4; ++i) openers.emplace_back([&] { opened += Ledger::open(path).has_value() ? 1 : 0; });
        for (std::thread& one : openers) one.join();
        EXPECT_EQ(opened, 4);
    }
}

TEST_F(LedgerTest, TwoProgramsWriteIntoOne) {
    auto other = Ledger::open(path()).value();
    for (int i = 0; i < 50; ++i) {
        run("select " + std::to_string(i));
        ASSERT_TRUE(other->start({.connectionName = "x", .statement = "other"}, base::now()));
    }
    EXPECT_EQ(ledger_->find({})->size(), 100U);
}

}  // namespace
}  // namespace pantry::store
