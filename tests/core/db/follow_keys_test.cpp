#include "core/db/follow_keys.h"

#include <gtest/gtest.h>

namespace pantry::db {
namespace {

catalog::Relation plots() {
    catalog::Relation plot{.schema = "public", .name = "plot"};
    plot.columns = {{.name = "plot_id", .typeName = "integer", .keyPosition = 1},
                    {.name = "slope", .typeName = "text"},
                    {.name = "plot name", .typeName = "text", .isNullable = false}};
    return plot;
}

TEST(FollowKeysTest, ARowIsNamedByItsNameOrByWhatIsUnique) {
    catalog::Relation plot = plots();
    EXPECT_EQ(labelColumnOf(plot), "plot name");
    plot.columns[2].name = "remark";
    plot.indexes = {{.name = "by_slope", .columns = {"slope"}, .isUnique = true}};
    EXPECT_EQ(labelColumnOf(plot), "slope");
    plot.columns = {{.name = "code", .typeName = "text", .keyPosition = 1}, {.name = "n", .typeName = "integer"}};
    EXPECT_EQ(labelColumnOf(plot), "") << "a key names nothing that is not seen already";
}

TEST(FollowKeysTest, QueriesQuoteNamesAndValuesForTheirEngine) {
    EXPECT_EQ(labelQuery(plots(), "plot_id", "plot name", {"7", "8"}, sql::Dialect::Postgres),
              "SELECT plot_id, \"plot name\" FROM public.plot WHERE plot_id IN (7, 8)");
    EXPECT_EQ(rowsQuery(plots(), {"plot name", "slope"}, {"D'Été", std::nullopt}, sql::Dialect::MySql, false),
              "SELECT * FROM plot WHERE `plot name` = 'D''Été' AND slope IS NULL");
    EXPECT_EQ(rowsQuery(plots(), {"plot_id"}, {"7 OR 1=1"}, sql::Dialect::Postgres, true),
              "SELECT * FROM public.plot WHERE plot_id = '7 OR 1=1'");
}

}  // namespace
}  // namespace pantry::db
