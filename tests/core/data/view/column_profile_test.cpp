#include "core/data/view/column_profile.h"

#include "core/data/table_of.h"
#include "core/data/view/distinct_count.h"

namespace pantry::data {
namespace {

using test::tableOf;
using testing::ElementsAre;

ColumnProfile profileOf(Column column, const std::vector<std::optional<std::string>>& values) {
    std::vector<test::Texts> rows;
    for (const auto& value : values) rows.push_back({value});
    return *profileColumn(ResultView(tableOf({std::move(column)}, rows)), 0, {});
}

TEST(ColumnProfileTest, NumbersAreMeasuredExactly) {
    const auto p =
        profileOf({"kg", "numeric", ColumnType::Decimal}, {"1.10", "2.20", "3.30", "4.40", std::nullopt, "100"});
    EXPECT_EQ(p.rows, 6U);
    EXPECT_EQ(p.nulls, 1U);
    EXPECT_EQ(p.distinct, 5U);
    EXPECT_FALSE(p.isDistinctEstimated);
    EXPECT_EQ(p.minimum, "1.10");
    EXPECT_EQ(p.maximum, "100");
    EXPECT_EQ(p.sum, "111.00");
    EXPECT_EQ(p.mean, "22.2");
    EXPECT_EQ(p.median, "3.3");
    EXPECT_EQ(p.lowerQuartile, "2.2");
    EXPECT_EQ(p.upperQuartile, "4.4");
    EXPECT_EQ(p.farAbove, 1U) << "100 lies far out";
    EXPECT_EQ(p.upperFence, "11");
    EXPECT_EQ(p.farBelow, 0U);
}

TEST(ColumnProfileTest, MomentsAreMeasuredAndWrittenAsMoments) {
    const auto p = profileOf({"picked", "date", ColumnType::Date}, {"2026-11-01", "2026-11-03", "2026-11-02"});
    EXPECT_EQ(p.median, "2026-11-02");
    EXPECT_EQ(p.mean, "2026-11-02");
    EXPECT_EQ(p.minimum, "2026-11-01");
    EXPECT_EQ(p.sum, "") << "days have no sum";
}

TEST(ColumnProfileTest, TextsHaveLengthsAndCommonValues) {
    const auto p = profileOf({"variety", "text", ColumnType::Text}, {"Cox", "Cox", "Élan", "", "Cox", "Élan", "Belle"});
    EXPECT_EQ(p.empties, 1U);
    EXPECT_EQ(p.shortest, 0U);
    EXPECT_EQ(p.longest, 5U);
    EXPECT_EQ(p.commonest[0], (ColumnProfile::Common{"Cox", 3}));
    EXPECT_EQ(p.commonest[1], (ColumnProfile::Common{"Élan", 2}));
    EXPECT_EQ(p.distinct, 4U);
    EXPECT_TRUE(p.histogram.empty());
}

TEST(ColumnProfileTest, TheHistogramCountsEveryNumberOnce) {
    std::vector<std::optional<std::string>> values;
    for (int i = 0; i <= 240; ++i) values.emplace_back(std::to_string(i));
    const auto p = profileOf({"n", "integer", ColumnType::Integer}, values);
    std::size_t sum = 0;
    for (const std::size_t count : p.histogram) sum += count;
    EXPECT_EQ(sum, 241U);
    EXPECT_EQ(p.histogram.size(), 24U);
}

TEST(ColumnProfileTest, AColumnOfNothingHasNothingToTell) {
    const auto p = profileOf({"n", "integer", ColumnType::Integer}, {std::nullopt, std::nullopt});
    EXPECT_EQ(p.nulls, 2U);
    EXPECT_EQ(p.minimum, "");
    EXPECT_EQ(p.mean, "");
}

TEST(ColumnProfileTest, ManyDifferentValuesAreEstimatedAndSaidSo) {
    auto result = std::make_shared<ResultSet>(std::vector<Column>{{"n", "integer", ColumnType::Integer}});
    ChunkBuilder builder(1);
    constexpr int kValues = 250'000;
    for (int i = 0; i < kValues; ++i) {
        builder.addInteger(i);
        builder.endRow();
        if (builder.isFull()) result->append(builder.take());
    }
    result->append(builder.take());
    const auto p = *profileColumn(ResultView(result), 0, {});
    EXPECT_TRUE(p.isDistinctEstimated);
    EXPECT_NEAR(static_cast<double>(p.distinct), kValues, kValues * 0.03);
    EXPECT_EQ(p.sum, "31249875000");
}

TEST(DistinctEstimateTest, IsNearForFewAndForMany) {
    for (const int count : {10, 1000, 50'000, 1'000'000}) {
        DistinctEstimate estimate;
        for (int round = 0; round < 2; ++round) {
            for (int i = 0; i < count; ++i) estimate.add(hashOf(std::to_string(i)));
        }
        EXPECT_NEAR(static_cast<double>(estimate.count()), count, count * 0.03 + 1);
    }
}

}  // namespace
}  // namespace pantry::data
