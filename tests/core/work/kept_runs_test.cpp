#include "core/work/kept_runs.h"

#include "core/base/executor.h"
#include "core/work/runs_fixture.h"

namespace pantry::work {
namespace {

class KeptRunsTest : public RunsTest {
protected:
    std::vector<RestoredRun> back(const std::string& owner = "sheet") {
        std::optional<std::vector<RestoredRun>> found;
        kept_.load(owner, sql::Dialect::Sqlite, [&](const auto& runs) { found = runs; });
        kept_.flush();
        EXPECT_TRUE(thread_.until([&] { return found.has_value(); }));
        return found.value_or(std::vector<RestoredRun>());
    }
    KeptRuns kept_{around_};
};

TEST_F(KeptRunsTest, RunsComeBackWithRowsFailuresAndCounts) {
    runAll({"SELECT 1 AS one UNION ALL SELECT 2", "SELECT missing", "CREATE TEMP TABLE bed (id INTEGER)"});
    runs_->runs().front()->setTitle("Two rows");
    for (const RunPtr& run : runs_->runs()) kept_.keep("sheet", *run, run->number() == 1 ? "all of it" : "");
    const auto restored = back();
    ASSERT_EQ(restored.size(), runs_->runs().size());
    for (std::size_t i = 0; i < restored.size(); ++i) {
        const work::Run& one = *restored[i].run;
        EXPECT_EQ(one.outcome(), run(i).outcome());
        EXPECT_EQ(one.state(), run(i).state());
        EXPECT_EQ(one.statement(), run(i).statement());
        EXPECT_EQ(one.origin(), run(i).origin());
        EXPECT_EQ(one.place(), run(i).place());
        EXPECT_EQ(one.startedAt(), run(i).startedAt());
        EXPECT_EQ(one.error(), run(i).error());
        EXPECT_TRUE(one.isKept()) << "the ledger had it";
    }
    EXPECT_EQ(restored[0].run->title(), "Two rows");
    EXPECT_EQ(restored[0].whole, "all of it");
    ASSERT_TRUE(restored[0].run->result());
    EXPECT_EQ(restored[0].run->result()->cell(1, 0).integer, 2);
}

TEST_F(KeptRunsTest, RestoredRunsStandAmongOthersAndRunAgain) {
    runAll({"SELECT 1"});
    kept_.keep("sheet", run(0), "");
    const auto restored = back();
    ASSERT_EQ(restored.size(), 1U);
    runs_.emplace(DocumentRuns::Needs{around_.owner(), *session_, ledger_, &memory_}, *this);
    runs_->restore(restored[0].run);
    runs_->restore(restored[0].run);
    EXPECT_EQ(runs_->runs().size(), 1U) << "its number is taken";
    runAll({"SELECT 2"});
    ASSERT_EQ(runs_->runs().size(), 2U);
    EXPECT_EQ(run(1).number(), 2);
    runs_->rerun(restored[0].run);
    ASSERT_TRUE(thread_.until([&] { return !runs_->isRunning(); }));
    EXPECT_EQ(run(0).outcomeText(), "1 row");
    EXPECT_EQ(kept().size(), 3U) << "the ledger has each";
}

TEST_F(KeptRunsTest, RowsThatAreTooManyAreToldAndReadAgain) {
    runAll({"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n LIMIT 2500) SELECT i FROM n"});
    runs_->fetchAll(runs_->runs().front());
    ASSERT_TRUE(thread_.until([&] { return run(0).state() == RunState::Done; }));
    kept_.keep("sheet", run(0), "");
    const RunPtr one = back().at(0).run;
    EXPECT_FALSE(one->result());
    EXPECT_TRUE(one->isWithoutRows());
    EXPECT_EQ(one->outcomeText(), run(0).outcomeText());
    // What was kept without rows is kept so once more.
    kept_.keep("sheet", *one, "");
    EXPECT_EQ(back().at(0).run->outcomeText(), run(0).outcomeText());
    runs_.emplace(DocumentRuns::Needs{around_.owner(), *session_, ledger_, &memory_}, *this);
    runs_->restore(one);
    runs_->rerun(one);
    ASSERT_TRUE(thread_.until([&] { return !runs_->isRunning(); }));
    EXPECT_FALSE(one->isWithoutRows());
    EXPECT_GT(one->rowCount(), 0U);
}

TEST_F(KeptRunsTest, NothingSecretStandsInAFile) {
    runAll({"SELECT 'password=quince' AS text"});
    EXPECT_FALSE(mayBeKept(run(0)));
    kept_.keep("sheet", run(0), "");
    sql::Statement given("SELECT :password", sql::Dialect::Sqlite);
    runs_->add({given.with({{"password", "quince"}})});
    ASSERT_TRUE(thread_.until([&] { return !runs_->isRunning(); }));
    EXPECT_FALSE(mayBeKept(run(1)));
    kept_.keep("sheet", run(1), "");
    kept_.flush();
    EXPECT_FALSE(std::filesystem::exists(around_.home().resultsFolder() / "sheet"));
}

TEST_F(KeptRunsTest, RowsStayAwayFromDiskWhenSomebodyWantsThat) {
    runAll({"SELECT 'quince' AS fruit"});
    kept_.setKeepsRows(false);
    kept_.keep("sheet", run(0), "");
    const auto restored = back();
    ASSERT_EQ(restored.size(), 1U);
    EXPECT_TRUE(restored[0].run->isWithoutRows());
    EXPECT_EQ(restored[0].run->outcomeText(), "1 row");
}

TEST_F(KeptRunsTest, AResultOfASavedQueryIsComparedWithTheOneBefore) {
    const auto change = [&](const work::Run& run, const std::string& saved, EarlierResult earlier = {}) {
        ResultChangePtr found;
        kept_.compareWithLast(saved, run, std::move(earlier), [&](const ResultChangePtr& told) { found = told; });
        kept_.flush();
        base::Executor::drainAll();
        bool isBehind = false;  // what was told before this is told by then
        around_.owner().post([&] { isBehind = true; });
        EXPECT_TRUE(thread_.until([&] { return isBehind; }));
        return found;
    };
    runAll({"CREATE TEMP TABLE jar (id INTEGER PRIMARY KEY, state TEXT)", "INSERT INTO jar VALUES (1, 'full')",
            "SELECT * FROM jar"});
    EXPECT_FALSE(change(run(2), "jars.sql")) << "there was none before";
    runAll({"UPDATE jar SET state = 'empty' WHERE id = 1", "SELECT * FROM jar"});
    const ResultChangePtr second = change(run(4), "jars.sql");
    ASSERT_TRUE(second);
    EXPECT_EQ(second->text, "1 changed (state 1), 0 the same");
    EXPECT_EQ(second->since, run(2).startedAt());
    EXPECT_FALSE(change(run(4), "other.sql")) << "another query";
    EXPECT_FALSE(change(run(4), "")) << "of no saved query";
    const ResultChangePtr same = change(run(4), "jars.sql");
    ASSERT_TRUE(same);
    EXPECT_TRUE(same->isNone());
    // What somebody has at hand goes before what stands on disk.
    const ResultChangePtr given = change(run(4), "", {run(2).result(), run(2).startedAt()});
    ASSERT_TRUE(given);
    EXPECT_EQ(given->counts.changed, 1U);
}

TEST_F(KeptRunsTest, ValuesOfParametersComeBack) {
    const sql::Statement given("SELECT :least, :names", sql::Dialect::Sqlite);
    const sql::ParameterValues values{{"least", "3"}, {"names", sql::ParameterValue({"a", std::nullopt})}};
    runs_->add({given.with(values)});
    ASSERT_TRUE(thread_.until([&] { return !runs_->isRunning(); }));
    kept_.keep("sheet", run(0), "");
    EXPECT_EQ(back().at(0).run->statement().parameters(), values);
}

}  // namespace
}  // namespace pantry::work
