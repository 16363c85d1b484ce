#include "core/sql/meaning/scope.h"

#include "core/sql/syntax/parser.h"
#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;

const catalog::View& catalog() {
    static const catalog::View view(
        {{.schema = "main", .name = "plot", .columns = {{"plot_id", "integer", true, 1}, {"name", "text"}}},
         {.schema = "main", .name = "tree", .columns = {{"tree_id", "integer", true, 1}, {"plot_id", "integer"}}},
         {.schema = "old", .name = "plot", .columns = {{"legacy", "text"}}}},
        {"main"});
    return view;
}

/// The relations visible at the mark, as alias(column, …).
std::vector<std::string> visible(std::string_view sql) {
    const auto m = test::marked(sql);
    const SyntaxTree tree = parseSingle(m.text, Dialect::Postgres);
    std::uint32_t token = 0;
    while (token + 1 < tree.tokens.size() && tree.tokens[token].end() < m.caret) ++token;
    std::vector<std::string> out;
    const ScopeFinder finder(m.text, tree, catalog());
    for (const ScopeRelation& r : finder.relationsAt(token)) {
        std::string text = r.alias + "(";
        for (const ScopeColumn& c : r.columns) text += (text.back() == '(' ? "" : ", ") + c.name;
        out.push_back(text + ")");
    }
    return out;
}

TEST(ScopeFinderTest, SeesTheRelationsOfItsQuery) {
    EXPECT_THAT(visible("select <|>a from plot p join tree on 1 = 1"),
                ElementsAre("p(plot_id, name)", "tree(tree_id, plot_id)"));
    EXPECT_THAT(visible("select a from plot where a<|> = 1"), ElementsAre("plot(plot_id, name)"));
    EXPECT_THAT(visible("select a from plot order by a<|>"), ElementsAre("plot(plot_id, name)"));
}

TEST(ScopeFinderTest, SubqueriesSeeTheirOwnFirstAndThenTheOuter) {
    EXPECT_THAT(visible("select 1 from plot p where exists (select 1 from tree t where t<|>.plot_id = 1)"),
                ElementsAre("t(tree_id, plot_id)", "p(plot_id, name)"));
    EXPECT_THAT(visible("select p<|> from plot p where exists (select 1 from tree t)"),
                ElementsAre("p(plot_id, name)"));
}

TEST(ScopeFinderTest, KnowsWhatSubqueriesAndCommonTablesReturn) {
    EXPECT_THAT(visible("select <|>a from (select name as n, count(*) as visits from plot) q"),
                ElementsAre("q(n, visits)"));
    EXPECT_THAT(visible("select <|>a from (select * from tree) as q(x)"), ElementsAre("q(x, plot_id)"));
    EXPECT_THAT(visible("with w(a, b) as (select 1, 2) select <|>a from w"), ElementsAre("w(a, b)"));
    EXPECT_THAT(visible("with w as (select t.* from tree t union select 1, 2) select <|>a from w x"),
                ElementsAre("x(tree_id, plot_id)"));
}

TEST(ScopeFinderTest, SchemasAreTold) {
    EXPECT_THAT(visible("select <|>a from old.plot"), ElementsAre("plot(legacy)"));
}

TEST(ScopeFinderTest, ChangesSeeTheirTarget) {
    EXPECT_THAT(visible("update plot set name<|> = 'x' from tree t"),
                ElementsAre("plot(plot_id, name)", "t(tree_id, plot_id)"));
    EXPECT_THAT(visible("delete from plot where n<|>ame = 'x'"), ElementsAre("plot(plot_id, name)"));
    EXPECT_THAT(visible("insert into plot (na<|>me) values ('x')"), ElementsAre("plot(plot_id, name)"));
}

TEST(ScopeFinderTest, AHalfWrittenQueryIsSeenThrough) {
    EXPECT_THAT(visible("select p.<|> from plot p"), ElementsAre("p(plot_id, name)"));
    EXPECT_THAT(visible("select from plot p where p.<|>"), ElementsAre("p(plot_id, name)"));
}

/// What the name at the mark means, as relation.column or the kind of trouble.
std::string meaning(std::string_view sql) {
    const auto m = test::marked(sql);
    const SyntaxTree tree = parseSingle(m.text, Dialect::Postgres);
    std::uint32_t token = 0;
    while (token + 1 < tree.tokens.size() && tree.tokens[token].end() < m.caret) ++token;
    std::uint32_t node = tree.nodeAt(token);
    const ScopeFinder finder(m.text, tree, catalog());
    const Resolution found = finder.resolve(node);
    switch (found.kind) {
        case Resolution::Kind::Column: return found.relation->alias + "." + found.column->name;
        case Resolution::Kind::Output: return "output";
        case Resolution::Kind::Row: return "row";
        case Resolution::Kind::Ambiguous: return "ambiguous";
        case Resolution::Kind::UnknownColumn: return "unknown column";
        case Resolution::Kind::UnknownQualifier: return "unknown qualifier";
        case Resolution::Kind::Uncertain: break;
    }
    return "uncertain";
}

TEST(ScopeFinderTest, DerivedTablesDoNotSeeTheirNeighbours) {
    EXPECT_THAT(visible("select 1 from plot p, (select <|>1 from tree) q"), ElementsAre("tree(tree_id, plot_id)"));
    EXPECT_THAT(visible("select 1 from plot p, lateral (select <|>1 from tree) q"),
                ElementsAre("tree(tree_id, plot_id)", "p(plot_id, name)", "q()"));
    EXPECT_THAT(visible("with c as (select <|>1 from tree) select 1 from plot, c"),
                ElementsAre("tree(tree_id, plot_id)"));
    EXPECT_THAT(visible("insert into plot select <|>1 from tree"), ElementsAre("tree(tree_id, plot_id)"));
}

TEST(ScopeFinderTest, RowsOfConflictsAndTriggersHaveNames) {
    EXPECT_EQ(meaning("insert into plot (name) values ('x') on conflict (name) do update set name = excluded.na<|>me"),
              "excluded.name");
    EXPECT_EQ(meaning("insert into plot (name) values ('x') on conflict do nothing returning plot_i<|>d"),
              "plot.plot_id");
    EXPECT_EQ(
        meaning("create trigger t after update on plot for each row when (new.na<|>me = 'x') execute function f()"),
        "new.name");
    EXPECT_EQ(
        meaning(
            "merge into plot p using tree t on t.plot_id = p.plot_id when matched then update set name = t.tree<|>_id"),
        "t.tree_id");
    EXPECT_EQ(meaning("delete from plot where name = 'x' returning na<|>me"), "plot.name");
}

TEST(ScopeFinderTest, NamesMeanTheNearestColumn) {
    EXPECT_EQ(meaning("select na<|>me from plot p"), "p.name");
    EXPECT_EQ(meaning("select 1 from plot p where exists (select 1 from tree where na<|>me = 'x')"), "p.name");
    EXPECT_EQ(meaning("select plot_i<|>d from plot join tree on true"), "ambiguous");
    EXPECT_EQ(meaning("select plot_i<|>d from plot join tree using (plot_id)"), "plot.plot_id");
    EXPECT_EQ(meaning("select plot_i<|>d from plot natural join tree"), "plot.plot_id");
    EXPECT_EQ(meaning("select t.nam<|>e from tree t"), "unknown column");
    EXPECT_EQ(meaning("select x.nam<|>e from tree t"), "unknown qualifier");
    EXPECT_EQ(meaning("select a from somewhere where b<|>c = 1"), "uncertain");
    EXPECT_EQ(meaning("select p<|> from plot p"), "row");
    EXPECT_EQ(meaning("select name as label from plot order by lab<|>el"), "output");
}

TEST(ScopeFinderTest, OutputColumnsKnowWhereTheyComeFrom) {
    const std::string_view sql =
        "select p.name as label, q.* from plot p join (select tree_id, plot_id as home from tree) q on true";
    const SyntaxTree tree = parseSingle(sql, Dialect::Postgres);
    const auto columns = ScopeFinder(sql, tree, catalog()).outputOf(tree.root().firstChild);
    ASSERT_EQ(columns.size(), 3U);
    EXPECT_EQ(columns[0].name, "label");
    EXPECT_EQ(columns[0].originColumn, "name");
    EXPECT_EQ(columns[2].name, "home");
    ASSERT_NE(columns[2].origin, nullptr);
    EXPECT_EQ(columns[2].origin->name, "tree");
    EXPECT_EQ(columns[2].originColumn, "plot_id");
}

TEST(ScopeFinderTest, StarsNameAMergedColumnOnce) {
    EXPECT_THAT(visible("select <|>a from (select * from plot join tree using (plot_id)) q"),
                ElementsAre("q(plot_id, name, tree_id)"));
}

TEST(ScopeFinderTest, ACommonTableMayNameItself) {
    EXPECT_THAT(visible("with recursive n(i) as (select 1 union all select i + 1 from n) select <|>i from n"),
                ElementsAre("n(i)"));
}

}  // namespace
}  // namespace pantry::sql
