#include "core/data/cell_sums.h"

namespace pantry::data {
namespace {

ResultView numbers() {
    auto result = std::make_shared<ResultSet>(std::vector<Column>{{"a", ""}, {"b", "decimal", ColumnType::Decimal}});
    ChunkBuilder builder(2);
    for (const int i : {412, 388, 275}) {
        builder.addInteger(i);
        builder.addText(std::to_string(i) + ".5");
        builder.endRow();
    }
    builder.addNull();
    builder.addText("none");
    builder.endRow();
    result->append(builder.take());
    return ResultView(result);
}

TEST(CellSumsTest, AddsWholeNumbersExactly) {
    EXPECT_EQ(describe(*sumCells(numbers(), {{0, 2, 0, 0}}, {})), "3 cells · sum 1\u2009075 · mean 358.333");
}

TEST(CellSumsTest, CountsNullsAndTakesDecimalsThatCameAsText) {
    const auto sums = sumCells(numbers(), {{0, 3, 0, 1}}, {});
    EXPECT_EQ(sums->cellCount, 8);
    EXPECT_EQ(sums->nullCount, 1);
    EXPECT_EQ(sums->numberCount, 6);
    EXPECT_DOUBLE_EQ(sums->sum, 2 * 1075 + 1.5);
}

}  // namespace
}  // namespace pantry::data
