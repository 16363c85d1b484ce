#include "core/sql/meaning/read_from.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

std::string read(std::string_view sql, Dialect dialect = Dialect::Postgres) {
    const auto from = readFrom(sql, dialect);
    return from ? from->table + (from->hasConditions ? " with conditions" : "") : "none";
}

TEST(ReadFromTest, TheOneTableIsNamedAsItIsWritten) {
    EXPECT_EQ(read("SELECT * FROM plot"), "plot");
    EXPECT_EQ(read("SELECT p.name FROM public . \"Old Plot\" AS p ORDER BY 1"), "public.\"Old Plot\"");
    EXPECT_EQ(read("select 1 from `a b`.plot p where p.n > 1", Dialect::MySql), "`a b`.plot with conditions");
    EXPECT_EQ(read("SELECT slope FROM plot GROUP BY slope HAVING count(*) > 3"), "plot with conditions");
    EXPECT_EQ(read("SELECT * FROM plot LIMIT 0"), "plot with conditions");
}

TEST(ReadFromTest, SeveralTablesOrNoneAreNotOne) {
    for (const char* sql : {"SELECT 1", "SELECT * FROM plot JOIN tree USING (plot_id)", "SELECT * FROM plot, tree",
                            "WITH p AS (SELECT 1) SELECT * FROM p", "UPDATE plot SET n = 1",
                            "SELECT * FROM plot WHERE id IN (SELECT plot_id FROM tree)"}) {
        EXPECT_EQ(read(sql), "none") << sql;
    }
}

TEST(ReadFromTest, AllRelationsAreNamedWithWhatIsWrittenBeforeThem) {
    const auto named = relationsNamed(
        "select * from cellar.crate c join `loft`.`a crate` on true where 1 in (select n from shelf as s)",
        Dialect::MySql);
    const std::vector<NamedRelation> wanted{{"cellar", "crate"}, {"loft", "a crate"}, {"", "shelf"}};
    EXPECT_EQ(named, wanted);
    EXPECT_TRUE(relationsNamed("select 1", Dialect::MySql).empty());
    EXPECT_TRUE(relationsNamed("call water(3)", Dialect::MySql).empty());
}

}  // namespace
}  // namespace pantry::sql
