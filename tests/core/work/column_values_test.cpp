#include "core/work/column_values.h"

#include <gmock/gmock.h>

#include <fstream>

#include "core/db/run_and_wait.h"
#include "core/work/application_fixture.h"

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

using ColumnValuesReadTest = ApplicationTest;

TEST_F(ColumnValuesReadTest, WhoeverAsksWhileTheyAreReadHearsOfThemToo) {
    const std::string file = (folder_ / "soils.db").string();
    const db::ConnectionProfile profile{.engine = db::Engine::Sqlite, .database = file};
    {
        std::ofstream(file).flush();
        db::Session owner(profile, std::nullopt);
        ASSERT_TRUE(db::runAndWait(owner, "CREATE TABLE tree (tree_id integer, \"Soil Type\" text)"));
        ASSERT_TRUE(db::runAndWait(owner, "INSERT INTO tree VALUES (1, 'clay'), (2, 'loam'), (3, 'clay')"));
    }
    ColumnValues values(around_.owner(), [&] { return std::make_unique<db::Session>(profile, std::nullopt); });
    const sql::ValuesWanted soil{"main", "tree", "Soil Type", "text"};
    int heard = 0;
    values.want(soil, orchardOf(3), sql::Dialect::Sqlite, [&] { ++heard; });
    EXPECT_EQ(values.known(soil), nullptr);
    values.want(soil, orchardOf(3), sql::Dialect::Sqlite, [&] { ++heard; });
    EVENTUALLY(heard == 2);
    ASSERT_NE(values.known(soil), nullptr);
    EXPECT_EQ(values.known(soil)->size(), 2U);
    values.want(soil, orchardOf(3), sql::Dialect::Sqlite, [&] { ++heard; });
    EXPECT_EQ(heard, 3) << "what is known is told at once";
    values.forget();
    EXPECT_EQ(values.known(soil), nullptr);
}

}  // namespace
}  // namespace pantry::work
