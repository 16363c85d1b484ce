#include "core/sql/write/standard_queries.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/sql/meaning/statement.h"

namespace pantry::sql {
namespace {

catalog::Relation inspection() {
    return {.schema = "main",
            .name = "inspection",
            .columns = {{.name = "inspection_id", .typeName = "INTEGER", .isNullable = false, .keyPosition = 1},
                        {.name = "tree_id", .typeName = "INTEGER", .isNullable = false},
                        {.name = "visited_on", .typeName = "DATE", .isNullable = false},
                        {.name = "Order", .typeName = "TEXT"}}};
}

std::vector<StandardQuery> queriesFor(const catalog::Relation& relation, Dialect dialect = Dialect::Sqlite) {
    return standardQueries(relation, catalog::View({relation}, {"main"}), dialect);
}

const std::string* statementOf(const std::vector<StandardQuery>& all, std::string_view label) {
    const auto found = std::ranges::find(all, label, &StandardQuery::label);
    return found == all.end() ? nullptr : &found->statement;
}

TEST(StandardQueriesTest, AskByDateAndQuoteWhatMustBeQuoted) {
    const auto all = queriesFor(inspection());
    ASSERT_EQ(all.size(), 4U);
    EXPECT_EQ(*statementOf(all, "How many rows"), "SELECT count(*) AS number_of_rows\nFROM inspection;");
    EXPECT_EQ(*statementOf(all, "Newest rows"), "SELECT *\nFROM inspection\nORDER BY visited_on DESC\nLIMIT 100;");
    EXPECT_EQ(*statementOf(all, "Values that occur more than once"),
              "SELECT \"Order\", count(*) AS times\nFROM inspection\nGROUP BY \"Order\"\nHAVING count(*) > 1\n"
              "ORDER BY times DESC\nLIMIT 100;");
    EXPECT_EQ(*statementOf(all, "Rows with something missing"),
              "SELECT *\nFROM inspection\nWHERE \"Order\" IS NULL\nLIMIT 100;");
    EXPECT_EQ(all[1].title, "inspection: newest rows");
    EXPECT_THAT(*statementOf(queriesFor(inspection(), Dialect::Ansi), "Newest rows"),
                testing::HasSubstr("FETCH FIRST 100 ROWS ONLY"));
}

TEST(StandardQueriesTest, WhatTheColumnsDoNotAllowIsLeftOut) {
    const catalog::Relation link{
        .schema = "main",
        .name = "link",
        .columns = {{.name = "a", .typeName = "INTEGER", .isNullable = false, .keyPosition = 1},
                    {.name = "b", .typeName = "INTEGER", .isNullable = false, .keyPosition = 2}}};
    const auto all = queriesFor(link);
    ASSERT_EQ(all.size(), 1U) << "nothing is newer, doubled or missing there";
    EXPECT_EQ(all[0].label, "How many rows");
    EXPECT_EQ(queriesFor({.schema = "main", .name = "empty", .columns = {}}).size(), 1U);
}

TEST(StandardQueriesTest, AKeyTellsWhatIsNewestAndUniqueValuesAreNotDoubled) {
    catalog::Relation warden{.schema = "main",
                             .name = "warden",
                             .columns = {{.name = "id", .typeName = "INTEGER", .isNullable = false, .keyPosition = 1},
                                         {.name = "email", .typeName = "TEXT", .isNullable = false},
                                         {.name = "notes", .typeName = "JSON", .isNullable = false},
                                         {.name = "since", .typeName = "INTEGER", .isNullable = false}}};
    warden.indexes = {{.name = "u", .columns = {"email"}, .isUnique = true}};
    const auto all = queriesFor(warden);
    EXPECT_THAT(*statementOf(all, "Newest rows"), testing::HasSubstr("ORDER BY id DESC"));
    EXPECT_THAT(*statementOf(all, "Values that occur more than once"), testing::HasSubstr("GROUP BY since"));
}

TEST(StandardQueriesTest, EachOnlyReads) {
    for (const Dialect dialect : {Dialect::Sqlite, Dialect::Postgres, Dialect::MySql, Dialect::Ansi}) {
        for (const StandardQuery& one : queriesFor(inspection(), dialect))
            EXPECT_TRUE(Statement(one.statement, dialect).reading().isPlain()) << one.statement;
    }
}

}  // namespace
}  // namespace pantry::sql
