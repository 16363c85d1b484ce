// The statements of a form as they are run: in a transaction where there is one, guarded, into the ledger.
#include "core/work/definition_run.h"

#include <gmock/gmock.h>

#include "core/work/document_fixture.h"

namespace pantry::work {
namespace {

using testing::HasSubstr;

class DefinitionRunTest : public DocumentTest {
protected:
    void SetUp() override {
        DocumentTest::SetUp();
        ledger_.open();
        run_ = std::make_unique<DefinitionRun>(
            DefinitionRun::Needs{around_.owner(), connections_, catalogs_, preferences_, ledger_},
            RunPlace{.connection = "orchard"}, "Change plot",
            DefinitionRun::Told{
                .progressed = [this](std::size_t, std::size_t, const std::string& label) { labels_.push_back(label); },
                .finished = [this](const auto& outcome) { outcome_ = outcome; },
                .passwordWanted = [] {}});
    }
    static sql::DefinitionChange changeOf(std::vector<std::string> statements) {
        sql::DefinitionChange change;
        for (std::string& one : statements) change.steps.push_back({std::move(one), "Step"});
        return change;
    }
    bool isThere(const std::string& table) {
        std::optional<bool> answer;
        catalogs_.readRows(
            "orchard", {}, sql::Statement("SELECT 1 FROM sqlite_schema WHERE name = '" + table + "'"), 1,
            [&](const Result<data::ResultSetPtr>& rows) { answer = rows && *rows && (*rows)->rowCount() > 0; });
        thread_.until([&] { return answer.has_value(); });
        return answer.value_or(false);
    }

    LedgerKeeper ledger_{around_, [] {}};
    std::unique_ptr<DefinitionRun> run_;
    std::optional<DefinitionRun::Outcome> outcome_;
    std::vector<std::string> labels_;
};

TEST_F(DefinitionRunTest, SeveralStatementsHoldTogether) {
    run_->run(changeOf({"CREATE TABLE ladder (n INTEGER)", "CREATE INDEX ladder_n ON ladder (n)"}), "orchard");
    EVENTUALLY(outcome_.has_value());
    EXPECT_FALSE(outcome_->error);
    EXPECT_TRUE(isThere("ladder_n"));
    EXPECT_EQ(labels_.front(), "Begin a transaction");
    EXPECT_EQ(outcome_->labels.size(), 2U) << "what was changed, without the transaction around it";
    std::optional<std::size_t> kept;
    ledger_.find({}, [&](const Result<std::vector<store::LedgerEntry>>& found) { kept = found ? found->size() : 0; });
    EVENTUALLY(kept.has_value());
    EXPECT_EQ(*kept, 4U) << "with the transaction's two";
}

TEST_F(DefinitionRunTest, TheFirstThatFailsTakesTheOthersBack) {
    run_->run(changeOf({"CREATE TABLE ladder (n INTEGER)", "CREATE INDEX ladder_n ON ladder (nothing)"}), "orchard");
    EVENTUALLY(outcome_.has_value());
    ASSERT_TRUE(outcome_->error);
    EXPECT_TRUE(outcome_->isRolledBack);
    EXPECT_THAT(outcome_->failed, HasSubstr("ladder_n"));
    EXPECT_FALSE(isThere("ladder"));
    outcome_.reset();
    run_->run(changeOf({"CREATE TABLE ladder (n INTEGER)"}), "orchard");  // and it can be tried again
    EVENTUALLY(outcome_.has_value());
    EXPECT_FALSE(outcome_->error);
    EXPECT_TRUE(isThere("ladder"));
}

TEST_F(DefinitionRunTest, OnALiveConnectionOnlyItsNameLetsItRun) {
    put("orchard", (folder_ / "orchard.db").string(), db::Environment::Live);
    const sql::DefinitionChange change = changeOf({"CREATE TABLE ladder (n INTEGER)"});
    run_ = std::make_unique<DefinitionRun>(
        DefinitionRun::Needs{around_.owner(), connections_, catalogs_, preferences_, ledger_},
        RunPlace{.connection = "orchard"}, "Change",
        DefinitionRun::Told{.progressed = [](auto, auto, const auto&) {},
                            .finished = [this](const auto& outcome) { outcome_ = outcome; },
                            .passwordWanted = [] {}});
    EXPECT_NE(run_->whyHeld(change), "");
    run_->run(change, "somewhere else");
    EVENTUALLY(outcome_.has_value());
    ASSERT_TRUE(outcome_->error);
    EXPECT_EQ(outcome_->error->kind, ErrorKind::HeldBack);
    EXPECT_FALSE(isThere("ladder"));
    outcome_.reset();
    run_->run(change, "orchard");
    EVENTUALLY(outcome_.has_value());
    EXPECT_FALSE(outcome_->error) << outcome_->error->text();
    EXPECT_TRUE(isThere("ladder"));
}

TEST_F(DefinitionRunTest, KeysThatWouldLeadNowhereUndoATableThatIsBuiltAnew) {
    sql::DefinitionChange change = changeOf({"PRAGMA foreign_keys = OFF", "BEGIN IMMEDIATE", "DELETE FROM plot",
                                             "PRAGMA main.foreign_key_check", "COMMIT", "PRAGMA foreign_keys = ON"});
    change.hasOwnTransaction = true;
    run_->run(change, "orchard");
    EVENTUALLY(outcome_.has_value());
    ASSERT_TRUE(outcome_->error);
    EXPECT_TRUE(outcome_->isRolledBack);
    EXPECT_THAT(outcome_->error->message, HasSubstr("refer to something that is not there"));
    std::optional<std::int64_t> plots;
    catalogs_.count("orchard", {}, sql::Statement("SELECT count(*) FROM plot"),
                    [&](const Result<std::int64_t>& n) { plots = n.value_or(-1); });
    EVENTUALLY(plots.has_value());
    EXPECT_GT(*plots, 0);
}

TEST(StepsToRunTest, ServersWaitForLocksWithALimitAndOnlySomeTakeDefinitionsBack) {
    sql::DefinitionChange change;
    change.steps = {{"ALTER TABLE a ADD b int", "Add"}, {"ALTER TABLE a ADD c int", "Add"}};
    const auto texts = [&](db::Engine engine) {
        std::vector<std::string> out;
        for (const auto& step : stepsToRun(change, engine)) out.push_back(step.statement);
        return out;
    };
    EXPECT_THAT(texts(db::Engine::Postgres),
                testing::ElementsAre("SET lock_timeout = 10000", "BEGIN", "ALTER TABLE a ADD b int",
                                     "ALTER TABLE a ADD c int", "COMMIT"));
    EXPECT_THAT(texts(db::Engine::MariaDb), testing::ElementsAre("SET SESSION lock_wait_timeout = 10",
                                                                 "ALTER TABLE a ADD b int", "ALTER TABLE a ADD c int"));
}

}  // namespace
}  // namespace pantry::work
