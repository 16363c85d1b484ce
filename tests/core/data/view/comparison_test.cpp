#include "core/data/view/comparison.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck.h>

#include <map>
#include <numeric>

namespace pantry::data {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;
using Texts = std::vector<std::vector<std::optional<std::string>>>;

ResultSetPtr resultOf(const std::vector<Column>& columns, const Texts& rows) {
    auto result = std::make_shared<ResultSet>(columns);
    ChunkBuilder builder(columns.size());
    for (const auto& row : rows) {
        for (const auto& value : row) value ? builder.addText(*value) : builder.addNull();
        builder.endRow();
    }
    if (builder.rowCount() > 0) result->append(builder.take());
    return result;
}

const std::vector<Column> kBatch{{"batch_id", "integer", ColumnType::Integer},
                                 {"kettle", "text", ColumnType::Text},
                                 {"sugar", "numeric", ColumnType::Decimal}};

/// Rows as text, the way differencesOf() gives them.
std::vector<std::string> textOf(const ResultSetPtr& result) {
    std::vector<std::string> out;
    for (std::size_t r = 0; r < result->rowCount(); ++r) {
        std::string line;
        for (std::size_t c = 0; c < result->columns().size(); ++c) {
            const Cell cell = result->cell(r, c);
            if (c > 0) line.append("|");
            line.append(cell.isNull() ? "∅" : toText(cell));
            if (isChangedCell(*result, r, c)) line += "*";
        }
        out.push_back(line);
    }
    return out;
}

std::vector<std::string> differences(const ResultSetPtr& before, const ResultSetPtr& after,
                                     std::vector<std::size_t> keys, bool hasSameRows = false) {
    const ComparisonRequest request{.columns = matchColumns(before->columns(), after->columns()).pairs,
                                    .keys = std::move(keys)};
    const ResultView left(before);
    const ResultView right(after);
    const auto comparison = compareResults(left, right, request, {});
    return textOf(differencesOf(*comparison, left, right, request, hasSameRows, {}));
}

TEST(ComparisonTest, RowsAreFoundByTheirKey) {
    const auto before = resultOf(kBatch, {{"1", "copper", "10.5"}, {"2", "steel", "9"}, {"3", "copper", "8"}});
    const auto after = resultOf(
        kBatch, {{"4", "tin", "7"}, {"3", "copper", "8.0"}, {"1", "steel", "10.5"}, {"5", "tin", std::nullopt}});
    EXPECT_THAT(differences(before, after, {0}),
                ElementsAre("added|4|tin|7", "before|1|copper*|10.5", "after|1|steel*|10.5", "added|5|tin|∅",
                            "removed|2|steel|9"));
    EXPECT_THAT(differences(before, after, {0}, true), testing::Contains("same|3|copper|8.0"))
        << "8 and 8.0 are the same number";
}

TEST(ComparisonTest, WithoutAKeyRowsAreComparedInTheirOrder) {
    const auto before = resultOf(kBatch, {{"1", "copper", "10"}, {"2", "steel", "9"}});
    const auto after = resultOf(kBatch, {{"1", "copper", "11"}, {"2", "steel", "9"}, {"3", "tin", "1"}});
    EXPECT_THAT(differences(before, after, {}),
                ElementsAre("before|10*|1|copper", "after|11*|1|copper", "added|1|3|tin"));
    EXPECT_THAT(differences(after, before, {}),
                ElementsAre("before|11*|1|copper", "after|10*|1|copper", "removed|1|3|tin"));
}

TEST(ComparisonTest, ChangesAreCountedByColumn) {
    const auto before = resultOf(kBatch, {{"1", "a", "1"}, {"2", "b", "2"}, {"3", "c", "3"}});
    const auto after = resultOf(kBatch, {{"1", "x", "1"}, {"2", "y", "5"}, {"3", "c", "3"}});
    const ComparisonRequest request{.columns = {{0, 0}, {1, 1}, {2, 2}}, .keys = {0}};
    const auto comparison = compareResults(ResultView(before), ResultView(after), request, {});
    EXPECT_THAT(comparison->changesByColumn, ElementsAre(0U, 2U, 1U));
    EXPECT_EQ(comparison->changed, 2U);
    EXPECT_EQ(comparison->same, 1U);
}

TEST(ComparisonTest, ColumnsGoTogetherByName) {
    const std::vector<Column> before{{"Plot", ""}, {"n", ""}, {"n", ""}, {"old", ""}};
    const std::vector<Column> after{{"n", ""}, {"new", ""}, {"n", ""}, {"plot", ""}};
    const ColumnMatch match = matchColumns(before, after);
    EXPECT_THAT(match.pairs, ElementsAre(ColumnPair{0, 3}, ColumnPair{1, 0}, ColumnPair{2, 2}));
    EXPECT_THAT(match.onlyBefore, ElementsAre(3U));
    EXPECT_THAT(match.onlyAfter, ElementsAre(1U));
}

TEST(ComparisonTest, ColumnsThatOnlyOneHasStandBehindTheOthers) {
    const auto before = resultOf({{"id", "integer", ColumnType::Integer}, {"old", ""}}, {{"1", "x"}, {"2", "y"}});
    const auto after = resultOf({{"new", ""}, {"id", "integer", ColumnType::Integer}}, {{"z", "1"}, {"w", "3"}});
    EXPECT_THAT(differences(before, after, {0}, true), ElementsAre("same|1|∅|z", "added|3|∅|w", "removed|2|y|∅"));
}

TEST(ComparisonTest, RepeatedKeysAreComparedInTheirOrderAndCounted) {
    const auto before = resultOf(kBatch, {{"1", "a", "1"}, {"1", "b", "2"}, {"1", "c", "3"}});
    const auto after = resultOf(kBatch, {{"1", "a", "1"}, {"1", "x", "2"}});
    EXPECT_THAT(differences(before, after, {0}), ElementsAre("before|1|b*|2", "after|1|x*|2", "removed|1|c|3"));
    const ComparisonRequest request{.columns = {{0, 0}}, .keys = {0}};
    EXPECT_EQ(compareResults(ResultView(before), ResultView(after), request, {})->repeatedKeys, 1U);
}

TEST(ComparisonTest, ValuesAreComparedByWhatTheyMean) {
    const Column number{"n", "numeric", ColumnType::Decimal};
    const Column moment{"m", "timestamptz", ColumnType::Timestamp};
    const Column words{"w", "text", ColumnType::Text};
    const auto text = [](std::string_view bytes) { return Cell{.kind = CellKind::Text, .bytes = bytes}; };
    EXPECT_TRUE(areSame(text("1.50"), number, text("1.5"), number));
    EXPECT_TRUE(areSame({.kind = CellKind::Integer, .integer = 5}, number, text("5.0"), number));
    EXPECT_FALSE(areSame(text("12345678901234567890.1"), number, text("12345678901234567890.2"), number));
    EXPECT_TRUE(areSame(text("2026-11-17 08:00:00+00"), moment, text("2026-11-17 10:00:00+02"), moment));
    EXPECT_FALSE(areSame(text("1.50"), words, text("1.5"), words));
    EXPECT_TRUE(areSame({.kind = CellKind::Integer, .integer = 5}, number, text("5"), words));
    EXPECT_FALSE(areSame({}, words, text(""), words));
    EXPECT_TRUE(areSame({}, words, {}, number));
}

TEST(ComparisonTest, KeysOfOtherSpellingAreFound) {
    auto before = std::make_shared<ResultSet>(std::vector<Column>{{"id", "bigint", ColumnType::Integer}});
    ChunkBuilder builder(1);
    for (const std::int64_t id : {std::int64_t{1}, std::int64_t{-7}, INT64_MAX}) {
        builder.addInteger(id);
        builder.endRow();
    }
    before->append(builder.take());
    const auto after = resultOf({{"id", "numeric", ColumnType::Decimal}}, {{"9223372036854775807"}, {"1.0"}, {"-7"}});
    EXPECT_THAT(differences(before, after, {0}), IsEmpty());
}

TEST(ComparisonTest, AKeyIsProposedWhereValuesAreAllDifferent) {
    const auto before = resultOf(kBatch, {{"1", "a", "1"}, {"1", "b", "2"}});
    const auto after = resultOf(kBatch, {{"1", "x", "1"}, {"2", "y", "5"}});
    const std::vector<ColumnPair> pairs{{0, 0}, {1, 1}, {2, 2}};
    EXPECT_THAT(*proposedKeys(ResultView(before), ResultView(after), pairs, {}), ElementsAre(1U));
    const auto none = resultOf(kBatch, {{"1", "x", "1"}, {"1", "x", "1"}});
    EXPECT_THAT(*proposedKeys(ResultView(before), ResultView(none), pairs, {}), IsEmpty());
}

TEST(ComparisonTest, ComparesViewsInTheirOrder) {
    const auto result = resultOf(kBatch, {{"1", "a", "1"}, {"2", "b", "2"}});
    const auto turned = ResultView::make(result, {.order = {{0, true}}}, {});
    const ComparisonRequest request{.columns = {{0, 0}}};
    EXPECT_EQ(compareResults(ResultView(result), *turned, request, {})->changed, 2U);
    EXPECT_EQ(compareResults(*turned, *turned, request, {})->same, 2U);
}

TEST(ComparisonTest, StopsWhenAsked) {
    const auto result = resultOf(kBatch, Texts(10'000, {"1", "a", "1"}));
    const base::Cancellation cancellation;
    cancellation.request();
    const ComparisonRequest request{.columns = {{0, 0}}, .keys = {0}};
    EXPECT_FALSE(compareResults(ResultView(result), ResultView(result), request, cancellation));
}

TEST(ComparisonTest, FindsWhatASlowComparisonFinds) {
    EXPECT_TRUE(rc::check("by key", [] {
        const auto rowsOf = [](const std::map<int, int>& values) {
            Texts rows;
            for (const auto& [key, value] : values) rows.push_back({std::to_string(key), "k", std::to_string(value)});
            return rows;
        };
        const auto small = rc::gen::container<std::map<int, int>>(rc::gen::inRange(0, 30), rc::gen::inRange(0, 3));
        const std::map<int, int> a = *small;
        const std::map<int, int> b = *small;
        const ComparisonRequest request{.columns = {{0, 0}, {1, 1}, {2, 2}}, .keys = {0}};
        const auto found = compareResults(ResultView(resultOf(kBatch, rowsOf(a))),
                                          ResultView(resultOf(kBatch, rowsOf(b))), request, {});
        std::size_t same = 0;
        std::size_t changed = 0;
        for (const auto& [key, value] : a) {
            if (b.contains(key)) ++(b.at(key) == value ? same : changed);
        }
        RC_ASSERT(found->same == same);
        RC_ASSERT(found->changed == changed);
        RC_ASSERT(found->removed == a.size() - same - changed);
        RC_ASSERT(found->added == b.size() - same - changed);
        RC_ASSERT(found->rows.size() == a.size() + found->added);
    }));
}

}  // namespace
}  // namespace pantry::data
