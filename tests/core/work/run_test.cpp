#include "core/work/run.h"

#include <gmock/gmock.h>

#include <thread>

#include "core/data/table_of.h"
#include "core/work/run_events.h"
#include "support/work_thread.h"

namespace pantry::work {
namespace {

using testing::ElementsAre;

data::ResultSetPtr crates(int rows) {
    auto result =
        std::make_shared<data::ResultSet>(std::vector<data::Column>{{"crates", "integer", data::ColumnType::Integer}});
    data::ChunkBuilder builder(1);
    for (int i = 0; i < rows; ++i) {
        builder.addInteger(i);
        builder.endRow();
    }
    result->append(builder.take());
    return result;
}

class RunTest : public testing::Test {
protected:
    RunTest() {
        run_.setListener([this](RunChange change) { changes_.push_back(change); });
    }
    work::Run run_{sql::Statement("SELECT crates FROM harvest", sql::Dialect::Sqlite), 7};
    std::vector<RunChange> changes_;
};

TEST_F(RunTest, TellsEveryStepInWords) {
    EXPECT_EQ(run_.outcomeText(), "waiting");
    run_.noteStarted();
    EXPECT_EQ(run_.outcomeText(), "running");
    run_.noteResult(crates(3));
    run_.noteRows();
    EXPECT_EQ(run_.outcomeText(), "3 rows so far");
    run_.notePaused();
    EXPECT_EQ(run_.outcomeText(), "first 3 rows");
    EXPECT_TRUE(run_.hasMore());
    run_.noteResumed();
    run_.noteFinished({.result = {.isComplete = true}});
    EXPECT_EQ(run_.outcomeText(), "3 rows");
    EXPECT_TRUE(run_.outcome().starts_with("3 rows · "));
    EXPECT_THAT(changes_, ElementsAre(RunChange::Started, RunChange::Result, RunChange::Rows, RunChange::Rested,
                                      RunChange::Resumed, RunChange::Rested));
}

TEST_F(RunTest, ChangesAreCountedAndANewKeyIsTold) {
    run_.noteStarted();
    db::RunSummary summary;
    summary.result.affectedRows = 1;
    summary.result.generatedKey = "12";
    run_.noteFinished(summary);
    EXPECT_EQ(run_.outcomeText(), "1 row added, key 12");
    summary.result.affectedRows = 4;
    run_.noteFinished(summary);
    EXPECT_EQ(run_.outcomeText(), "4 rows changed");
    run_.noteFinished({});
    EXPECT_EQ(run_.outcomeText(), "done");
}

TEST_F(RunTest, AnErrorIsShownInPartAndKeptWhole) {
    run_.noteFailed({.message = std::string(10'000, 'x')}, {});
    EXPECT_EQ(run_.state(), RunState::Failed);
    EXPECT_EQ(run_.error()->message.size(), Run::kShownBytes + std::string("…").size());
    EXPECT_EQ(run_.wholeError()->message.size(), 10'000U);
    EXPECT_EQ(run_.record().status, store::RunStatus::Failed);
}

TEST_F(RunTest, StoppedIsNoFailureForTheLedger) {
    run_.noteStarted();
    run_.noteResult(crates(2));
    run_.noteFailed({.kind = ErrorKind::Cancelled, .message = "Stopped."}, {});
    EXPECT_EQ(run_.outcomeText(), "stopped after 2 rows");
    EXPECT_EQ(run_.record().status, store::RunStatus::Stopped);
    EXPECT_EQ(run_.record().rows, 2);
}

TEST_F(RunTest, RowsThatGoElsewhereAreCountedForTheLedger) {
    run_.noteStarted();
    run_.noteRows(900);
    EXPECT_EQ(run_.rowsRead(), 900U);
    EXPECT_EQ(run_.rowCount(), 0U);
    run_.noteFinished({.rowCount = 1000, .result = {.hasRows = true, .isComplete = true}});
    EXPECT_EQ(run_.record().rows, 1000);
}

TEST_F(RunTest, OnceMoreMeansFromTheBeginning) {
    run_.noteResult(crates(3));
    run_.noteNotices({{.severity = "NOTICE", .message = "ripe"}});
    run_.noteKept();
    run_.noteFailed({.message = "no"}, {});
    run_.beginAnew();
    EXPECT_EQ(run_.state(), RunState::Waiting);
    EXPECT_FALSE(run_.result());
    EXPECT_FALSE(run_.error());
    EXPECT_FALSE(run_.isKept());
    EXPECT_TRUE(run_.messages().empty());
    EXPECT_EQ(run_.number(), 7);
}

// ---- What a session tells ----

class RunEventsTest : public testing::Test {
protected:
    [[nodiscard]] RunNews news() {
        return {
            .started = [this] { heard_.emplace_back("started"); },
            .columns = [this](const auto&) { heard_.emplace_back("columns"); },
            .notices = [this](const auto& notices) { heard_.push_back(std::to_string(notices.size()) + " notices"); },
            .rows = [this](std::size_t rows) { heard_.push_back(std::to_string(rows) + " rows"); },
            .paused = [this](std::size_t rows) { heard_.push_back("paused at " + std::to_string(rows)); },
            .finished = [this](const auto&) { heard_.emplace_back("finished"); },
            .failed = [this](const Error& error, const auto&) { heard_.push_back(error.message); }};
    }
    test::WorkThread thread_;
    std::vector<std::string> heard_;
};

TEST_F(RunEventsTest, ComeTogetherAndInTheirOrder) {
    const WhileThere here;
    auto events = runEvents(thread_.owner(), here.there(), news());
    std::thread([&] {
        events->started(base::now());
        events->columns(crates(0));
        for (std::size_t i = 1; i <= 500; ++i) events->rows(i);
        events->notice({.message = "a"});
        events->notice({.message = "b"});
        events->finished({});
    }).join();
    EXPECT_TRUE(heard_.empty()) << "nothing on another thread than the owner's";
    ASSERT_TRUE(thread_.until([&] { return !heard_.empty() && heard_.back() == "finished"; }));
    EXPECT_THAT(heard_, ElementsAre("started", "columns", "2 notices", "500 rows", "finished"));
}

TEST_F(RunEventsTest, WhatCameLastIsToldThoughNobodyHoldsThem) {
    const WhileThere here;
    auto events = runEvents(thread_.owner(), here.there(), news());
    events->notice({.message = "a"});
    events.reset();
    ASSERT_TRUE(thread_.until([&] { return !heard_.empty(); }));
    EXPECT_THAT(heard_, ElementsAre("1 notices"));
}

TEST_F(RunEventsTest, NobodyHearsOnceTheyAreGone) {
    auto here = std::make_unique<WhileThere>();
    auto events = runEvents(thread_.owner(), here->there(), news());
    events->paused(5);
    here.reset();
    events->failed({.message = "late"}, {});
    bool isBehind = false;
    thread_.owner().post([&] { isBehind = true; });
    ASSERT_TRUE(thread_.until([&] { return isBehind; }));
    EXPECT_TRUE(heard_.empty());
}

TEST_F(RunEventsTest, APageTakesThePlaceOfItsRows) {
    const WhileThere here;
    auto events = runEvents(thread_.owner(), here.there(), news());
    events->rows(3);
    events->paused(5);
    ASSERT_TRUE(thread_.until([&] { return !heard_.empty(); }));
    EXPECT_THAT(heard_, ElementsAre("paused at 5"));
}

}  // namespace
}  // namespace pantry::work
