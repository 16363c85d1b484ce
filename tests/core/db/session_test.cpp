#include "core/db/session.h"

#include "support/run_recorder.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using test::rowsQuery;
using test::RunRecorder;
using testing::ElementsAre;

class SessionTest : public testing::Test {
protected:
    SessionTest() : session_(std::make_unique<Session>(memoryProfile(), std::nullopt)) {}

    static ConnectionProfile memoryProfile() { return test::profileOf(":memory:"); }

    std::shared_ptr<RunRecorder> start(RunRequest request) {
        auto recorder = std::make_shared<RunRecorder>();
        handle_ = session_->execute(std::move(request), recorder);
        return recorder;
    }

    std::unique_ptr<Session> session_;
    RunHandle handle_;
};

TEST_F(SessionTest, TellsARunInOrder) {
    const auto run = start({.statement = "SELECT 1"});
    run->waitForEnd();
    EXPECT_THAT(run->events(), ElementsAre("started", "columns", "finished"));
    EXPECT_TRUE(run->summary().result.isComplete);
}

TEST_F(SessionTest, PausesAfterThePageAndGoesOnOnDemand) {
    const auto run = start({.statement = rowsQuery(2500), .pageRows = 1000});
    run->waitFor("paused");
    EXPECT_EQ(run->result()->rowCount(), 1000U);

    handle_.fetchMore(1000);
    run->waitFor("paused", 2);
    EXPECT_EQ(run->result()->rowCount(), 2000U);

    handle_.fetchAll();
    run->waitForEnd();
    EXPECT_EQ(run->result()->rowCount(), 2500U);
    EXPECT_TRUE(run->summary().result.isComplete);
    EXPECT_EQ(run->result()->cell(2499, 1).bytes, "row 2500");
}

TEST_F(SessionTest, AResultThatEndsWithItsPageIsWhole) {
    const auto run = start({.statement = rowsQuery(1000), .pageRows = 1000});
    run->waitForEnd();
    EXPECT_TRUE(run->summary().result.isComplete);
    EXPECT_THAT(run->events(), testing::Not(testing::Contains("paused")));
}

TEST_F(SessionTest, TheNextRunEndsAPausedOneAndItsRowsStay) {
    const auto first = start({.statement = rowsQuery(5000), .pageRows = 100});
    first->waitFor("paused");
    const auto second = start({.statement = "SELECT 2"});
    second->waitForEnd();
    first->waitForEnd();

    EXPECT_FALSE(first->error());
    EXPECT_FALSE(first->summary().result.isComplete);
    EXPECT_EQ(first->result()->rowCount(), 100U);
    EXPECT_EQ(second->result()->cell(0, 0).integer, 2);
}

TEST_F(SessionTest, ARunThatAnotherWaitsForDoesNotPause) {
    const auto first = start({.statement = rowsQuery(300'000), .pageRows = 200'000});
    const auto second = start({.statement = "SELECT 2"});
    first->waitForEnd();
    second->waitForEnd();
    EXPECT_FALSE(second->error());
}

TEST_F(SessionTest, CancelStopsALongComputation) {
    const auto run = start({.statement = "SELECT count(*) FROM (" + rowsQuery(1'000'000'000) + ")"});
    run->waitFor("columns");
    handle_.cancel();
    run->waitForEnd();
    EXPECT_EQ(run->error()->kind, ErrorKind::Cancelled);
}

TEST_F(SessionTest, CancelWhileRowsArriveKeepsThem) {
    const auto run = start({.statement = rowsQuery(1'000'000'000), .pageRows = std::nullopt});
    run->waitForRows(10'000);
    handle_.cancel();
    run->waitForEnd();
    EXPECT_EQ(run->error()->kind, ErrorKind::Cancelled);
    EXPECT_GE(run->result()->rowCount(), 10'000U);
}

TEST_F(SessionTest, CancelBeforeTheStartIsAStopToo) {
    const auto first = start({.statement = rowsQuery(1'000'000'000), .pageRows = std::nullopt});
    const RunHandle firstHandle = handle_;
    const auto second = start({.statement = "SELECT 2"});
    handle_.cancel();
    firstHandle.cancel();
    second->waitForEnd();
    EXPECT_EQ(second->error()->kind, ErrorKind::Cancelled);
}

TEST_F(SessionTest, ClosingEndsWhatRunsAndWhatWaits) {
    const auto running = start({.statement = rowsQuery(1'000'000'000), .pageRows = std::nullopt});
    const auto waiting = start({.statement = "SELECT 2"});
    running->waitFor("columns");
    session_.reset();
    EXPECT_EQ(running->error()->kind, ErrorKind::Cancelled);
    EXPECT_EQ(waiting->error()->kind, ErrorKind::Cancelled);
}

TEST_F(SessionTest, ClosingEndsAPausedRun) {
    const auto run = start({.statement = rowsQuery(5000), .pageRows = 10});
    run->waitFor("paused");
    session_.reset();
    EXPECT_EQ(run->events().back(), "failed");
    EXPECT_EQ(run->result()->rowCount(), 10U);
}

TEST_F(SessionTest, AFailedOpeningIsTriedAgain) {
    const test::TemporaryFolder folder;
    session_ = std::make_unique<Session>(test::profileOf(folder / "late.db"), std::nullopt);
    auto run = start({.statement = "SELECT 1"});
    run->waitForEnd();
    EXPECT_EQ(run->error()->kind, ErrorKind::NotFound);

    test::runScript(folder / "late.db", "CREATE TABLE t (a)");
    run = start({.statement = "SELECT 1"});
    run->waitForEnd();
    EXPECT_FALSE(run->error());
}

TEST_F(SessionTest, ABatchStopsAtItsFirstMistake) {
    const auto batch = std::make_shared<RunBatch>();
    const auto bad = start({.statement = "SELECT wrong", .batch = batch});
    const auto after = start({.statement = "SELECT 2", .batch = batch});
    const auto apart = start({.statement = "SELECT 3"});
    apart->waitForEnd();
    EXPECT_EQ(bad->error()->kind, ErrorKind::UnknownName);
    EXPECT_THAT(after->error()->message, testing::HasSubstr("Not run"));
    EXPECT_FALSE(after->result());
    EXPECT_FALSE(apart->error());
}

class FailingConsumer final : public ChunkConsumer {
public:
    Status begin(const std::vector<data::Column>&) override { return {}; }
    Status take(const data::Chunk&) override { return Error{.kind = ErrorKind::Io, .message = "The disk is full."}; }
};

TEST_F(SessionTest, AConsumerThatFailsEndsTheRunWithItsReason) {
    const auto run = start(
        {.statement = rowsQuery(100'000), .pageRows = std::nullopt, .consumer = std::make_shared<FailingConsumer>()});
    run->waitForEnd();
    EXPECT_EQ(run->error()->message, "The disk is full.");
}

TEST_F(SessionTest, WhatRanOnConnectingIsToldOnceForALine) {
    ConnectionProfile profile = memoryProfile();
    profile.onConnect = "PRAGMA foreign_keys = ON";
    session_ = std::make_unique<Session>(profile, std::nullopt);
    const auto first = start({.statement = "SELECT 1"});
    const auto second = start({.statement = "SELECT 2"});
    second->waitForEnd();
    EXPECT_EQ(first->summary().ranOnConnect, "PRAGMA foreign_keys = ON");
    EXPECT_EQ(second->summary().ranOnConnect, "");
}

}  // namespace
}  // namespace pantry::db
