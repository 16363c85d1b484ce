#include "core/data/view/row_sort.h"

#include <fmt/format.h>
#include <rapidcheck/gtest.h>

#include <numeric>

#include "core/base/text.h"
#include "core/data/table_of.h"

namespace pantry::data {
namespace {

using test::columnOf;
using test::tableOf;
using testing::ElementsAre;

std::vector<std::string> sorted(Column column, std::vector<std::optional<std::string>> values,
                                bool isDescending = false, const TextKey& key = {}) {
    std::vector<test::Texts> rows;
    for (auto& value : values) rows.push_back({value});
    const auto view = ResultView::make(tableOf({std::move(column)}, rows), {.order = {{0, isDescending}}}, {}, key);
    return columnOf(*view);
}

TEST(RowSortTest, NumbersOfAnySizeStandByTheirValue) {
    EXPECT_THAT(
        sorted({"n", "numeric", ColumnType::Decimal},
               {"10", "9.5", "-3", "123456789012345678901234567890", "123456789012345678901234567889", "NaN"}),
        ElementsAre("-3", "9.5", "10", "123456789012345678901234567889", "123456789012345678901234567890", "NaN"));
}

TEST(RowSortTest, MomentsStandByWhenTheyWereWhateverTheirZone) {
    EXPECT_THAT(
        sorted({"at", "timestamptz", ColumnType::Timestamp},
               {"2026-11-17 10:00:00+02", "2026-11-17 09:00:00+00", "infinity", "0044-03-15 00:00:00+00 BC"}),
        ElementsAre("0044-03-15 00:00:00+00 BC", "2026-11-17 10:00:00+02", "2026-11-17 09:00:00+00", "infinity"));
}

TEST(RowSortTest, SpansAndTruthHaveTheirOwnOrder) {
    EXPECT_THAT(sorted({"took", "interval"}, {"1 mon", "29 days", "00:00:10", "1 year"}),
                ElementsAre("00:00:10", "29 days", "1 mon", "1 year"));
    EXPECT_THAT(sorted({"ripe", "boolean", ColumnType::Boolean}, {"t", "f", std::nullopt, "t"}),
                ElementsAre("f", "t", "t", "∅"));
}

TEST(RowSortTest, WhatItsColumnCannotReadStandsBehindAsText) {
    EXPECT_THAT(sorted({"n", "integer", ColumnType::Integer}, {"x", "2", "10", "a"}), ElementsAre("2", "10", "a", "x"));
}

TEST(RowSortTest, TextsOfOneBeginningAreTakenApart) {
    EXPECT_THAT(sorted({"s", "text", ColumnType::Text}, {"orchard-12", "orchard-1", "orchard", "orchar"}),
                ElementsAre("orchar", "orchard", "orchard-1", "orchard-12"));
    EXPECT_THAT(sorted({"s", "text", ColumnType::Text}, {"orchard-12", "orchard-1", "orchard", "orchar"}, true),
                ElementsAre("orchard-12", "orchard-1", "orchard", "orchar"));
}

TEST(RowSortTest, ATextKeyDecidesAboutTexts) {
    const TextKey lower = [](std::string_view text, std::string& key) { key = base::toLower(text); };
    EXPECT_THAT(sorted({"s", "text", ColumnType::Text}, {"b", "A", "C"}, false, lower), ElementsAre("A", "b", "C"));
}

TEST(RowSortTest, NullsStandWhereTheyAreWanted) {
    const auto table = tableOf({{"n", "integer", ColumnType::Integer}}, {{"2"}, {std::nullopt}, {"1"}});
    EXPECT_THAT(columnOf(*ResultView::make(table, {.order = {{0, false}}}, {})), ElementsAre("1", "2", "∅"));
    EXPECT_THAT(columnOf(*ResultView::make(table, {.order = {{0, true}}, .areNullsFirst = true}, {})),
                ElementsAre("∅", "2", "1"));
}

TEST(RowSortTest, SortingStopsWhenAsked) {
    const auto table = tableOf({{"n", "integer", ColumnType::Integer}}, {{"2"}, {"1"}});
    base::Cancellation stop;
    stop.request();
    EXPECT_FALSE(ResultView::make(table, {.order = {{0, false}}}, stop));
}

/// Rows of integers, reals, texts, bytes and NULLs, in as many chunks as it takes.
ResultSetPtr mixture(const std::vector<std::pair<int, int>>& values) {
    auto result = std::make_shared<ResultSet>(std::vector<Column>{{"m", ""}});
    ChunkBuilder builder(1);
    for (const auto& [kind, value] : values) {
        switch (std::abs(kind) % 5) {
            case 0: builder.addInteger(value); break;
            case 1: builder.addReal(value / 4.0); break;
            case 2: builder.addText(fmt::format("text {}", value % 50)); break;
            case 3: builder.addBinary(fmt::format("{}", value % 50)); break;
            default: builder.addNull();
        }
        builder.endRow();
        if (builder.rowCount() == 700) result->append(builder.take());
    }
    result->append(builder.take());
    return result;
}

RC_GTEST_PROP(RowSortProperty, TheOrderIsThatOfAStableSortByComparison,
              (const std::vector<std::pair<int, int>>& few, bool isDescending)) {
    std::vector<std::pair<int, int>> values = few;
    for (std::size_t i = 0; i < 1500; ++i)
        values.emplace_back(static_cast<int>(i % 7), static_cast<int>(i * 37 % 101) - 50);
    const auto result = mixture(values);
    Rows expected(result->rowCount());
    std::iota(expected.begin(), expected.end(), 0U);
    Rows rows = expected;
    std::ranges::stable_sort(expected, [&](std::uint32_t a, std::uint32_t b) {
        const Cell left = result->cell(a, 0);
        const Cell right = result->cell(b, 0);
        if (left.isNull() || right.isNull()) return !left.isNull() && right.isNull();
        const auto compared = compareCells(left, right, ValueOrder::Text);
        return isDescending ? compared > 0 : compared < 0;
    });
    RC_ASSERT(sortRows(rows, *result, result->rowCount(), {0, isDescending}, {}, {}));
    RC_ASSERT(rows == expected);
}

}  // namespace
}  // namespace pantry::data
