#include "core/work/result_change.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <set>

#include "core/work/regular_run.h"

namespace pantry::work {
namespace {

using testing::HasSubstr;
using Rows = std::vector<std::pair<std::int64_t, std::string>>;

data::ResultSetPtr batches(const Rows& rows, const char* second = "state") {
    auto set = std::make_shared<data::ResultSet>(
        std::vector<data::Column>{{.name = "batch", .typeName = "integer", .type = data::ColumnType::Integer},
                                  {.name = second, .typeName = "text", .type = data::ColumnType::Text}});
    data::ChunkBuilder builder(2);
    for (const auto& [id, state] : rows) {
        builder.addInteger(id);
        builder.addText(state);
        builder.endRow();
        if (builder.isFull()) set->append(builder.take());
    }
    if (builder.rowCount() > 0) set->append(builder.take());
    return set;
}

ResultChange between(const data::ResultSetPtr& before, const data::ResultSetPtr& now) {
    auto change = changeBetween(before, now, {});
    EXPECT_TRUE(change);
    return change ? std::move(*change) : ResultChange();
}

TEST(ResultChangeTest, SaysAndMarksWhatIsOther) {
    const ResultChange change =
        between(batches({{1, "cooking"}, {2, "done"}, {3, "done"}}), batches({{1, "done"}, {3, "done"}, {4, "new"}}));
    EXPECT_EQ(change.text, "1 added, 1 removed, 1 changed (state 1), 1 the same");
    EXPECT_FALSE(change.isNone());
    EXPECT_EQ(change.of(0, 0), CellChange::None);
    EXPECT_EQ(change.of(0, 1), CellChange::Changed);
    EXPECT_EQ(change.of(1, 1), CellChange::None);
    EXPECT_EQ(change.of(2, 0), CellChange::Added);
    EXPECT_EQ(change.of(2, 1), CellChange::Added);
    EXPECT_EQ(change.differences->rowCount(), 4U) << "one twice, one that came, one that went";
}

TEST(ResultChangeTest, SaysThatNothingIsOther) {
    const ResultChange change = between(batches({{1, "done"}, {2, "done"}}), batches({{2, "done"}, {1, "done"}}));
    EXPECT_TRUE(change.isNone());
    EXPECT_EQ(change.text, "no difference in 2 rows");
    EXPECT_TRUE(change.marks.empty());
    EXPECT_TRUE(between(batches({}), batches({})).isNone());
}

TEST(ResultChangeTest, WithoutAKeyRowsComeAndGoInsteadOfChanging) {
    const ResultChange change = between(batches({{1, "a"}, {1, "a"}}), batches({{1, "a"}, {1, "b"}}));
    EXPECT_EQ(change.counts.changed, 0U);
    EXPECT_EQ(change.counts.added, 1U);
    EXPECT_EQ(change.counts.removed, 1U);
    EXPECT_EQ(change.of(1, 1), CellChange::Added);
}

TEST(ResultChangeTest, ColumnsThatOnlyOneHasAreNoChange) {
    const ResultChange change = between(batches({{1, "a"}}, "state"), batches({{1, "b"}}, "note"));
    EXPECT_TRUE(change.isNone()) << change.text;
    data::ResultSet other({{.name = "fruit", .typeName = "text", .type = data::ColumnType::Text}});
    EXPECT_FALSE(changeBetween(batches({}), std::make_shared<data::ResultSet>(other.columns()), {}))
        << "no column in common";
}

RC_GTEST_PROP(ResultChangeProperty, CountsAndMarksAgree, (const std::set<int>& before, const std::set<int>& now)) {
    Rows left;
    Rows right;
    for (const int id : before) left.emplace_back(id, id % 3 == 0 ? "x" : "y");
    for (const int id : now) right.emplace_back(id, "y");
    const auto change = changeBetween(batches(left), batches(right), {});
    RC_ASSERT(change.has_value());
    std::size_t added = 0;
    std::size_t changed = 0;
    for (std::size_t row = 0; row < right.size(); ++row) {
        added += change->of(row, 0) == CellChange::Added ? 1U : 0U;
        changed += change->of(row, 1) == CellChange::Changed ? 1U : 0U;
    }
    RC_ASSERT(added == change->counts.added);
    RC_ASSERT(changed == change->counts.changed);
    RC_ASSERT(change->counts.same + change->counts.changed + change->counts.added == right.size());
    RC_ASSERT(change->counts.same + change->counts.changed + change->counts.removed == left.size());
}

// ---- Running regularly ----

constexpr base::Moment kNoon{std::chrono::hours(12)};

TEST(RegularRunTest, RunsEverySoManyMinutes) {
    RegularRun plan;
    EXPECT_FALSE(plan.isDue(kNoon)) << "off";
    plan.begin(10, kNoon);
    EXPECT_FALSE(plan.isDue(kNoon + std::chrono::minutes(9)));
    EXPECT_TRUE(plan.isDue(kNoon + std::chrono::minutes(10)));
    // The machine slept for hours: one run, and the next one ten minutes later.
    plan.noteRun(kNoon + std::chrono::hours(3));
    EXPECT_FALSE(plan.isDue(kNoon + std::chrono::hours(3)));
    EXPECT_EQ(plan.next(), kNoon + std::chrono::hours(3) + std::chrono::minutes(10));
    plan.end();
    EXPECT_FALSE(plan.isDue(kNoon + std::chrono::hours(30)));
}

TEST(RegularRunTest, MinutesHaveBounds) {
    RegularRun plan;
    plan.begin(0, kNoon);
    EXPECT_EQ(plan.minutes(), RegularRun::kFewestMinutes);
    plan.begin(1'000'000, kNoon);
    EXPECT_EQ(plan.minutes(), RegularRun::kMostMinutes);
}

TEST(RegularRunTest, OnlyWhatReadsAndNotOnLiveDataUnlessAllowed) {
    db::ConnectionProfile trial;
    trial.environment = db::Environment::Trial;
    db::ConnectionProfile live;
    live.name = "Orchard (live)";
    live.environment = db::Environment::Live;
    const sql::Statement reads("SELECT count(*) FROM tree", sql::Dialect::Sqlite);
    const sql::Statement changes("DELETE FROM tree WHERE id = 1", sql::Dialect::Sqlite);
    EXPECT_FALSE(RegularRun::whyNot(reads, &trial, false));
    EXPECT_FALSE(RegularRun::whyNot(reads, &live, true));
    ASSERT_TRUE(RegularRun::whyNot(reads, &live, false));
    EXPECT_THAT(RegularRun::whyNot(reads, &live, false)->message, HasSubstr("Orchard (live) is live"));
    EXPECT_THAT(RegularRun::whyNot(changes, &live, true)->message, HasSubstr("may change something"));
    EXPECT_EQ(RegularRun::whyNot(reads, nullptr, true)->kind, ErrorKind::Connection);
}

}  // namespace
}  // namespace pantry::work
