#include "core/work/run_difference.h"

#include <gmock/gmock.h>

namespace pantry::work {
namespace {

using namespace std::chrono_literals;
using testing::ElementsAre;
using testing::IsEmpty;

store::LedgerEntry entry(std::string statement, store::RunEnd end = {.duration = 9ms, .rows = 24}) {
    return {.start = {.engine = "postgres", .statement = std::move(statement)}, .end = std::move(end)};
}

std::vector<std::string> said(const store::LedgerEntry& before, const store::LedgerEntry& now) {
    std::vector<std::string> all;
    for (const RunDifference& one : differencesOf(before, now))
        all.push_back(one.what + ": " + one.before + " > " + one.now);
    return all;
}

TEST(RunDifferenceTest, ValuesAreNamedByWhatTheyStandBeside) {
    EXPECT_THAT(said(entry("SELECT * FROM inspection i WHERE i.visited_on >= '2025-01-01' AND i.scab_score > 3"),
                     entry("select * from inspection i where i.visited_on >= '2026-01-01' and i.scab_score > 3")),
                ElementsAre("Value of visited_on: '2025-01-01' > '2026-01-01'"));
    EXPECT_THAT(said(entry("SELECT 1"), entry("SELECT 2")), ElementsAre("Value: 1 > 2"));
    EXPECT_THAT(said(entry("a IN (1, 2)"), entry("a IN (1, 2, 3)")), ElementsAre("Values: 2 > 3"));
    EXPECT_THAT(said(entry("SELECT 1"), entry("SELECT 1")), IsEmpty());
}

TEST(RunDifferenceTest, WhatBecameOfThemIsCompared) {
    EXPECT_THAT(said(entry("SELECT 1", {.duration = 90ms, .fetching = 10ms, .rows = 24}),
                     entry("SELECT 1", {.duration = 8ms, .rows = 1000, .isPartial = true})),
                ElementsAre("Rows: 24 > first 1\u2009000", "Time at the server: 80 ms > 8 ms"));
    EXPECT_THAT(said(entry("SELECT 1"), entry("SELECT 1", {.status = store::RunStatus::Failed, .error = "locked"})),
                ElementsAre("Outcome: done > failed: locked"));
    store::LedgerEntry elsewhere = entry("SELECT 1");
    elsewhere.start.schema = "trial";
    elsewhere.start.parameters = "n = 3";
    EXPECT_THAT(said(entry("SELECT 1"), elsewhere), ElementsAre("Parameters: none > n = 3", "Schema: none > trial"));
}

TEST(RunDifferenceTest, TheValueThatOneChangesIsTheFirstThatSomethingIsComparedWith) {
    const auto value = [](const std::string& statement) {
        const auto [start, end] = firstValueOf(statement, sql::Dialect::Postgres);
        return statement.substr(start, end - start);
    };
    EXPECT_EQ(value("SELECT round(a, 2) FROM t WHERE b = 'plum' AND c > 7"), "plum");
    EXPECT_EQ(value("SELECT count(*), 5 FROM t"), "5");
    EXPECT_EQ(value("SELECT a FROM t WHERE b IN (3)"), "3");
    EXPECT_EQ(value("SELECT a FROM t"), "");
    EXPECT_EQ(firstValueOf("SELECT a", sql::Dialect::Postgres).first, 8U) << "behind all of it";
}

TEST(RunDifferenceTest, ARunThatTookFarLongerThanUsualIsTold) {
    const auto points = [](std::initializer_list<std::chrono::microseconds> durations) {
        std::vector<store::LedgerFold::Point> all;
        for (const auto duration : durations) all.push_back({.duration = duration});
        return all;
    };
    EXPECT_EQ(slownessOf(points({10ms, 12ms, 11ms, 220ms})), "20 times slower than usual");
    EXPECT_EQ(slownessOf(points({10ms, 12ms, 11ms, 13ms})), "");
    EXPECT_EQ(slownessOf(points({1ms, 1ms, 1ms, 90ms})), "") << "nobody waits for that";
    EXPECT_EQ(slownessOf(points({10ms, 500ms})), "") << "once is no habit";
    EXPECT_EQ(slownessOf(points({2s, 2s, 2s, 5s})), "") << "not three times";
    EXPECT_EQ(slownessOf({}), "");
    auto failed = points({10ms, 12ms, 11ms, 900ms});
    failed.back().status = store::RunStatus::Failed;
    EXPECT_EQ(slownessOf(failed), "");
}

}  // namespace
}  // namespace pantry::work
