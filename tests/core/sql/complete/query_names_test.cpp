#include "core/sql/complete/query_names.h"

#include "core/sql/complete/caret_place.h"
#include "core/sql/complete/column_choice.h"
#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;

/// A text and the place in it where somebody writes.
struct Written {
    explicit Written(std::string_view sql) : marked(test::marked(sql)) {
        script.setText(marked.text);
        at.emplace(script, marked.caret);
    }
    [[nodiscard]] QueryNames names() const {
        const auto token = static_cast<std::uint32_t>(at->before().value_or(0));
        return namesOfQuery(at->statement(), at->tree(), queryAround(at->tree(), token), at->written());
    }
    [[nodiscard]] std::vector<std::string> columns() const {
        std::vector<std::string> all;
        for (const NamedColumn& one : names().columns)
            all.push_back(one.qualifier.empty() ? one.column : one.qualifier + "." + one.column);
        return all;
    }

    test::MarkedSql marked;
    Script script{Dialect::Postgres};
    std::optional<CaretPlace> at;
};

TEST(QueryNamesTest, NamesOfOneQueryAreNotThoseOfTheQueriesWithinIt) {
    EXPECT_THAT(Written("SELECT a, x.b FROM t WHERE c IN (SELECT d FROM u) AND <|>").columns(),
                ElementsAre("a", "x.b", "c"));
    EXPECT_THAT(Written("SELECT a FROM t WHERE c IN (SELECT d, <|> FROM u)").columns(), ElementsAre("d"));
    EXPECT_THAT(Written("WITH w AS (SELECT a FROM t) SELECT b, <|>").columns(), ElementsAre("b"));
}

TEST(QueryNamesTest, WhatIsBeingWrittenIsNotNamedYet) {
    EXPECT_THAT(Written("SELECT a, pl<|>").columns(), ElementsAre("a"));
    EXPECT_THAT(Written("SELECT a, p.<|>").columns(), ElementsAre("a"));
    EXPECT_THAT(Written("SELECT a, p.na<|>").columns(), ElementsAre("a"));
    EXPECT_THAT(Written("INSERT INTO t (a, b, c<|>").columns(), ElementsAre("a", "b"));
}

TEST(QueryNamesTest, ItemsHaveTheirAliasesAndKnowAggregates) {
    const auto items =
        Written("SELECT p.name, count(*) AS trees, round(avg(t.height), 1) h, upper(a) FROM t ORDER BY <|>")
            .names()
            .items;
    ASSERT_EQ(items.size(), 4U);
    EXPECT_TRUE(items[0].isName);
    EXPECT_EQ(items[0].text, "p.name");
    EXPECT_EQ(items[1].alias, "trees");
    EXPECT_TRUE(items[1].isAggregate);
    EXPECT_EQ(items[2].alias, "h");
    EXPECT_TRUE(items[2].isAggregate) << "also within another call";
    EXPECT_FALSE(items[3].isAggregate);
    EXPECT_FALSE(items[3].isName);
}

TEST(QueryNamesTest, TheHabitOfMostNamesDecidesWhetherColumnsAreQualified) {
    EXPECT_TRUE(Written("SELECT p.a, p.b, c <|>").names().isQualifying());
    EXPECT_FALSE(Written("SELECT a, b, p.c <|>").names().isQualifying());
    EXPECT_FALSE(Written("SELECT <|>").names().isQualifying());
}

TEST(CaretPlaceTest, KnowsWhereFromWouldGo) {
    EXPECT_EQ(Written("SELECT a<|>").at->placeForFrom(), 8U);
    EXPECT_EQ(Written("SELECT <|>a, b").at->placeForFrom(), 11U);
    EXPECT_EQ(Written("SELECT 1;\nSELECT b<|>;").at->placeForFrom(), 18U);
    EXPECT_FALSE(Written("SELECT a<|> FROM t").at->placeForFrom());
    EXPECT_FALSE(Written("UPDATE t SET a<|>").at->placeForFrom());
    EXPECT_FALSE(Written("<|>").at->placeForFrom());
}

TEST(CaretPlaceTest, ReplacesTheWholeNameAlsoBehindTheCaretAndQuoted) {
    const Written half("SELECT pl<|>ot FROM t");
    EXPECT_EQ(half.at->prefix(), "pl");
    EXPECT_EQ(half.at->length(), 4U);
    const Written quoted("SELECT \"Pl<|>ot\" FROM t");
    EXPECT_EQ(quoted.at->prefix(), "Pl");
    EXPECT_EQ(quoted.at->start(), 7U);
    EXPECT_EQ(quoted.at->length(), 6U);
    EXPECT_FALSE(Written("SELECT 'Pl<|>ot'").at->isOpen());
}

TEST(ColumnLikelihoodTest, FollowsTheClause) {
    catalog::Relation tree{.name = "tree",
                           .columns = {{"id", "integer", false, 1}, {"plot_id", "integer"}, {"name", "text"}},
                           .foreignKeys = {{"", {"plot_id"}, "main", "plot", {"id"}}}};
    const QueryNames nothing;
    const auto of = [&](std::string_view name, std::string_view type, bool isKey, NodeKind clause) {
        return columnLikelihood({.name = name, .type = type, .isKey = isKey, .place = 0, .relation = &tree}, clause,
                                nothing);
    };
    using enum NodeKind;
    EXPECT_GT(of("name", "text", false, SelectClause), of("id", "integer", true, SelectClause));
    EXPECT_GT(of("id", "integer", true, SelectClause), of("plot_id", "integer", false, SelectClause));
    EXPECT_GT(of("plot_id", "integer", false, OnCondition), of("name", "text", false, OnCondition));
    EXPECT_GT(of("planted", "date", false, OrderByClause), of("remark", "text", false, OrderByClause));
    EXPECT_GT(of("state", "text", false, GroupByClause), of("remark", "text", false, GroupByClause));
    EXPECT_LT(of("id", "integer", true, InsertTarget), of("remark", "text", false, InsertTarget));
    EXPECT_GE(of("code", "text", true, InsertTarget), 0) << "a key that somebody has to give";
}

}  // namespace
}  // namespace pantry::sql
