#include "core/work/document_runs.h"

#include "core/work/run_events.h"
#include "core/work/runs_fixture.h"

namespace pantry::work {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::Pair;

using DocumentRunsTest = RunsTest;

TEST_F(DocumentRunsTest, RunsOneBehindTheOtherAndKeepsThem) {
    runAll({"SELECT 1 AS one", "SELECT plot_id FROM plot LIMIT 3"});
    ASSERT_EQ(runs_->runs().size(), 2U);
    EXPECT_EQ(run(0).outcomeText(), "1 row");
    EXPECT_EQ(run(1).outcomeText(), "3 rows");
    EXPECT_EQ(run(0).place(), "orchard");
    EXPECT_THAT(changes_, Contains(Pair(1, RunChange::Started)));
    EXPECT_THAT(changes_, Contains(Pair(2, RunChange::Rested)));
    EXPECT_THAT(concluded_, ElementsAre(1, 2));
    const auto entries = kept();
    ASSERT_EQ(entries.size(), 2U);
    EXPECT_EQ(entries[0].start.sheet, "Plots");
    EXPECT_EQ(entries[0].end.status, store::RunStatus::Succeeded);
    EXPECT_EQ(entries[1].end.rows, 3);
    EVENTUALLY(run(0).isKept() && run(1).isKept());
}

TEST_F(DocumentRunsTest, WithoutAConnectionNothingIsSent) {
    session_->goTo("nowhere");
    runs_->add(statements({"SELECT 1"}));
    EXPECT_THAT(heard_, ElementsAre("nowhere"));
    EXPECT_TRUE(runs_->runs().empty());
}

TEST_F(DocumentRunsTest, BehindAFailureNothingRunsAndNothingIsLeftBehind) {
    runAll({"SELECT 1", "SELECT nmae FROM plot", "SELECT 3"});
    ASSERT_EQ(runs_->runs().size(), 2U) << "the third was never sent, and has no run";
    EXPECT_EQ(run(1).state(), RunState::Failed);
    EXPECT_THAT(remarks_, Contains("1 statement behind it not run."));
    EXPECT_EQ(kept().size(), 2U);
    runAll({"SELECT 4"});
    EXPECT_EQ(run(2).number(), 3) << "a number that was free again";
}

TEST_F(DocumentRunsTest, ErrorsComeWithWhatTextAndCatalogKnow) {
    connections_.beginWith("orchard");
    catalogs_.want("orchard");
    EVENTUALLY(catalogs_.state("orchard").catalog != nullptr);
    runAll({"SELECT nmae FROM plot"});
    EXPECT_THAT(run(0).error()->hint, HasSubstr("name"));
}

TEST_F(DocumentRunsTest, WhatIsHeldBackRunsWithTheRightNameOnly) {
    runAll({"DELETE FROM plot"});
    ASSERT_TRUE(runs_->held());
    EXPECT_TRUE(runs_->runs().empty()) << "no server has seen it";
    EXPECT_TRUE(kept().empty());
    runs_->confirm("kitchen");
    EXPECT_THAT(remarks_, Contains(HasSubstr("orchard")));
    ASSERT_TRUE(runs_->held());
    runs_->dismiss();
    EXPECT_FALSE(runs_->held());
    runAll({"DELETE FROM plot WHERE plot_id < 0", "DELETE FROM plot"});
    ASSERT_TRUE(runs_->held());
    runs_->confirm("orchard");
    EVENTUALLY(runs_->runs().size() == 2 && !runs_->isRunning());
    EXPECT_THAT(run(1).outcomeText(), testing::AnyOf(HasSubstr("changed"), HasSubstr("FOREIGN KEY")));
}

TEST_F(DocumentRunsTest, AConfirmationAheadIsForItsConnectionOnly) {
    runs_->confirmAhead("kitchen");
    runAll({"CREATE TABLE jar (jar_id INTEGER)", "DELETE FROM jar"});
    EXPECT_TRUE(runs_->held());
    runs_->dismiss();
    runs_->confirmAhead("orchard");
    EXPECT_FALSE(runs_->whyHeld(statements({"DELETE FROM jar"})[0]));
    runAll({"DELETE FROM jar"});
    EXPECT_FALSE(runs_->held());
    EXPECT_EQ(run(1).outcomeText(), "0 rows changed");
}

TEST_F(DocumentRunsTest, WhatIsPassedOverCountsAsFailed) {
    runs_->setOnError(OnError::GoOn);
    runAll({"CREATE TABLE jar (jar_id INTEGER)", "DELETE FROM jar", "SELECT 3"});
    ASSERT_TRUE(runs_->held());
    runs_->passOver();
    EVENTUALLY(runs_->runs().size() == 2 && !runs_->isRunning());
    EXPECT_EQ(run(1).title(), "SELECT 3");
    runs_->setOnError(OnError::Stop);
    runAll({"DELETE FROM jar", "SELECT 5"});
    runs_->passOver();
    EXPECT_FALSE(runs_->isBusy());
    EXPECT_EQ(runs_->runs().size(), 2U);
    EXPECT_THAT(remarks_, Contains("1 statement behind it not run."));
}

TEST_F(DocumentRunsTest, AClientThatCannotTakeTheRowsMakesItFail) {
    refusal_ = Error{.message = "The disk is full."};
    runAll({"SELECT 1", "SELECT 2"});
    EXPECT_EQ(run(0).state(), RunState::Failed);
    EXPECT_EQ(run(0).outcomeText(), "The disk is full.");
    EXPECT_EQ(kept().at(0).end.status, store::RunStatus::Failed);
}

TEST_F(DocumentRunsTest, OneByOneMeansThatNothingIsSentBeforeTheEndOfTheOneBefore) {
    runs_->sendOneByOne();
    runs_->add(statements({"SELECT 1", "SELECT 2"}));
    EXPECT_EQ(runs_->runs().size(), 1U);
    EXPECT_TRUE(runs_->isBusy());
    EVENTUALLY(!runs_->isBusy());
    EXPECT_EQ(runs_->runs().size(), 2U);
}

TEST_F(DocumentRunsTest, APausedRunGoesOnOrEndsWithWhatIsThere) {
    preferences_.changeSettings([](store::Settings& settings) { settings.pageRows = 5; });
    const char* numbers =
        "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 40) SELECT i FROM n";
    runAll({numbers});
    const RunPtr first = runs_->runs()[0];
    ASSERT_EQ(first->state(), RunState::Paused);
    EXPECT_EQ(first->outcomeText(), "first 5 rows");
    EXPECT_EQ(kept().at(0).end.rows, 5);
    runs_->fetchMore(first, 7);
    EXPECT_TRUE(runs_->isRunning());
    EVENTUALLY(first->state() == RunState::Paused && first->rowCount() == 12);
    runs_->endPaused(first);
    EVENTUALLY(first->state() == RunState::Partial);
    runs_->fetchAll(first);  // its connection reads it no more: it runs once more, as a run of its own
    EVENTUALLY(runs_->runs().size() == 2 && run(1).state() == RunState::Done);
    EXPECT_EQ(run(1).rowCount(), 40U);
    EXPECT_EQ(first->rowCount(), 12U);
    EXPECT_THAT(concluded_, ElementsAre(1, 1, 2)) << "each page, and not once more at its end";
}

TEST_F(DocumentRunsTest, ARunInThePlaceOfAnotherHearsNothingOfItsEnd) {
    preferences_.changeSettings([](store::Settings& settings) { settings.pageRows = 5; });
    runAll({"SELECT plot_id FROM plot"});
    const RunPtr paused = runs_->runs()[0];
    ASSERT_EQ(paused->state(), RunState::Paused);
    changes_.clear();
    runs_->rerun(paused);  // ends the paused one
    EVENTUALLY(paused->state() == RunState::Paused);
    std::erase_if(changes_, [](const auto& change) { return change.second == RunChange::Looks; });
    EXPECT_THAT(changes_,
                ElementsAre(Pair(1, RunChange::Started), Pair(1, RunChange::Result), Pair(1, RunChange::Rested)));
    const auto entries = kept();
    ASSERT_EQ(entries.size(), 2U);
    EXPECT_EQ(entries[0].end.status, store::RunStatus::Succeeded);
}

TEST_F(DocumentRunsTest, ElsewhereItIsNotRunAgain) {
    runAll({"SELECT 1"});
    const RunPtr first = runs_->runs()[0];
    EXPECT_FALSE(runs_->whyNotAgain(*first));
    session_->goTo("kitchen");
    EXPECT_FALSE(runs_->isFromHere(*first));
    EXPECT_THAT(runs_->whyNotAgain(*first)->message, HasSubstr("orchard"));
    runs_->rerun(first);
    EXPECT_THAT(remarks_, Contains(HasSubstr("came from orchard")));
    EXPECT_EQ(runs_->runs().size(), 1U);
}

TEST_F(DocumentRunsTest, WhatMayChangeSomethingIsNotRunAgainForItsRows) {
    runAll({"CREATE TABLE jar (jar_id INTEGER)", "INSERT INTO jar VALUES (1) RETURNING jar_id"});
    EXPECT_THAT(runs_->whyNotAgain(run(1))->message, HasSubstr("may change something"));
}

TEST_F(DocumentRunsTest, TheLedgerHearsOfTheEndOfARunThatIsRemoved) {
    runs_->add(statements({"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT count(*) FROM n"}));
    EVENTUALLY(run(0).state() == RunState::Running);
    runs_->remove(runs_->runs()[0]);
    EXPECT_TRUE(runs_->runs().empty());
    EVENTUALLY(kept().at(0).end.status == store::RunStatus::Stopped);
    runAll({"SELECT 1"});
    EXPECT_EQ(run(0).state(), RunState::Done) << "the session is free again";
}

TEST_F(DocumentRunsTest, StopStopsWhatRunsAndGivesUpWhatWaits) {
    runs_->sendOneByOne();
    runs_->add(statements(
        {"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT count(*) FROM n", "SELECT 2"}));
    EVENTUALLY(run(0).state() == RunState::Running);
    EXPECT_TRUE(runs_->isUnderWay(run(0).statement()));
    EXPECT_TRUE(runs_->isUnderWay(statements({"SELECT 2"})[0]));
    runs_->stop();
    EVENTUALLY(!runs_->isRunning());
    EXPECT_EQ(run(0).state(), RunState::Stopped);
    EXPECT_EQ(runs_->runs().size(), 1U);
    EXPECT_FALSE(runs_->isBusy());
}

TEST_F(DocumentRunsTest, TheOldestGoBeyondVeryManyButForPinnedOnes) {
    runAll({"SELECT 0"});
    runs_->setPinned(runs_->runs()[0], true);
    std::vector<sql::Statement> many(205, sql::Statement("SELECT 1", sql::Dialect::Sqlite));
    runs_->add(many);
    EVENTUALLY(!runs_->isBusy());
    EXPECT_EQ(runs_->runs().size(), 200U);
    EXPECT_EQ(run(0).title(), "SELECT 0");
    EXPECT_EQ(run(199).number(), 206);
}

TEST_F(DocumentRunsTest, AComparisonIsOneMoreWithoutAStatement) {
    runAll({"SELECT 1 AS one"});
    runs_->addComparison("differences", run(0).result(), "nothing differs");
    EXPECT_EQ(run(1).outcome(), "nothing differs");
    EXPECT_EQ(run(1).title(), "differences");
    EXPECT_THAT(runs_->whyNotAgain(run(1))->message, HasSubstr("no statement"));
    runs_->rerun(runs_->runs()[1]);
    EXPECT_THAT(remarks_, Contains(HasSubstr("compare once more")));
    runs_->move(runs_->runs()[1], -1);
    EXPECT_EQ(run(0).title(), "differences");
}

TEST_F(DocumentRunsTest, BesideItNothingRunsInItsSessionWhileThatIsBusy) {
    runs_->add(statements({"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT count(*) FROM n"}));
    EXPECT_FALSE(runs_->runBeside({.statement = "SELECT 1"}, nullptr, true));
    runs_->stop();
    EVENTUALLY(!runs_->isRunning());
    int ended = 0;
    const WhileThere here;
    RunNews news;
    news.finished = [&](const db::RunSummary& summary) { ended += static_cast<int>(summary.rowCount); };
    for (const bool isInThisSession : {true, false}) {
        const auto beside = runs_->runBeside({.statement = sql::Statement("SELECT 1", sql::Dialect::Sqlite)},
                                             runEvents(around_.owner(), here.there(), news), isInThisSession);
        ASSERT_TRUE(beside);
        EXPECT_EQ(beside->session == nullptr, isInThisSession);
        const int before = ended;
        EVENTUALLY(ended == before + 1);
    }
    EXPECT_EQ(runs_->runs().size(), 1U);
}

}  // namespace
}  // namespace pantry::work
