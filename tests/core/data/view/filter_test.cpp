#include "core/data/view/filter.h"

#include "core/data/table_of.h"

namespace pantry::data {
namespace {

using Ask = pantry::data::Test;  // within a test, Test is the framework's
using test::columnOf;
using test::tableOf;
using testing::ElementsAre;
using testing::HasSubstr;

const std::vector<Column> kTrees{{"variety", "text", ColumnType::Text},
                                 {"kilograms", "numeric", ColumnType::Decimal},
                                 {"picked", "date", ColumnType::Date}};

ResultSetPtr trees() {
    return tableOf(kTrees, {{"Belle", "12.50", "2026-11-01"},
                            {"Cox", "9", "2026-08-20"},
                            {"", "100", "2025-11-17"},
                            {"belle d’été", std::nullopt, "2026-11-20"},
                            {std::nullopt, "12.5", std::nullopt}});
}

std::vector<std::string> kept(std::vector<Condition> conditions, bool isAnyEnough = false) {
    const auto now = base::Moment(
        std::chrono::duration_cast<base::Moment::duration>(std::chrono::hours(24) * 20'780));  // 2026-11-23
    const auto result = trees();
    for (const Condition& c : conditions) {
        const Status status = checkCondition(c, kTrees);
        EXPECT_TRUE(status) << (status ? "" : status.error().text());
    }
    const auto rows = filterRows(*result, result->rowCount(), {conditions, isAnyEnough}, now, {});
    std::vector<std::string> numbers;
    for (const std::uint32_t row : *rows) numbers.push_back(std::to_string(row));
    return numbers;
}

TEST(FilterTest, NumbersCompareByValueAndNullFulfilsNothing) {
    EXPECT_THAT(kept({{1, Ask::Equals, false, {"12.5"}}}), ElementsAre("0", "4"));
    EXPECT_THAT(kept({{1, Ask::Equals, true, {"12.5"}}}), ElementsAre("1", "2"));
    EXPECT_THAT(kept({{1, Ask::AtLeast, false, {"12.5"}}}), ElementsAre("0", "2", "4"));
    EXPECT_THAT(kept({{1, Ask::Below, false, {"12.5"}}}), ElementsAre("1"));
    EXPECT_THAT(kept({{1, Ask::Between, false, {"9", "12.50"}}}), ElementsAre("0", "1", "4"));
    EXPECT_THAT(kept({{1, Ask::OneOf, false, {"9.0", "100"}}}), ElementsAre("1", "2"));
}

TEST(FilterTest, ColumnsWithoutATypeCompareNumbersAsNumbers) {
    const std::vector<Column> columns{{"x", "", ColumnType::Unknown}};
    auto result = std::make_shared<ResultSet>(columns);
    ChunkBuilder builder(1);
    for (const double value : {0.0, 1.0, 2.5, 10.0}) {
        builder.addReal(value);
        builder.endRow();
    }
    builder.addInteger(9);
    builder.endRow();
    builder.addText("pear");
    builder.endRow();
    result->append(builder.take());
    const auto rows = [&](Condition condition) {
        EXPECT_TRUE(checkCondition(condition, columns));
        return *filterRows(*result, result->rowCount(), {{condition}, false}, {}, {});
    };
    EXPECT_THAT(rows({0, Ask::Above, false, {"1"}}), testing::IsSupersetOf({2U, 3U, 4U}));
    EXPECT_THAT(rows({0, Ask::Below, false, {"2.5"}}), ElementsAre(0U, 1U));
    EXPECT_THAT(rows({0, Ask::Equals, false, {"1"}}), ElementsAre(1U));
    EXPECT_THAT(rows({0, Ask::Between, false, {"2", "9"}}), ElementsAre(2U, 4U));
    EXPECT_THAT(rows({0, Ask::Equals, false, {"pear"}}), ElementsAre(5U));
}

TEST(FilterTest, TheValueThatIsMissingIsBlamed) {
    const Status status = checkCondition({1, Ask::Between, false, {"9", ""}}, kTrees);
    ASSERT_FALSE(status);
    EXPECT_EQ(status.error().message, "The second value is missing.");
    EXPECT_THAT(checkCondition({1, Ask::Between, false, {"9", "x"}}, kTrees).error().message, HasSubstr("“x”"));
}

TEST(FilterTest, TextsAreLookedThroughInSeveralWays) {
    EXPECT_THAT(kept({{0, Ask::Contains, false, {"ELLE"}}}), ElementsAre("0", "3"));
    EXPECT_THAT(kept({{0, Ask::StartsWith, false, {"co"}}}), ElementsAre("1"));
    EXPECT_THAT(kept({{0, Ask::Matches, false, {"^[BC].*[xe]$"}}}), ElementsAre("0", "1"));
    EXPECT_THAT(kept({{0, Ask::OneOf, false, {"Belle", "Cox"}}}), ElementsAre("0", "1"));
    EXPECT_THAT(kept({{0, Ask::Equals, false, {"Belle"}}}), ElementsAre("0"));
}

TEST(FilterTest, NullIsNotEmptyText) {
    EXPECT_THAT(kept({{0, Ask::IsNull, false, {}}}), ElementsAre("4"));
    EXPECT_THAT(kept({{0, Ask::IsEmpty, false, {}}}), ElementsAre("2"));
    EXPECT_THAT(kept({{0, Ask::IsNull, true, {}}}), ElementsAre("0", "1", "2", "3"));
}

TEST(FilterTest, DaysAreComparedAndAgedFromNow) {
    EXPECT_THAT(kept({{2, Ask::Above, false, {"2026-10-31"}}}), ElementsAre("0", "3"));
    EXPECT_THAT(kept({{2, Ask::OlderThan, false, {"30 days"}}}), ElementsAre("1", "2"));
}

TEST(FilterTest, TheLargestKeepTheirEquals) {
    EXPECT_THAT(kept({{1, Ask::Largest, false, {"2"}}}), ElementsAre("0", "2", "4"));
    EXPECT_THAT(kept({{1, Ask::Smallest, false, {"1"}}}), ElementsAre("1"));
    EXPECT_THAT(kept({{1, Ask::Largest, false, {"99"}}}), ElementsAre("0", "1", "2", "4"));
}

TEST(FilterTest, ConditionsHoldAllOrAny) {
    const Condition heavy{1, Ask::Above, false, {"10"}};
    const Condition belle{0, Ask::Contains, false, {"belle"}};
    EXPECT_THAT(kept({heavy, belle}), ElementsAre("0"));
    EXPECT_THAT(kept({heavy, belle}, true), ElementsAre("0", "2", "3", "4"));
}

TEST(FilterTest, WhatCannotBeAskedIsTold) {
    const auto wrong = [](Condition condition) { return checkCondition(condition, kTrees).error().message; };
    EXPECT_THAT(wrong({1, Ask::Above, false, {"heavy"}}), HasSubstr("“heavy” is not a number"));
    EXPECT_THAT(wrong({2, Ask::Equals, false, {"17.11."}}), HasSubstr("a date such as"));
    EXPECT_THAT(wrong({2, Ask::OlderThan, false, {"long"}}), HasSubstr("a span of time"));
    EXPECT_THAT(wrong({0, Ask::Matches, false, {"(a"}}), HasSubstr("no regular expression"));
    EXPECT_THAT(wrong({1, Ask::Between, false, {"1"}}), HasSubstr("two values"));
    EXPECT_THAT(wrong({1, Ask::Largest, false, {"0"}}), HasSubstr("a number of values"));
}

TEST(FilterTest, AViewFiltersOrdersAndLooksForTextAtOnce) {
    const ViewRequest request{
        .order = {{1, true}}, .filterText = "20", .filter = {{{1, Ask::AtLeast, false, {"12.5"}}}, false}};
    EXPECT_THAT(columnOf(*ResultView::make(trees(), request, {})), ElementsAre("", "Belle"));
}

TEST(FilterTest, AConditionIsSaidInWords) {
    EXPECT_EQ(describe({1, Ask::Between, false, {"1", "2"}}, kTrees), "kilograms is between 1 and 2");
    EXPECT_EQ(describe({0, Ask::OneOf, false, {"a", "b"}}, kTrees), "variety is one of a, b");
    EXPECT_EQ(describe({0, Ask::IsNull, false, {}}, kTrees), "variety is null");
    EXPECT_EQ(describe({0, Ask::Contains, true, {"x"}}, kTrees), "variety does not contain x");
}

}  // namespace
}  // namespace pantry::data
