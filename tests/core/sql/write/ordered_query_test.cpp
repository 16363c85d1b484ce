#include "core/sql/write/ordered_query.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

std::string ordered(std::string_view sql, const std::vector<OrderWish>& order, Dialect dialect = Dialect::Postgres) {
    return orderedQuery(sql, dialect, {"name", "n", "n", "order"}, order).value_or("none");
}

TEST(OrderedQueryTest, AnOrderIsAddedOrTakesThePlaceOfTheOldOne) {
    EXPECT_EQ(ordered("SELECT * FROM plot;", {{0}}), "SELECT * FROM plot\nORDER BY name");
    EXPECT_EQ(ordered("SELECT * FROM plot ORDER BY n DESC, name", {{0, true}, {3}}),
              "SELECT * FROM plot ORDER BY name DESC, \"order\"");
    EXPECT_EQ(ordered("SELECT a FROM p UNION SELECT b FROM q ORDER BY 1 -- all\n", {{1}}),
              "SELECT a FROM p UNION SELECT b FROM q ORDER BY 2 -- all");
    EXPECT_EQ(ordered("WITH p AS (SELECT 1 ORDER BY 1 LIMIT 2) SELECT * FROM p -- last", {{2, true}}),
              "WITH p AS (SELECT 1 ORDER BY 1 LIMIT 2) SELECT * FROM p -- last\nORDER BY 3 DESC");
    EXPECT_EQ(ordered("SELECT * FROM plot", {{3}}, Dialect::MySql), "SELECT * FROM plot\nORDER BY `order`");
}

TEST(OrderedQueryTest, WhatALimitChoseStaysChosen) {
    EXPECT_EQ(ordered("SELECT * FROM plot ORDER BY n LIMIT 5", {{0}}),
              "SELECT * FROM (\nSELECT * FROM plot ORDER BY n LIMIT 5\n) AS result\nORDER BY name");
}

TEST(OrderedQueryTest, WhatDoesMoreThanReadingIsLeftAlone) {
    for (const char* sql : {"UPDATE plot SET n = 1 RETURNING *", "SELECT * FROM plot FOR UPDATE",
                            "SELECT * INTO q FROM plot", "SELECT FROM WHERE", "SHOW ALL", ""}) {
        EXPECT_EQ(ordered(sql, {{0}}), "none") << sql;
    }
    EXPECT_FALSE(orderedQuery("SELECT 1", Dialect::Postgres, {"a"}, {{1}}));
}

}  // namespace
}  // namespace pantry::sql
