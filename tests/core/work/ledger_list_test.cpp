// What a program shows of the ledger: pages of folds, and how statements went the last time.
#include "core/work/ledger_list.h"

#include <fmt/format.h>

#include "core/work/application_fixture.h"
#include "core/work/last_runs.h"

namespace pantry::work {
namespace {

using namespace std::chrono_literals;
using testing::ElementsAre;

class LedgerListTest : public ApplicationTest {
protected:
    LedgerListTest() : ledger_(around_, [this] { ++changes_; }) { ledger_.open(); }

    void import(const std::vector<store::LedgerEntry>& entries) {
        auto ledger = store::Ledger::open(around_.home().ledgerFile());
        ASSERT_TRUE(ledger);
        ASSERT_TRUE((*ledger)->import(entries));
    }
    static store::LedgerEntry ran(const std::string& statement, std::chrono::minutes ago = 0min,
                                  store::RunEnd end = {.duration = 8ms, .rows = 24}) {
        return {.startedAt = base::now() - ago,
                .start = {.connectionId = "c1", .engine = "sqlite", .statement = statement},
                .end = std::move(end)};
    }
    std::vector<std::string> shown() {
        std::vector<std::string> all;
        for (const store::LedgerFold& one : list_.folds()) all.push_back(one.last.start.statement);
        return all;
    }
    void search(const std::string& text, std::vector<std::string> connections = {}) {
        list_.search(std::move(connections), store::parseLedgerSearch(text, base::now()));
        EVENTUALLY(!list_.isReading());
        EXPECT_FALSE(list_.problem()) << list_.problem()->text();
        EXPECT_THAT(raised(), testing::IsEmpty());
    }

    int changes_ = 0;
    LedgerKeeper ledger_;
    std::vector<std::size_t> added_;
    LedgerList list_{ledger_, {.added = [this](std::size_t first) { added_.push_back(first); }, .rested = [] {}}};
};

TEST_F(LedgerListTest, MoreComesPageByPageAndNothingTwice) {
    std::vector<store::LedgerEntry> many;
    for (int i = 0; i < 100; ++i) many.push_back(ran(fmt::format("SELECT c{} FROM plot", i), std::chrono::minutes(i)));
    import(many);
    search("");
    EXPECT_EQ(list_.folds().size(), LedgerList::kPage);
    EXPECT_TRUE(list_.hasMore());
    list_.more();
    EVENTUALLY(list_.folds().size() == 2 * LedgerList::kPage);
    list_.more();
    EVENTUALLY(list_.folds().size() == 100 && !list_.isReading());
    list_.more();
    EVENTUALLY(!list_.hasMore());
    EXPECT_THAT(added_, ElementsAre(0, 40, 80));
    const auto all = shown();
    EXPECT_EQ(std::set(all.begin(), all.end()).size(), 100U);
    EXPECT_EQ(all.back(), "SELECT c99 FROM plot");
}

TEST_F(LedgerListTest, ASearchLooksFurtherBackUntilItHasEnough) {
    std::vector<store::LedgerEntry> many{ran("SELECT rare FROM quince", 60'000min)};
    for (int i = 0; i < 9000; ++i) many.push_back(ran("UPDATE plot SET name = 'x'", std::chrono::minutes(i)));
    import(many);
    search("-changes");
    EXPECT_THAT(shown(), ElementsAre("SELECT rare FROM quince")) << "behind nine thousand others";
    EXPECT_FALSE(list_.lookedBackTo());
    search("changes");
    ASSERT_EQ(list_.folds().size(), 1U);
    EXPECT_EQ(list_.folds()[0].runs, 9000);
}

TEST_F(LedgerListTest, AnAnswerToAnOlderSearchIsDropped) {
    import({ran("SELECT plum"), ran("SELECT pear")});
    for (const char* text : {"plum", "pear", "plu", "pear"})
        list_.search({}, store::parseLedgerSearch(text, base::now()));
    EVENTUALLY(!list_.isReading() && !list_.folds().empty());
    EXPECT_THAT(shown(), ElementsAre("SELECT pear"));
    EXPECT_THAT(added_, ElementsAre(0));
    search("", {"nobody"});
    EXPECT_TRUE(list_.folds().empty());
}

TEST_F(LedgerListTest, WhatIsRemovedStarredAndNotedIsNews) {
    import({ran("SELECT plum"), ran("SELECT pear FROM t", 5min)});
    search("");
    ASSERT_EQ(list_.folds().size(), 2U);
    const std::int64_t id = list_.folds()[0].last.id;
    ledger_.setStarred(id, true);
    ledger_.setNote(id, "ripe");
    EVENTUALLY(changes_ == 2);
    search("starred ripe");
    EXPECT_THAT(shown(), ElementsAre("SELECT plum"));
    std::optional<std::vector<store::LedgerEntry>> gone;
    ledger_.remove({id}, [&](auto entries) { gone = std::move(entries); });
    EVENTUALLY(gone.has_value());
    search("");
    EXPECT_THAT(shown(), ElementsAre("SELECT pear FROM t"));
    ledger_.restore(*gone);
    EVENTUALLY(changes_ == 4);
    list_.again();
    EVENTUALLY(shown().size() == 2);
    EXPECT_EQ(list_.folds()[0].last.note, "ripe");
}

TEST_F(LedgerListTest, AStatementSaysHowItWentTheLastTime) {
    import({ran("SELECT name FROM plot", 5min), ran("UPDATE plot SET n = 1", 4min, {.duration = 2s, .affected = 3}),
            ran("SELECT broken", 3min, {.status = store::RunStatus::Failed})});
    int read = 0;
    LastRuns last(ledger_, [&] { ++read; });
    last.setPlace("c1", sql::Dialect::Sqlite);
    EXPECT_EQ(last.textOf(1, "select name from plot"), "") << "it is not known yet";
    (void)last.textOf(2, "UPDATE plot SET n = 1");
    (void)last.textOf(3, "SELECT broken");
    last.readAsked();
    EVENTUALLY(read == 1);
    EXPECT_EQ(last.textOf(1, "select name from plot"), "last time 24 rows · 8 ms");
    EXPECT_EQ(last.textOf(2, "UPDATE plot SET n = 1"), "last time 3 rows changed · 2.0 s");
    EXPECT_EQ(last.textOf(3, "SELECT broken"), "") << "it never went well";
    import({ran("SELECT name FROM plot", 0min, {.duration = 9ms, .rows = 25})});
    last.noteRun();
    EXPECT_EQ(last.textOf(1, "select name from plot"), "last time 24 rows · 8 ms") << "until it is read again";
    last.readAsked();
    EVENTUALLY(read == 2);
    EXPECT_EQ(last.textOf(1, "select name from plot"), "last time 25 rows · 9 ms");
    last.setPlace("c2", sql::Dialect::Sqlite);
    EXPECT_EQ(last.textOf(1, "select name from plot"), "") << "it never ran there";
}

TEST_F(LedgerListTest, WhatIsOldGoesButNotWhatIsStarred) {
    store::LedgerEntry kept = ran("SELECT kept FROM plot", std::chrono::hours(24 * 400));
    kept.isStarred = true;
    import({ran("SELECT old FROM plot", std::chrono::hours(24 * 400)), kept, ran("SELECT new FROM plot")});
    ledger_.thin(0, 0);
    ledger_.flush();
    search("");
    EXPECT_EQ(list_.folds().size(), 3U) << "0 keeps everything";
    ledger_.thin(365, 0);
    EVENTUALLY(changes_ > 0);
    search("");
    EXPECT_THAT(shown(), ElementsAre("SELECT new FROM plot", "SELECT kept FROM plot"));
}

TEST_F(LedgerListTest, StatisticsAreCountedBesideWhatElseIsAsked) {
    import({ran("SELECT 1"), ran("SELECT 2"),
            ran("SELECT nme", 0min, {.status = store::RunStatus::Failed, .error = "no"})});
    std::optional<Result<store::LedgerStatistics>> counted;
    ledger_.readStatistics({"c1"}, {}, [&](const Result<store::LedgerStatistics>& all) { counted = all; });
    EVENTUALLY(counted.has_value());
    ASSERT_TRUE(*counted);
    EXPECT_EQ((*counted)->runs, 3);
    EXPECT_EQ((*counted)->failed, 1);
    EXPECT_EQ((*counted)->most.front().runs, 2);
}

}  // namespace
}  // namespace pantry::work
