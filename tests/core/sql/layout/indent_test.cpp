#include "core/sql/layout/indent.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

TEST(IndentTest, WhatOpensALineMakesTheNextOneDeeper) {
    const auto behind = [](std::string_view line) { return indentBehind(line, Dialect::Postgres); };
    EXPECT_EQ(behind("SELECT"), 1);
    EXPECT_EQ(behind("    select  -- what"), 1) << "comments count for nothing";
    EXPECT_EQ(behind("ORDER BY"), 1);
    EXPECT_EQ(behind("SELECT name,"), 0);
    EXPECT_EQ(behind("WITH seen AS ("), 1);
    EXPECT_EQ(behind("  WHERE plot_id IN (1,"), 1);
    EXPECT_EQ(behind("  WHERE name = '('"), 0);
    EXPECT_EQ(behind("    FROM plot)"), -1);
    EXPECT_EQ(behind(")"), 0) << "it stands as deep as what it closes already";
    EXPECT_EQ(behind("), more AS ("), 1);
    EXPECT_EQ(behind("BEGIN"), 1);
    EXPECT_EQ(behind("IF a > 1 THEN"), 1);
    EXPECT_EQ(behind(""), 0);
    EXPECT_EQ(behind("SELECT 'selec"), 0);
}

}  // namespace
}  // namespace pantry::sql
