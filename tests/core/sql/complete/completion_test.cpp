#include "core/sql/complete/completion.h"

#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using test::marked;
using testing::Contains;
using testing::Not;

catalog::View orchard() {
    return catalog::View(
        {{.schema = "main", .name = "plot", .columns = {{"plot_id", "integer", true, 1}, {"name", "text"}}},
         {.schema = "main",
          .name = "tree",
          .columns = {{"tree_id", "integer", true, 1}, {"plot_id", "integer"}},
          .foreignKeys = {{"", {"plot_id"}, "main", "plot", {"plot_id"}}}},
         {.schema = "main",
          .name = "inspection",
          .columns = {{"inspection_id", "integer", true, 1}, {"tree_id", "integer"}, {"scab_score", "integer"}},
          .foreignKeys = {{"", {"tree_id"}, "main", "tree", {"tree_id"}}},
          .rowEstimate = 8412},
         {.schema = "main", .name = "order", .columns = {{"group", "text"}}},
         {.schema = "archive", .name = "old_plot", .columns = {{"plot_id", "integer"}}}},
        {"main"});
}

std::vector<std::string> offered(std::string_view sql) {
    const auto m = marked(sql);
    std::vector<std::string> out;
    for (const CompletionItem& item : completeAt(m.text, m.caret, Dialect::Sqlite, orchard()).items)
        out.push_back(item.text);
    return out;
}

std::string first(std::string_view sql) {
    const auto all = offered(sql);
    return all.empty() ? "nothing" : all.front();
}

TEST(CompletionTest, OffersVerbsWhereAStatementBegins) {
    EXPECT_EQ(first("SEL<|>"), "SELECT");
    EXPECT_EQ(first("SELECT 1; UPD<|>"), "UPDATE");
}

TEST(CompletionTest, GoesOnWhereNothingEndsTheStatementBefore) {
    EXPECT_EQ(first("select * from plot p where p.na<|>\n\nselect * from tree"), "name");
    EXPECT_EQ(first("select * from plot\n\nselect scab<|> from inspection"), "scab_score");
    EXPECT_EQ(first("select * from plot\n\nselect * from ins<|>"), "inspection");
    EXPECT_THAT(offered("select * from plot\n\nselect t.<|> from tree t"), Contains("tree_id"));
    EXPECT_THAT(offered("select * from plot\n\nselect t.<|> from tree t"), Not(Contains("name")));
    EXPECT_EQ(first("select * from plot\n\ndelete from tree where pl<|>"), "plot_id");
}

TEST(CompletionTest, OffersTablesAfterFrom) {
    EXPECT_EQ(first("select * from ins<|>"), "inspection");
    EXPECT_THAT(offered("select * from <|>"), Contains("plot"));
    EXPECT_THAT(offered("select * from <|>"), Contains("archive.old_plot"));
    EXPECT_THAT(offered("select * from ord<|>"), Contains("\"order\""));
    EXPECT_EQ(first("delete from pl<|> where x = 1"), "plot");
}

TEST(CompletionTest, OffersColumnsByAlias) {
    EXPECT_EQ(first("select i.sc<|> from inspection i"), "scab_score");
    EXPECT_THAT(offered("select i.<|> from inspection as i"), Not(Contains("name")));
    EXPECT_THAT(offered("select t.<|> from plot p join tree t on t.plot_id = p.plot_id"), Contains("tree_id"));
}

TEST(CompletionTest, OffersColumnsOfWhatIsInScope) {
    EXPECT_EQ(first("select sca<|> from inspection"), "scab_score");
    EXPECT_EQ(first("select * from inspection where sca<|>"), "scab_score");
    EXPECT_EQ(first("select * from inspection order by sca<|>"), "scab_score");
    EXPECT_EQ(first("update plot set na<|>"), "name");
    EXPECT_EQ(first("insert into plot (na<|>"), "name");
}

TEST(CompletionTest, QualifiesWhatWouldBeAmbiguous) {
    EXPECT_THAT(offered("select plot_i<|> from plot p join tree t on 1"), Contains("p.plot_id"));
}

TEST(CompletionTest, OffersJoinConditionsByForeignKey) {
    EXPECT_EQ(first("select * from inspection i join tree t on <|>"), "t.tree_id = i.tree_id");
    EXPECT_EQ(first("select * from inspection i join tree t on t.<|>"), "tree_id = i.tree_id");
    EXPECT_EQ(first("select * from plot p join tree t on t.<|>"), "plot_id = p.plot_id");
    EXPECT_EQ(first("select * from tree join <|>"), "plot");
}

TEST(CompletionTest, OffersSharedColumnsInUsing) {
    EXPECT_EQ(first("select * from plot join tree using (<|>"), "plot_id");
}

TEST(CompletionTest, KnowsCommonTablesAndSubqueries) {
    EXPECT_EQ(first("with worst as (select plot_id, max(x) as score from tree) select * from wor<|>"), "worst");
    EXPECT_EQ(first("with worst as (select plot_id, max(x) as score from tree) select w.sco<|> from worst w"), "score");
    EXPECT_EQ(first("select q.na<|> from (select name from plot) q"), "name");
    EXPECT_EQ(first("select * from plot p where exists (select 1 from tree t where t.plot_id = p.na<|>)"), "name");
}

TEST(CompletionTest, OffersWhatMayFollow) {
    EXPECT_THAT(offered("select * from plot wh<|>"), Contains("where"));
    EXPECT_THAT(offered("select * from plot <|>"), Contains("join"));
    EXPECT_THAT(offered("select a fr<|>"), Contains("from"));
}

TEST(CompletionTest, IsQuietInTextsAndComments) {
    EXPECT_EQ(first("select 'sel<|>'"), "nothing");
    EXPECT_EQ(first("-- sel<|>"), "nothing");
    EXPECT_EQ(first("select 12<|>"), "nothing");
    EXPECT_EQ(first("select a as na<|>"), "nothing");
}

TEST(CompletionTest, ReplacesTheWholeWordUnderTheCaret) {
    const auto m = marked("select * from insp<|>ecton i");
    const Completion completion = completeAt(m.text, m.caret, Dialect::Sqlite, orchard());
    EXPECT_EQ(m.text.substr(completion.start, completion.length), "inspecton");
    EXPECT_EQ(completion.prefix, "insp");
}

}  // namespace
}  // namespace pantry::sql
