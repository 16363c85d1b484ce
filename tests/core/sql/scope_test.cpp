#include "core/sql/scope.h"

#include "core/sql/parser.h"
#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;

const CatalogView& catalog() {
    static const CatalogView view(
        {{.schema = "main", .name = "plot", .columns = {{"plot_id", "integer", true}, {"name", "text"}}},
         {.schema = "main", .name = "tree", .columns = {{"tree_id", "integer", true}, {"plot_id", "integer"}}},
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
    for (const ScopeRelation& r : ScopeFinder(m.text, tree, catalog()).relationsAt(token)) {
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

}  // namespace
}  // namespace pantry::sql
