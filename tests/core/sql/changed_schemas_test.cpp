#include "core/sql/changed_schemas.h"

#include "core/sql/parser.h"

namespace pantry::sql {
namespace {

std::optional<std::vector<std::string>> changed(const std::string& statement) {
    return changedSchemas(statement, parseSingle(statement, Dialect::Postgres), "public");
}

TEST(ChangedSchemasTest, TheCurrentOneAndThoseThatAreNamed) {
    using Names = std::vector<std::string>;
    EXPECT_EQ(changed("CREATE TABLE plot (a int)"), Names{"public"});
    EXPECT_EQ(changed("ALTER TABLE \"Attic\".box ADD COLUMN b int"), (Names{"public", "Attic"}));
    EXPECT_EQ(changed("CREATE INDEX i ON attic.box (b)"), (Names{"public", "attic"}));
}

TEST(ChangedSchemasTest, WhatReachesFurtherMeansAll) {
    EXPECT_EQ(changed("DROP TABLE plot CASCADE"), std::nullopt);
    EXPECT_EQ(changed("CREATE SCHEMA attic"), std::nullopt);
    EXPECT_EQ(changed("CREATE EXTENSION hstore"), std::nullopt);
}

}  // namespace
}  // namespace pantry::sql
