#include "core/data/view/result_view.h"

namespace pantry::data {
namespace {

using testing::ElementsAre;

ResultSetPtr people() {
    auto result = std::make_shared<ResultSet>(std::vector<Column>{{"name", "text", ColumnType::Text},
                                                                  {"age", "integer", ColumnType::Integer},
                                                                  {"paid", "decimal", ColumnType::Decimal}});
    ChunkBuilder builder(3);
    const auto add = [&](const char* name, std::optional<int> age, const char* paid) {
        builder.addText(name);
        age ? builder.addInteger(*age) : builder.addNull();
        builder.addText(paid);
        builder.endRow();
    };
    add("Maud", 40, "12.40");
    add("Tobias", std::nullopt, "9.10");
    add("Ines", 31, "100.00");
    result->append(builder.take());
    add("Piet", 40, "9.1");
    result->append(builder.take());
    return result;
}

std::vector<std::string> names(const ResultView& view) {
    std::vector<std::string> out;
    for (std::size_t i = 0; i < view.rowCount(); ++i) out.push_back(toText(view.result()->cell(view.rowAt(i), 0)));
    return out;
}

TEST(ResultViewTest, ShowsTheServersOrderAtFirst) {
    EXPECT_THAT(names(ResultView(people())), ElementsAre("Maud", "Tobias", "Ines", "Piet"));
}

TEST(ResultViewTest, OrdersNumbersByValueWithNullsLast) {
    EXPECT_THAT(names(*ResultView::make(people(), {.order = {{1, false}}}, {})),
                ElementsAre("Ines", "Maud", "Piet", "Tobias"));
    EXPECT_THAT(names(*ResultView::make(people(), {.order = {{1, true}}}, {})),
                ElementsAre("Maud", "Piet", "Ines", "Tobias"));
}

TEST(ResultViewTest, OrdersDecimalsThatCameAsTextByValue) {
    EXPECT_THAT(names(*ResultView::make(people(), {.order = {{2, false}}}, {})),
                ElementsAre("Tobias", "Piet", "Maud", "Ines"));
}

TEST(ResultViewTest, FurtherKeysDecideWhereTheFirstIsEqual) {
    EXPECT_THAT(names(*ResultView::make(people(), {.order = {{1, true}, {0, true}}}, {})),
                ElementsAre("Piet", "Maud", "Ines", "Tobias"));
}

TEST(ResultViewTest, FiltersByTextInAnyColumn) {
    EXPECT_THAT(names(*ResultView::make(people(), {.filterText = "40"}, {})), ElementsAre("Maud", "Piet"));
    EXPECT_THAT(names(*ResultView::make(people(), {.filterText = "INES"}, {})), ElementsAre("Ines"));
    EXPECT_THAT(names(*ResultView::make(people(), {.filterText = "nobody"}, {})), ElementsAre());
}

TEST(ResultViewTest, CanBeCancelled) {
    const base::Cancellation cancellation;
    cancellation.request();
    EXPECT_FALSE(ResultView::make(people(), {.order = {{1, false}}}, cancellation));
}

}  // namespace
}  // namespace pantry::data
