#include "core/data/view/cell_sums.h"

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
    EXPECT_EQ(describe(*sumCells(numbers(), {{0, 2, 0, 0}}, {})),
              "3 cells · 3 distinct · sum 1\u2009075 · mean 358.3333 · from 275 to 412");
}

TEST(CellSumsTest, CountsNullsAndTakesDecimalsThatCameAsText) {
    const auto sums = sumCells(numbers(), {{0, 3, 0, 1}}, {});
    EXPECT_EQ(sums->cellCount, 8);
    EXPECT_EQ(sums->nullCount, 1);
    EXPECT_EQ(sums->numberCount, 6);
    EXPECT_EQ(sums->sum, "2151.5");
    EXPECT_EQ(sums->distinct, 7U);
    EXPECT_EQ(sums->minimum, "") << "columns of two kinds have no common order";
}

TEST(CellSumsTest, DecimalsAddUpToTheirLastDigit) {
    auto result = std::make_shared<ResultSet>(std::vector<Column>{{"paid", "numeric", ColumnType::Decimal}});
    ChunkBuilder builder(1);
    for (const char* paid : {"0.1", "0.2", "12345678901234567890.000000000000000001"}) {
        builder.addText(paid);
        builder.endRow();
    }
    result->append(builder.take());
    const auto sums = sumCells(ResultView(result), {{0, 2, 0, 0}}, {});
    EXPECT_EQ(sums->sum, "12345678901234567890.300000000000000001");
    EXPECT_EQ(sums->minimum, "0.1");
    EXPECT_EQ(sums->maximum, "12345678901234567890.000000000000000001");
}

}  // namespace
}  // namespace pantry::data
