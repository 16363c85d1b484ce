#include "core/sql/rewrite/rewrite.h"

#include "core/sql/rewrite/star_columns.h"
#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using testing::HasSubstr;

const catalog::View& smallOrchard() {
    static const catalog::View view(
        {{.schema = "main",
          .name = "plot",
          .columns = {{"plot_id", "integer", true, 1}, {"name", "text"}, {"soil", "text"}}},
         {.schema = "main",
          .name = "tree",
          .columns = {{"tree_id", "integer", true, 1}, {"plot_id", "integer"}, {"Felled On", "date"}}}},
        {"main"});
    return view;
}

struct Asked {
    std::string text;
    Result<Rewritten> answer;
};

Asked ask(std::string_view id, std::string_view sql, Dialect dialect = Dialect::Postgres,
          std::optional<std::vector<std::size_t>> columns = {}) {
    const auto m = test::marked(sql);
    Script script(dialect);
    script.setText(m.text);
    return {m.text, rewrite(id, script, smallOrchard(), {.caret = m.caret, .columns = std::move(columns)})};
}

/// The text afterwards, which must still be a statement; or the message.
std::string after(std::string_view id, std::string_view sql, Dialect dialect = Dialect::Postgres) {
    const Asked asked = ask(id, sql, dialect);
    if (!asked.answer) return "! " + asked.answer.error().message;
    const std::string text = edited(asked.text, asked.answer->edits);
    Script script(dialect);
    script.setText(text);
    for (const auto& statement : script.statements()) EXPECT_FALSE(statement.tree->hasErrors()) << text;
    return text;
}

TEST(RewriteTest, AStarBecomesTheColumnsItStandsFor) {
    EXPECT_EQ(after("unfold-star", "SELECT *<|> FROM plot"), "SELECT plot_id, name, soil FROM plot");
    EXPECT_EQ(after("unfold-star", "SELECT*<|>FROM plot"), "SELECT plot_id, name, soil FROM plot");
    EXPECT_EQ(after("unfold-star", "SELECT 1, t.* FROM plot p, tree t<|>"),
              "SELECT 1, t.tree_id, t.plot_id, t.\"Felled On\" FROM plot p, tree t");
}

TEST(RewriteTest, AStarOverSeveralRelationsIsQualified) {
    EXPECT_EQ(after("unfold-star", "SELECT *<|> FROM plot p JOIN tree USING (plot_id)"),
              "SELECT plot_id, p.name, p.soil, tree.tree_id, tree.\"Felled On\" FROM plot p JOIN tree USING (plot_id)")
        << "what both share is one column and has no relation";
    EXPECT_EQ(after("unfold-star", "SELECT * FROM (SELECT name n, 1 AS one FROM plot) q<|>"),
              "SELECT n, one FROM (SELECT name n, 1 AS one FROM plot) q");
    EXPECT_EQ(after("unfold-star", "DELETE FROM plot<|> RETURNING *"),
              "DELETE FROM plot RETURNING plot_id, name, soil");
}

TEST(RewriteTest, OnlyChosenColumnsAreWritten) {
    const Asked asked = ask("unfold-star", "SELECT *<|> FROM plot", Dialect::Postgres, {{0, 2}});
    ASSERT_TRUE(asked.answer);
    EXPECT_EQ(edited(asked.text, asked.answer->edits), "SELECT plot_id, soil FROM plot");
    const Asked none = ask("unfold-star", "SELECT *<|> FROM plot", Dialect::Postgres, {std::vector<std::size_t>{}});
    ASSERT_FALSE(none.answer);
    EXPECT_THAT(none.answer.error().hint, HasSubstr("at least one"));
}

TEST(RewriteTest, AStarThatStandsForNothingKnownSaysWhy) {
    EXPECT_EQ(after("unfold-star", "SELECT count(*)<|> FROM plot"),
              "! The query at the cursor has no * in its select list.");
    EXPECT_EQ(after("unfold-star", "SELECT *<|> FROM shed"), "! The columns of shed are not known.");
    EXPECT_EQ(after("unfold-star", "SELECT *<|>"), "! Nothing is known that this * could stand for.");
}

TEST(RewriteTest, LongListsGoOnInTheNextLineBelowTheirFirstColumn) {
    std::vector<catalog::Column> many;
    for (int i = 0; i < 20; ++i) many.push_back({"a_rather_long_name_" + std::to_string(i), "text"});
    const catalog::View wide({{.schema = "main", .name = "wide", .columns = many}}, {"main"});
    Script script(Dialect::Sqlite);
    script.setText("SELECT * FROM wide");
    const auto out = rewrite("unfold-star", script, wide, {.caret = 8});
    ASSERT_TRUE(out);
    const std::string text = edited(script.text(), out->edits);
    EXPECT_THAT(text, HasSubstr(",\n       a_rather_long_name_"));
    std::size_t start = 0;
    while (start < text.size()) {
        const std::size_t end = std::min(text.find('\n', start), text.size());
        EXPECT_LE(end - start, 110U);
        start = end + 1;
    }
}

TEST(RewriteTest, AllColumnsOfARelationFoldBackIntoAStar) {
    EXPECT_EQ(after("fold-columns", "SELECT plot_id, name, soil<|> FROM plot"), "SELECT * FROM plot");
    EXPECT_EQ(after("fold-columns", "SELECT p.plot_id, p.name, p.soil<|>, t.tree_id FROM plot p, tree t"),
              "SELECT p.*, t.tree_id FROM plot p, tree t");
    EXPECT_THAT(after("fold-columns", "SELECT name, plot_id, soil<|> FROM plot"), HasSubstr("in their order"));
    EXPECT_THAT(after("fold-columns", "SELECT plot_id, name AS n, soil<|> FROM plot"), HasSubstr("! No relation"));
}

TEST(RewriteTest, ColumnsGetTheirRelationWhereTheyMay) {
    EXPECT_EQ(after("qualify-columns",
                    "SELECT name, count(*) AS n FROM plot p JOIN tree t USING (plot_id)<|> "
                    "WHERE soil = 'loam' AND tree_id > 3 GROUP BY name ORDER BY n"),
              "SELECT p.name, count(*) AS n FROM plot p JOIN tree t USING (plot_id) "
              "WHERE p.soil = 'loam' AND t.tree_id > 3 GROUP BY p.name ORDER BY n");
    EXPECT_EQ(after("qualify-columns", "UPDATE plot SET name = soil<|> WHERE plot_id = 1"),
              "UPDATE plot SET name = plot.soil WHERE plot.plot_id = 1")
        << "what is set cannot be qualified";
    EXPECT_EQ(after("qualify-columns", "SELECT p.name<|> FROM plot p"),
              "! Every column of this statement that is known is qualified.");
}

TEST(RewriteTest, AliasesGetTheirAs) {
    EXPECT_EQ(after("add-as", "SELECT name n, soil AS s FROM plot p<|> JOIN (SELECT 1 x) q ON true"),
              "SELECT name AS n, soil AS s FROM plot AS p JOIN (SELECT 1 AS x) AS q ON true");
    EXPECT_EQ(after("add-as", "select name n<|> from plot"), "select name as n from plot")
        << "in the statement's letters";
}

TEST(RewriteTest, ASubqueryStandsBeforeTheQueryUnderItsName) {
    EXPECT_EQ(after("subquery-to-common-table", "SELECT q.n FROM (SELECT<|> name AS n FROM plot) AS q WHERE q.n > 'a'"),
              "WITH q AS (\nSELECT name AS n FROM plot\n)\nSELECT q.n FROM q WHERE q.n > 'a'");
    EXPECT_EQ(after("subquery-to-common-table", "WITH a AS (SELECT 1) SELECT * FROM a, (SELECT 2<|>) b"),
              "WITH a AS (SELECT 1),\nb AS (\nSELECT 2\n) SELECT * FROM a, b");
    EXPECT_EQ(after("subquery-to-common-table", "WITH a AS (SELECT x FROM (SELECT 1 x<|>) i) SELECT * FROM a"),
              "WITH i AS (\nSELECT 1 x\n),\na AS (SELECT x FROM i) SELECT * FROM a");
}

TEST(RewriteTest, ASubqueryWithoutANameGetsOneToBeReplaced) {
    const Asked asked =
        ask("subquery-to-common-table", "SELECT name FROM plot WHERE plot_id IN (SELECT<|> plot_id FROM tree)");
    ASSERT_TRUE(asked.answer);
    const std::string text = edited(asked.text, asked.answer->edits);
    EXPECT_EQ(text,
              "WITH part AS (\nSELECT plot_id FROM tree\n)\n"
              "SELECT name FROM plot WHERE plot_id IN (SELECT * FROM part)");
    ASSERT_EQ(asked.answer->places.size(), 2U);
    for (const TextRange& place : asked.answer->places) EXPECT_EQ(text.substr(place.start, place.length), "part");
}

TEST(RewriteTest, ASubqueryThatNeedsTheRowOutsideStays) {
    EXPECT_THAT(after("subquery-to-common-table",
                      "SELECT name, (SELECT count(*)<|> FROM tree t WHERE t.plot_id = p.plot_id) FROM plot p"),
                HasSubstr("uses columns of the query around it"));
    EXPECT_THAT(after("subquery-to-common-table", "SELECT <|>1"), HasSubstr("no subquery"));
}

TEST(RewriteTest, ACommonTableGoesWhereItIsRead) {
    EXPECT_EQ(
        after("common-table-to-subquery", "WITH q AS (SELECT name FROM plot) SELECT * FROM q<|> JOIN q AS r ON true"),
        "SELECT * FROM (SELECT name FROM plot) AS q JOIN (SELECT name FROM plot) AS r ON true");
    EXPECT_EQ(after("common-table-to-subquery", "WITH a AS (SELECT 1), b<|> AS (SELECT * FROM a) SELECT * FROM b"),
              "WITH a AS (SELECT 1) SELECT * FROM (SELECT * FROM a) AS b");
    EXPECT_EQ(after("common-table-to-subquery", "WITH a<|> (x) AS (SELECT 1) SELECT x FROM a"),
              "SELECT x FROM (SELECT 1) AS a (x)");
    EXPECT_THAT(after("common-table-to-subquery", "WITH a<|> (x) AS (SELECT 1) SELECT x FROM a", Dialect::Sqlite),
                HasSubstr("names its columns before AS"));
    EXPECT_THAT(after("common-table-to-subquery",
                      "WITH RECURSIVE n<|> AS (SELECT 1 i UNION ALL SELECT i + 1 FROM n) SELECT * FROM n"),
                HasSubstr("reads from itself"));
}

TEST(RewriteTest, SidesOfAJoinChangePlacesAndTheirWords) {
    EXPECT_EQ(after("swap-join", "SELECT 1 FROM plot p LEFT JOIN<|> tree t ON t.plot_id = p.plot_id"),
              "SELECT 1 FROM tree t RIGHT JOIN plot p ON t.plot_id = p.plot_id");
    EXPECT_EQ(after("swap-join", "SELECT<|> 1 FROM a JOIN b USING (x) WHERE x = 1"),
              "SELECT 1 FROM b JOIN a USING (x) WHERE x = 1")
        << "the only one is meant wherever the caret is";
    EXPECT_EQ(after("swap-join", "select 1 from a join b using (x) right join<|> c using (x)"),
              "select 1 from c left join (a join b using (x)) using (x)");
    EXPECT_THAT(after("swap-join", "SELECT 1 FROM plot p CROSS JOIN LATERAL<|> (SELECT p.name) q"),
                HasSubstr("depends on the left one"));
}

TEST(RewriteTest, AQueryIsCountedWithItsComments) {
    EXPECT_EQ(after("wrap-in-count", "SELECT DISTINCT soil FROM plot -- all<|>"),
              "SELECT count(*) FROM (\nSELECT DISTINCT soil FROM plot\n) AS counted -- all");
    EXPECT_EQ(after("wrap-in-count", "with a as (select 1) select * from a<|>"),
              "select count(*) from (\nwith a as (select 1) select * from a\n) as counted");
    EXPECT_THAT(after("wrap-in-count", "DELETE<|> FROM plot"), HasSubstr("Only a query"));
}

TEST(RewriteTest, AValueBecomesAParameterNamedAfterItsColumn) {
    const Asked asked =
        ask("literal-to-parameter", "SELECT 1 FROM plot p WHERE p.name = 'O''Hara<|>' AND soil = :name");
    ASSERT_TRUE(asked.answer);
    EXPECT_EQ(edited(asked.text, asked.answer->edits), "SELECT 1 FROM plot p WHERE p.name = :name_2 AND soil = :name");
    EXPECT_EQ(asked.answer->value->text, "O'Hara");
    EXPECT_EQ(after("literal-to-parameter", "SELECT 7<|>"), "SELECT :value");
    EXPECT_EQ(after("literal-to-parameter", "SELECT'a'<|>b"), "SELECT :value b");
    EXPECT_THAT(after("literal-to-parameter", "SELECT name<|> FROM plot"), HasSubstr("no value at the cursor"));
}

TEST(RewriteTest, AValueStaysWhereNoEngineTakesAParameter) {
    EXPECT_THAT(after("literal-to-parameter", "SELECT TOP 3<|> name FROM plot", Dialect::Ansi), HasSubstr("TOP"));
    EXPECT_THAT(after("literal-to-parameter", "SELECT ARRAY[1<|>, 2]"), HasSubstr("square brackets"));
    EXPECT_THAT(after("literal-to-parameter", "SELECT (soil)[2<|>] FROM plot"), HasSubstr("square brackets"));
    EXPECT_THAT(after("literal-to-parameter", "CREATE TABLE bed (size int DEFAULT 3<|>)"),
                HasSubstr("only in a query"));
    EXPECT_EQ(after("literal-to-parameter", "UPDATE plot SET soil = 'clay<|>'"), "UPDATE plot SET soil = :soil");
}

TEST(RewriteTest, ACommonTableThatChangesRowsStaysOne) {
    EXPECT_THAT(after("common-table-to-subquery", "WITH gone AS (DELETE FROM tree RETURNING *) SELECT * FROM gone<|>"),
                HasSubstr("gone changes rows"));
    EXPECT_EQ(after("common-table-to-subquery", "WITH few AS (VALUES (1)) SELECT * FROM few<|>"),
              "SELECT * FROM (VALUES (1)) AS few");
}

TEST(RewriteTest, JoinsWhoseConditionsFollowLaterAreNotSwapped) {
    EXPECT_THAT(after("swap-join", "SELECT 1 FROM plot p JOIN tree t JOIN plot q ON q.plot_id = t.plot_id<|> ON true"),
                HasSubstr("stand behind both"));
    EXPECT_EQ(after("swap-join", "SELECT 1 FROM plot p CROSS JOIN tree t<|> JOIN plot q ON true"),
              "SELECT 1 FROM tree t CROSS JOIN plot p JOIN plot q ON true");
}

TEST(RewriteTest, EditsAreThoseOfTheWholeText) {
    EXPECT_EQ(after("unfold-star", "SELECT 1;\n-- é\nSELECT *<|> FROM plot;\nSELECT 2"),
              "SELECT 1;\n-- é\nSELECT plot_id, name, soil FROM plot;\nSELECT 2");
}

TEST(RewriteTest, EveryWayIsRefusedPolitelyInAnEmptyTextAndInNonsense) {
    for (const Rewriting& way : rewritings()) {
        EXPECT_EQ(after(way.id, "<|>"), "! There is no statement at the cursor.");
        const std::string text = "SELECT ((( FROM<|> JOIN ON WITH";
        for (const Dialect dialect : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite}) {
            const Asked asked = ask(way.id, text, dialect);
            if (asked.answer) continue;
            EXPECT_FALSE(asked.answer.error().message.empty()) << way.id;
        }
    }
}

}  // namespace
}  // namespace pantry::sql
