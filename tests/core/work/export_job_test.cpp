#include "core/work/export_job.h"

#include <fstream>

#include "core/work/runs_fixture.h"

namespace pantry::work {
namespace {

using testing::HasSubstr;
using testing::StartsWith;

class ExportJobTest : public RunsTest {
protected:
    void SetUp() override {
        RunsTest::SetUp();
        runAll({"SELECT plot_id, name FROM plot ORDER BY plot_id"});
        job_.emplace(around_.owner(), ledger_, [this](const ExportJob::End& end) { end_ = end; });
    }
    void TearDown() override {
        job_.reset();
        RunsTest::TearDown();
    }
    [[nodiscard]] data::ResultView view() const { return data::ResultView(run(0).result()); }
    [[nodiscard]] std::string file() const { return (folder_ / "plots.csv").string(); }
    [[nodiscard]] ExportJob::RunAgain again() {
        return [this](db::RunRequest request, std::shared_ptr<db::RunObserver> observer) {
            request.statement = run(0).statement();
            return runs_->runBeside(std::move(request), std::move(observer), false);
        };
    }
    static std::string content(const std::string& file) {
        std::ifstream in(file);
        return {std::istreambuf_iterator<char>(in), {}};
    }

    std::optional<ExportJob> job_;
    std::optional<ExportJob::End> end_;
};

TEST_F(ExportJobTest, WritesTheRowsThatAreHere) {
    job_->writeRows({.choices = {}, .file = file()}, view(), {});
    EXPECT_TRUE(job_->isRunning());
    EVENTUALLY(end_.has_value());
    ASSERT_TRUE(end_->status) << end_->status.error().text();
    EXPECT_FALSE(job_->isRunning());
    EXPECT_EQ(end_->rows, run(0).rowCount());
    EXPECT_THAT(content(file()), StartsWith("plot_id,name"));
    EXPECT_EQ(kept().size(), 1U) << "no statement ran for it";
}

TEST_F(ExportJobTest, AFileThatIsThereStaysUntilSomebodySaysSo) {
    std::ofstream(file()) << "mine";
    job_->writeRows({.choices = {}, .file = file()}, view(), {});
    EVENTUALLY(end_.has_value());
    EXPECT_TRUE(end_->wasThere);
    EXPECT_FALSE(job_->isRunning());
    EXPECT_EQ(content(file()), "mine");
    end_.reset();
    job_->writeRows({.choices = {}, .file = file(), .replacesFile = true}, view(), {});
    EVENTUALLY(end_.has_value());
    EXPECT_TRUE(end_->status);
    EXPECT_THAT(content(file()), StartsWith("plot_id,name"));
}

TEST_F(ExportJobTest, GathersChosenRowsAsAText) {
    job_->writeRows({.choices = {}, .maxTextBytes = 1000}, view(), {1, 2});
    EVENTUALLY(end_.has_value());
    ASSERT_TRUE(end_->status);
    EXPECT_EQ(end_->rows, 2U);
    EXPECT_THAT(end_->text, HasSubstr("\n2,"));
    EXPECT_THAT(end_->text, testing::Not(HasSubstr("\n1,")));
}

TEST_F(ExportJobTest, ATextThatGrowsTooLargeSaysSo) {
    job_->writeRows({.choices = {}, .maxTextBytes = 5}, view(), {});
    EVENTUALLY(end_.has_value());
    EXPECT_FALSE(end_->status);
    EXPECT_TRUE(end_->text.empty());
}

TEST_F(ExportJobTest, RunsTheStatementOnceMoreAndTheLedgerHasIt) {
    job_->writeFromServer({.choices = {}, .file = file()}, again(), session_->record(run(0).statement(), "Plots"));
    EVENTUALLY(end_.has_value());
    ASSERT_TRUE(end_->status) << end_->status.error().text();
    EXPECT_EQ(end_->rows, run(0).rowCount());
    const auto entries = kept();
    ASSERT_EQ(entries.size(), 2U);
    EXPECT_EQ(entries[1].end.status, store::RunStatus::Succeeded);
    EXPECT_EQ(entries[1].end.rows, static_cast<std::int64_t>(run(0).rowCount()));
}

TEST_F(ExportJobTest, AStopEndsItAtTheServerAndTellsWhatIsThere) {
    runAll({"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT i FROM n"});
    job_->writeFromServer(
        {.choices = {}, .file = file()},
        [this](db::RunRequest request, std::shared_ptr<db::RunObserver> observer) {
            request.statement = run(1).statement();
            return runs_->runBeside(std::move(request), std::move(observer), false);
        },
        session_->record(run(1).statement(), "Plots"));
    EVENTUALLY(job_->rowCount() > 1000);
    EXPECT_EQ(job_->total(), 0U);
    job_->stop();
    EVENTUALLY(end_.has_value());
    EXPECT_EQ(end_->status.error().kind, ErrorKind::Cancelled);
    EXPECT_FALSE(end_->part.empty());
    EXPECT_EQ(kept().back().end.status, store::RunStatus::Stopped);
}

TEST_F(ExportJobTest, ASessionThatIsNotFreeSaysSo) {
    job_->writeFromServer({.choices = {}, .file = file()},
                          [](const auto&, const auto&) { return std::optional<RunBeside>(); }, {});
    EVENTUALLY(end_.has_value());
    EXPECT_THAT(end_->status.error().message, HasSubstr("not free"));
    EXPECT_EQ(kept().size(), 1U);
}

}  // namespace
}  // namespace pantry::work
