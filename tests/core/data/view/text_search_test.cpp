#include "core/data/view/text_search.h"

#include <fmt/format.h>
#include <rapidcheck/gtest.h>

#include "core/base/text.h"
#include "core/data/table_of.h"

namespace pantry::data {
namespace {

using test::tableOf;
using testing::ElementsAre;

std::vector<std::string> places(const SearchHits& hits) {
    std::vector<std::string> out;
    for (const CellPlace& place : hits.places) out.push_back(fmt::format("{}:{}", place.row, place.column));
    return out;
}

const std::vector<Column> kTwo{{"a", "text", ColumnType::Text}, {"b", "text", ColumnType::Text}};

TEST(TextSearchTest, EveryCellThatHoldsTheTextIsAHitOnce) {
    const ResultView view(tableOf(kTwo, {{"plot plot", "x"}, {"x", "PLOT"}, {"p", "lot"}, {std::nullopt, "a plot"}}));
    const auto hits = searchCells(view, "Plot", {});
    EXPECT_EQ(hits->count, 3U);
    EXPECT_THAT(places(*hits), ElementsAre("0:0", "1:1", "3:1"));
}

TEST(TextSearchTest, ATextOverTheBorderOfTwoCellsIsNoHit) {
    const ResultView view(tableOf(kTwo, {{"abcd", "1"}, {"efgh", "2"}, {"cdef", "3"}}));
    EXPECT_THAT(places(*searchCells(view, "cdef", {})), ElementsAre("2:0"));
}

TEST(TextSearchTest, PlacesAreThoseOfTheViewAndAreSteppedThroughInItsOrder) {
    const auto table = tableOf(kTwo, {{"b", "hit"}, {"c", "miss"}, {"a", "hit"}});
    const auto view = ResultView::make(table, {.order = {{0, false}}}, {});
    const auto hits = searchCells(*view, "hit", {});
    EXPECT_THAT(places(*hits), ElementsAre("0:1", "1:1"));
    EXPECT_EQ(hits->next({0, 0}, true), 0U);
    EXPECT_EQ(hits->next({0, 1}, true), 1U);
    EXPECT_EQ(hits->next({1, 1}, true), 0U) << "round again";
    EXPECT_EQ(hits->next({0, 1}, false), 1U);
    EXPECT_EQ(searchCells(*view, "nobody", {})->next({0, 0}, true), std::nullopt);
}

TEST(TextSearchTest, NumbersAreSearchedAsTheyAreShown) {
    auto result = std::make_shared<ResultSet>(std::vector<Column>{{"n", "integer", ColumnType::Integer}});
    ChunkBuilder builder(1);
    for (const int n : {1075, -20, 7}) {
        builder.addInteger(n);
        builder.endRow();
    }
    result->append(builder.take());
    EXPECT_THAT(places(*searchCells(ResultView(result), "07", {})), ElementsAre("0:0"));
    EXPECT_THAT(places(*searchCells(ResultView(result), "-2", {})), ElementsAre("1:0"));
    EXPECT_EQ(searchCells(ResultView(result), "x", {})->count, 0U);
}

RC_GTEST_PROP(TextFinderProperty, FindsWhatALookAtEveryPlaceFinds, ()) {
    const auto letters = rc::gen::elementOf(std::string("abAB zZ@[`{é"));
    const auto haystack = *rc::gen::container<std::string>(letters);
    const auto needle = *rc::gen::nonEmpty(rc::gen::container<std::string>(letters));
    std::string shortNeedle = needle.substr(0, 3);
    const TextFinder finder(shortNeedle);
    const std::size_t expected = base::toLower(haystack).find(base::toLower(shortNeedle));
    RC_ASSERT(finder.find(haystack) == (expected == std::string::npos ? TextFinder::kNone : expected));
}

}  // namespace
}  // namespace pantry::data
