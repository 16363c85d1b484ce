#include "core/data/view/column_shape.h"

namespace pantry::data {
namespace {

std::shared_ptr<ResultSet> sample() {
    auto result = std::make_shared<ResultSet>(std::vector<Column>{{"n", "integer", ColumnType::Integer},
                                                                  {"fruit", "text", ColumnType::Text},
                                                                  {"day", "date", ColumnType::Date},
                                                                  {"empty", ""}});
    ChunkBuilder builder(4);
    for (int i = 0; i < 100; ++i) {
        builder.addInteger(i < 80 ? i % 10 : 90 + i % 10);
        i % 4 == 0 ? builder.addNull() : builder.addText(i % 2 == 1 ? "apple" : "pear");
        builder.addText("2026-11-" + std::to_string(10 + i % 20));
        builder.addNull();
        builder.endRow();
    }
    result->append(builder.take());
    return result;
}

TEST(ColumnShapeTest, NumbersAndDatesHaveADistribution) {
    const auto shapes = shapesOf(*sample(), 10, {}).value();
    EXPECT_TRUE(shapes[0].isDistribution);
    EXPECT_FLOAT_EQ(shapes[0].bars.front(), 1);
    EXPECT_FLOAT_EQ(shapes[0].bars.back(), 0.25);
    EXPECT_FLOAT_EQ(shapes[0].bars[4], 0);
    EXPECT_TRUE(shapes[2].isDistribution);
}

TEST(ColumnShapeTest, TextsHaveSharesAndNullsAreCounted) {
    const auto shapes = shapesOf(*sample(), 10, {}).value();
    EXPECT_FALSE(shapes[1].isDistribution);
    EXPECT_THAT(shapes[1].bars, testing::ElementsAre(testing::FloatEq(0.5), testing::FloatEq(0.25)));
    EXPECT_FLOAT_EQ(shapes[1].nullShare, 0.25);
    EXPECT_FLOAT_EQ(shapes[3].nullShare, 1);
    EXPECT_TRUE(shapes[3].bars.empty());
}

TEST(ColumnShapeTest, LooksAtAsManyColumnsAsAskedAndCanBeCancelled) {
    EXPECT_EQ(shapesOf(*sample(), 2, {})->size(), 2U);
    const base::Cancellation cancellation;
    cancellation.request();
    EXPECT_FALSE(shapesOf(*sample(), 2, cancellation));
    EXPECT_EQ(shapesOf(ResultSet(std::vector<Column>{{"a", ""}}), 5, {})->size(), 1U);
}

}  // namespace
}  // namespace pantry::data
