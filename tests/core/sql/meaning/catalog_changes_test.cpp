#include "core/sql/meaning/catalog_changes.h"

#include <gmock/gmock.h>

#include "core/sql/syntax/parser.h"

namespace pantry::sql {
namespace {

using Names = std::vector<std::string>;
using testing::IsEmpty;
using testing::IsSupersetOf;

CatalogChanges changed(const std::string& statement) {
    return catalogChanges(statement, parseSingle(statement, Dialect::Postgres), "public");
}

TEST(CatalogChangesTest, TheCurrentSchemaAndThoseThatAreNamed) {
    EXPECT_EQ(changed("CREATE TABLE plot (a int)").schemas, Names{"public"});
    EXPECT_EQ(changed("ALTER TABLE \"Attic\".box ADD COLUMN b int").schemas, (Names{"public", "Attic"}));
    EXPECT_EQ(changed("CREATE INDEX i ON attic.box (b)").schemas, (Names{"public", "attic"}));
}

TEST(CatalogChangesTest, WhatReachesFurtherMeansEverything) {
    EXPECT_EQ(changed("DROP TABLE plot CASCADE"), CatalogChanges{});
    EXPECT_EQ(changed("CREATE SCHEMA attic"), CatalogChanges{});
    EXPECT_EQ(changed("CREATE EXTENSION hstore"), CatalogChanges{});
}

TEST(CatalogChangesTest, TablesAreToldByNameAsItStandsAndAsItIsFolded) {
    EXPECT_THAT(changed("ALTER TABLE Plot RENAME TO \"Big Plot\"").names, IsSupersetOf({"plot", "Plot", "Big Plot"}));
    EXPECT_THAT(changed("DROP TABLE IF EXISTS plot, tree").names, IsSupersetOf({"plot", "tree"}));
    EXPECT_THAT(changed("CREATE OR REPLACE VIEW large AS SELECT * FROM plot").names, IsSupersetOf({"large", "plot"}));
    EXPECT_THAT(changed("CREATE UNIQUE INDEX i ON attic.box (b)").names, IsSupersetOf({"i", "box"}));
    EXPECT_THAT(changed("COMMENT ON COLUMN plot.a IS 'x'").names, IsSupersetOf({"plot"}));
}

TEST(CatalogChangesTest, OtherKindsOfObjectsMeanTheWholeSchema) {
    EXPECT_THAT(changed("CREATE FUNCTION f(a int) RETURNS TABLE (b int) LANGUAGE sql AS 'SELECT 1'").names, IsEmpty());
    EXPECT_THAT(changed("CREATE SEQUENCE ticket").names, IsEmpty());
    EXPECT_THAT(changed("CREATE TYPE ripeness AS ENUM ('hard')").names, IsEmpty());
}

TEST(CatalogChangesTest, TwoOfThemHaveWhatEitherHas) {
    const CatalogChanges plot{{"public"}, {"plot"}};
    const CatalogChanges box{{"attic"}, {"box"}};
    EXPECT_EQ(together(plot, box), (CatalogChanges{{"public", "attic"}, {"plot", "box"}}));
    EXPECT_EQ(together(plot, {{"attic"}, {}}), (CatalogChanges{{"public", "attic"}, {}}));
    EXPECT_EQ(together(plot, {}), CatalogChanges{});
}

}  // namespace
}  // namespace pantry::sql
