#include "core/sql/write/key_queries.h"

#include <gtest/gtest.h>

#include "core/sql/write/names.h"
#include "core/sql/write/read_queries.h"

namespace pantry::sql {
namespace {

catalog::Relation plots() {
    catalog::Relation plot{.schema = "public", .name = "plot"};
    plot.columns = {{.name = "plot_id", .typeName = "integer", .keyPosition = 1},
                    {.name = "slope", .typeName = "text"},
                    {.name = "plot name", .typeName = "text", .isNullable = false}};
    return plot;
}

TEST(KeyQueriesTest, ARowIsNamedByItsNameOrByWhatIsUnique) {
    catalog::Relation plot = plots();
    EXPECT_EQ(labelColumnOf(plot), "plot name");
    plot.columns[2].name = "remark";
    plot.indexes = {{.name = "by_slope", .columns = {"slope"}, .isUnique = true}};
    EXPECT_EQ(labelColumnOf(plot), "slope");
    plot.columns = {{.name = "code", .typeName = "text", .keyPosition = 1}, {.name = "n", .typeName = "integer"}};
    EXPECT_EQ(labelColumnOf(plot), "") << "a key names nothing that is not seen already";
}

/// Plots lie in public, and one of that name in old as well.
catalog::View seen(std::vector<std::string> searchPath) {
    catalog::Relation old = plots();
    old.schema = "old";
    return catalog::View({plots(), old}, std::move(searchPath));
}

TEST(KeyQueriesTest, ARelationIsNamedWithItsSchemaOnlyWhereItMust) {
    EXPECT_EQ(nameOf(plots(), seen({"public"}), Dialect::Postgres), "plot");
    EXPECT_EQ(nameOf(plots(), seen({"old", "public"}), Dialect::Postgres), "public.plot") << "the name means another";
    EXPECT_EQ(nameOf(plots(), seen({}), Dialect::Postgres), "public.plot");
    EXPECT_EQ(qualifiedName("My schema", "order", Dialect::MySql), "`My schema`.`order`");
    EXPECT_EQ(qualifiedName("", "plot", Dialect::Postgres), "plot");
}

TEST(ReadQueriesTest, ACountIsOfTheQueryAlone) {
    EXPECT_EQ(countOf("  SELECT 1 ; ; "), "SELECT count(*) FROM (\nSELECT 1\n) AS counted");
    EXPECT_EQ(countOf("SELECT 1 -- all"), "SELECT count(*) FROM (\nSELECT 1 -- all\n) AS counted");
    EXPECT_EQ(firstRowsOf("old.plot"), "SELECT * FROM old.plot");
    EXPECT_EQ(anyRowOf("plot"), "SELECT 1 FROM plot");
}

TEST(KeyQueriesTest, QueriesQuoteNamesAndValuesForTheirEngine) {
    EXPECT_EQ(labelQuery(plots(), "plot_id", "plot name", {"7", "8"}, seen({"old"}), Dialect::Postgres),
              "SELECT plot_id, \"plot name\" FROM public.plot WHERE plot_id IN (7, 8)");
    EXPECT_EQ(rowsQuery(plots(), {"plot name", "slope"}, {"D'Été", std::nullopt}, seen({"public"}), Dialect::MySql),
              "SELECT * FROM plot WHERE `plot name` = 'D''Été' AND slope IS NULL");
    EXPECT_EQ(rowsQuery(plots(), {"plot_id"}, {"7 OR 1=1"}, seen({"old"}), Dialect::Postgres),
              "SELECT * FROM public.plot WHERE plot_id = '7 OR 1=1'");
}

}  // namespace
}  // namespace pantry::sql
