#include "core/work/column_values.h"

#include <gmock/gmock.h>

namespace pantry::work {
namespace {

using testing::HasSubstr;

catalog::View orchardOf(std::int64_t rows) {
    catalog::Relation tree{.schema = "main",
                           .name = "tree",
                           .columns = {{"tree_id", "integer"}, {"plot_id", "integer"}, {"Soil Type", "text"}},
                           .rowEstimate = rows};
    tree.foreignKeys.push_back(
        {.name = "k", .columns = {"plot_id"}, .schema = "main", .relation = "plot", .referencedColumns = {"plot_id"}});
    catalog::Relation plot{.schema = "main",
                           .name = "plot",
                           .columns = {{"plot_id", "integer", false, 1}, {"name", "text"}},
                           .rowEstimate = 24};
    catalog::Relation view{
        .schema = "main", .name = "seen", .kind = catalog::ObjectKind::View, .columns = {{"kind", "text"}}};
    return catalog::View({tree, plot, view}, {"main"});
}

TEST(ColumnValuesTest, AKeyAsksForTheRowsItLeadsToByTheirLabels) {
    const auto query = valuesQuery({"main", "tree", "plot_id", "integer"}, orchardOf(1640), sql::Dialect::Sqlite);
    EXPECT_EQ(query, "SELECT plot_id, name FROM plot ORDER BY 2 LIMIT 51");
}

TEST(ColumnValuesTest, AColumnAsksForItsOwnValuesWhereThatIsCheap) {
    EXPECT_EQ(valuesQuery({"main", "tree", "Soil Type", "text"}, orchardOf(1640), sql::Dialect::Postgres),
              "SELECT DISTINCT \"Soil Type\" FROM tree WHERE \"Soil Type\" IS NOT NULL ORDER BY 1 LIMIT 51");
    EXPECT_FALSE(valuesQuery({"main", "tree", "Soil Type", "text"}, orchardOf(5'000'000), sql::Dialect::Postgres));
    EXPECT_TRUE(valuesQuery({"main", "tree", "plot_id", "integer"}, orchardOf(5'000'000), sql::Dialect::Postgres))
        << "what the key leads to is small";
    EXPECT_FALSE(valuesQuery({"main", "seen", "kind", "text"}, orchardOf(1), sql::Dialect::Postgres)) << "a view";
    EXPECT_FALSE(valuesQuery({"main", "gone", "kind", "text"}, orchardOf(1), sql::Dialect::Postgres));
}

}  // namespace
}  // namespace pantry::work
