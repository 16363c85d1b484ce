#include "core/sql/complete/completion.h"

#include "core/sql/complete/dialect_words.h"
#include "core/sql/complete/signature.h"

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

/// An orchard whose trees and wardens meet in a linking table, with routines and types of its own.
const catalog::View& careOrchard() {
    static const catalog::View view = [] {
        catalog::Schema schema{.name = "main", .isLoaded = true};
        const auto key = [](const char* column, const char* relation) {
            return catalog::ForeignKey{
                .name = "", .columns = {column}, .schema = "main", .relation = relation, .referencedColumns = {column}};
        };
        schema.relations = {
            {.schema = "main", .name = "tree", .columns = {{"tree_id", "integer", false, 1}, {"tag", "text"}}},
            {.schema = "main", .name = "warden", .columns = {{"warden_id", "integer", false, 1}, {"name", "text"}}},
            {.schema = "main",
             .name = "care",
             .columns = {{"tree_id", "integer"}, {"warden_id", "integer"}},
             .foreignKeys = {key("tree_id", "tree"), key("warden_id", "warden")}}};
        schema.objects = {
            {.schema = "main",
             .name = "ripeness",
             .kind = catalog::ObjectKind::Function,
             .signature = "sugar numeric",
             .detail = "text"},
            {.schema = "main", .name = "repick", .kind = catalog::ObjectKind::Procedure, .signature = "tree integer"},
            {.schema = "main", .name = "grade", .kind = catalog::ObjectKind::Type, .detail = "enum"}};
        catalog::Facts facts;
        facts.searchPath = {"main"};
        return catalog::View(std::make_shared<const catalog::Catalog>(
            facts, std::vector<catalog::SchemaPtr>{std::make_shared<const catalog::Schema>(schema)}));
    }();
    return view;
}

std::vector<std::string> offersInCare(std::string_view sql) {
    const auto m = test::marked(sql);
    std::vector<std::string> texts;
    for (const auto& item : completeAt(m.text, m.caret, Dialect::Postgres, careOrchard()).items)
        texts.push_back(item.text);
    return texts;
}

TEST(CompletionJoinTest, AWholeJoinIsOfferedAndOneThroughALinkingTable) {
    const auto offers = offersInCare("SELECT * FROM tree t JOIN <|>");
    EXPECT_THAT(offers, testing::Contains("care c ON c.tree_id = t.tree_id"));
    EXPECT_THAT(offers,
                testing::Contains("care c ON c.tree_id = t.tree_id JOIN warden w ON c.warden_id = w.warden_id"));
    EXPECT_THAT(offersInCare("SELECT * FROM tree JOIN <|>"),
                testing::Not(testing::Contains(testing::HasSubstr(" c ON"))))
        << "without aliases where the query has none";
}

TEST(CompletionAliasTest, AShortFreeNameIsProposed) {
    EXPECT_THAT(offersInCare("SELECT * FROM tree <|>"), testing::Contains("t"));
    EXPECT_THAT(offersInCare("SELECT * FROM warden t JOIN tree <|>"), testing::Contains("tr")) << "t is taken";
}

TEST(CompletionRoutineTest, FunctionsProceduresAndTypesOfTheDatabaseAreOffered) {
    EXPECT_THAT(offersInCare("SELECT rip<|> FROM tree"), testing::Contains("ripeness("));
    EXPECT_THAT(offersInCare("CALL <|>"), testing::ElementsAre("repick("));
    EXPECT_THAT(offersInCare("SELECT CAST(tag AS <|>"),
                testing::AllOf(testing::Contains("integer"), testing::Contains("grade")));
    EXPECT_THAT(offersInCare("SELECT tag::<|> FROM tree"), testing::Contains("text"));
    EXPECT_THAT(offersInCare("CREATE TABLE shed (shed_id <|>"), testing::Contains("bigint"));
    EXPECT_THAT(offersInCare("SELECT tag AS <|> FROM tree"), testing::IsEmpty()) << "a name of one's own";
}

TEST(CompletionWindowTest, WindowsOfTheQueryAreOffered) {
    EXPECT_THAT(offersInCare("SELECT count(*) OVER <|> FROM tree WINDOW by_tag AS (PARTITION BY tag)"),
                testing::Contains("by_tag"));
}

TEST(SignatureTest, TheInnermostCallAndTheArgumentAtTheCaretAreKnown) {
    const auto at = [](std::string_view sql) -> std::string {
        const auto m = test::marked(sql);
        Script script(Dialect::Postgres);
        script.setText(m.text);
        const auto found = signatureAt(script, m.caret, careOrchard());
        if (!found) return "none";
        return found->name + " " + std::to_string(found->at) + " of " + std::to_string(found->arguments.size()) +
               (found->returns.empty() ? "" : " → " + found->returns);
    };
    EXPECT_EQ(at("SELECT ripeness(<|>) FROM tree"), "ripeness 0 of 1 → text");
    EXPECT_EQ(at("SELECT ripeness(round(1, 2)<|>"), "ripeness 0 of 1 → text");
    EXPECT_EQ(at("SELECT ripeness(coalesce(1, <|>"), "coalesce 1 of 2");
    EXPECT_EQ(at("SELECT ripeness((1 + <|>"), "ripeness 0 of 1 → text") << "brackets that call nothing";
    EXPECT_EQ(at("SELECT ripeness('(<|>'"), "none") << "within a text";
    EXPECT_EQ(at("SELECT ripeness(1) <|>"), "none");
    EXPECT_EQ(at("SELECT ripeness(1; SELECT <|>"), "none");
    EXPECT_EQ(at("SELECT unknown_one(<|>"), "none");
}

TEST(CompletionValuesTest, AskForTheColumnThatIsComparedWith) {
    const catalog::View view({{.schema = "main",
                               .name = "plot",
                               .columns = {{"plot_id", "integer"}, {"slope", "text"}, {"leased_until", "date"}}}},
                             {"main"});
    const auto wanted = [&](std::string_view sql) -> std::string {
        const auto m = test::marked(sql);
        const Completion found = completeAt(m.text, m.caret, Dialect::Sqlite, view);
        return found.valuesOf ? found.valuesOf->table + "." + found.valuesOf->column : "none";
    };
    EXPECT_EQ(wanted("SELECT 1 FROM plot WHERE slope = <|>"), "plot.slope");
    EXPECT_EQ(wanted("SELECT 1 FROM plot p WHERE p.slope IN (<|>"), "plot.slope");
    EXPECT_EQ(wanted("SELECT 1 FROM plot p WHERE p.slope NOT IN ('a', 'b', <|>)"), "plot.slope");
    EXPECT_EQ(wanted("SELECT 1 FROM plot WHERE leased_until BETWEEN <|>"), "plot.leased_until");
    EXPECT_EQ(wanted("SELECT 1 FROM (SELECT slope s FROM plot) q WHERE q.s LIKE <|>"), "plot.slope")
        << "through a subquery";
    EXPECT_EQ(wanted("SELECT <|> FROM plot"), "none");
    EXPECT_EQ(wanted("SELECT 1 FROM plot WHERE <|>"), "none");
}

TEST(CompletionValuesTest, AreWrittenAsTheTypeNeedsAndFoundByTheirLabels) {
    Completion at{.items = {}};
    at.valuesOf = ValuesWanted{"main", "tree", "plot_id", "integer"};
    at.prefix = "salt";
    offerValues(at, {{"3", "Saltmarsh"}, {"4", "Quarry"}}, Dialect::Postgres);
    ASSERT_EQ(at.items.size(), 1U);
    EXPECT_EQ(at.items[0].text, "3");
    EXPECT_EQ(at.items[0].detail, "Saltmarsh");
    Completion texts{.items = {}};
    texts.valuesOf = ValuesWanted{"main", "plot", "slope", "text"};
    offerValues(texts, {{"it's steep", ""}}, Dialect::Postgres);
    ASSERT_EQ(texts.items.size(), 1U);
    EXPECT_EQ(texts.items[0].text, "'it''s steep'");
    EXPECT_TRUE(texts.opens);
}

TEST(CompletionValuesTest, DatesOfferDaysInTheEnginesOwnWords) {
    const catalog::View view(
        {{.schema = "main", .name = "plot", .columns = {{"leased_until", "date"}, {"name", "text"}}}}, {"main"});
    const auto offers = [&](std::string_view sql, Dialect dialect) {
        const auto m = test::marked(sql);
        std::vector<std::string> texts;
        for (const auto& item : completeAt(m.text, m.caret, dialect, view).items) texts.push_back(item.text);
        return texts;
    };
    EXPECT_THAT(offers("SELECT 1 FROM plot WHERE leased_until < <|>", Dialect::Postgres),
                testing::Contains("current_date"));
    EXPECT_THAT(offers("SELECT 1 FROM plot WHERE leased_until < first<|>", Dialect::MySql),
                testing::Contains("DATE_FORMAT(CURDATE(), '%Y-%m-01')"));
    EXPECT_THAT(offers("SELECT 1 FROM plot WHERE name < <|>", Dialect::Postgres),
                testing::Not(testing::Contains("current_date")));
}

TEST(CompletionFactsTest, ItemsKnowWhatTheyAreOf) {
    catalog::Relation tree{
        .schema = "main", .name = "tree", .columns = {{"tree_id", "integer", false, 1}, {"plot_id", "integer", false}}};
    tree.foreignKeys.push_back(
        {.name = "k", .columns = {"plot_id"}, .schema = "main", .relation = "plot", .referencedColumns = {"plot_id"}});
    const catalog::View view({tree,
                              {.schema = "main",
                               .name = "plot",
                               .columns = {{"plot_id", "integer", false, 1}},
                               .comment = "a piece of ground"}},
                             {"main"});
    const auto first = [&](std::string_view sql) {
        const auto m = test::marked(sql);
        const Completion found = completeAt(m.text, m.caret, Dialect::Sqlite, view);
        return found.items.empty() ? std::nullopt : factsOf(found.items.front());
    };
    const auto join = first("SELECT 1 FROM tree t JOIN plot p ON <|>");
    ASSERT_TRUE(join);
    EXPECT_EQ(join->heading, "tree → plot");
    EXPECT_THAT(join->comment, testing::HasSubstr("loses none"));
    const auto relation = first("SELECT 1 FROM plo<|>");
    ASSERT_TRUE(relation);
    EXPECT_EQ(relation->comment, "a piece of ground");
}

/// The orchard with what is no relation.
catalog::View definedOrchard() {
    auto schema = std::make_shared<catalog::Schema>();
    schema->name = "public";
    schema->relations = {{.schema = "public",
                          .name = "plot",
                          .columns = {{"plot_id", "integer", false, 1}, {"soil", "text"}},
                          .indexes = {{"plot_soil", {"soil"}}}},
                         {.schema = "public",
                          .name = "tall_trees",
                          .kind = catalog::ObjectKind::View,
                          .columns = {{"tree_id", "integer"}}}};
    schema->objects = {{.schema = "public", .name = "ripeness", .kind = catalog::ObjectKind::Type},
                       {.schema = "public", .name = "scab_advice", .kind = catalog::ObjectKind::Function}};
    return catalog::View(
        std::make_shared<const catalog::Catalog>(catalog::Facts{}, std::vector<catalog::SchemaPtr>{schema}),
        {"public"});
}

std::vector<std::string> offeredInDefinition(std::string_view text) {
    const auto m = marked(text);
    std::vector<std::string> texts;
    for (const auto& item : completeAt(m.text, m.caret, Dialect::Postgres, definedOrchard()).items)
        texts.push_back(item.text);
    return texts;
}

TEST(CompletionDefinitionsTest, NamesAreOfTheKindThatTheStatementIsAbout) {
    EXPECT_THAT(offeredInDefinition("CREATE TABLE bed (plot_id int REFERENCES <|>"), Contains("plot"));
    EXPECT_THAT(offeredInDefinition("CREATE TABLE bed (a int REFERENCES plot (<|>"), Contains("plot_id"));
    EXPECT_THAT(offeredInDefinition("CREATE TABLE bed (a int, b int, PRIMARY KEY (<|>"),
                testing::AllOf(Contains("a"), Contains("b"), Not(Contains("soil"))));
    EXPECT_THAT(offeredInDefinition("CREATE TABLE bed (a <|>"), Contains("ripeness"));
    EXPECT_THAT(offeredInDefinition("CREATE TABLE p<|>"), Not(Contains("plot"))) << "it is made only now";
    EXPECT_THAT(offeredInDefinition("CREATE INDEX by_soil ON <|>"), Contains("plot"));
    EXPECT_THAT(offeredInDefinition("CREATE INDEX by_soil ON plot (<|>"), Contains("soil"));
    EXPECT_THAT(offeredInDefinition("ALTER TABLE plot DROP COLUMN s<|>"), Contains("soil"));
    EXPECT_THAT(offeredInDefinition("ALTER TABLE plot RENAME COLUMN s<|>"), Contains("soil"));
    EXPECT_THAT(offeredInDefinition("DROP FUNCTION s<|>"), Contains("scab_advice("));
    EXPECT_THAT(offeredInDefinition("DROP TYPE IF EXISTS <|>"), Contains("ripeness"));
    EXPECT_THAT(offeredInDefinition("DROP INDEX <|>"), Contains("plot_soil"));
    EXPECT_THAT(offeredInDefinition("COMMENT ON TABLE <|>"), Contains("plot"));
    EXPECT_THAT(offeredInDefinition("GRANT SELECT ON p<|>"), Contains("plot"));
    EXPECT_THAT(offeredInDefinition("ANALYZE p<|>"), Contains("plot"));
    EXPECT_THAT(offeredInDefinition("INSERT INTO plot (soil) VALUES (1) ON CONFLICT (<|>"), Contains("plot_id"));
    EXPECT_THAT(offeredInDefinition("CREATE t<|>"), testing::AllOf(Contains("TABLE"), Not(Contains("to_char("))));
}

TEST(CompletionKeywordsTest, AreThoseThatTheGrammarTakesWithWhatMustFollow) {
    const auto offered = [](std::string_view text, Dialect dialect) {
        const auto m = marked(text);
        std::vector<std::string> texts;
        for (const auto& item : completeAt(m.text, m.caret, dialect, orchard()).items) texts.push_back(item.text);
        return texts;
    };
    EXPECT_THAT(offered("SELECT name FROM plot o<|>", Dialect::Postgres), Contains("ORDER BY"));
    EXPECT_THAT(offered("SELECT name FROM plot FOR u<|>", Dialect::Postgres), Contains("UPDATE"));
    EXPECT_THAT(offered("SELECT name FROM plot WHERE name i<|>", Dialect::Postgres), Contains("ILIKE"));
    EXPECT_THAT(offered("SELECT name FROM plot WHERE name i<|>", Dialect::MySql), Not(Contains("ILIKE")));
    EXPECT_THAT(offered("SELECT name FROM plot WHERE name g<|>", Dialect::Sqlite), Contains("GLOB"));
    EXPECT_THAT(offered("CREATE TABLE a (b int p<|>", Dialect::Sqlite), Contains("PRIMARY KEY"));
    EXPECT_THAT(offered("SELECT count(*) f<|>", Dialect::Postgres), Contains("FILTER"));
    EXPECT_THAT(offered("SELECT CASE w<|>", Dialect::Postgres), Contains("WHEN"));
    EXPECT_THAT(offered("SELECT name w<|>", Dialect::Postgres), Not(Contains("WHEN"))) << "outside of CASE";
    EXPECT_THAT(offered("SELECT name FROM plot GROUP <|>", Dialect::Postgres), Contains("BY"));
    EXPECT_THAT(offered("SELECT , FROM WHERE x = 1 AND y a<|>", Dialect::Postgres), Contains("AND"))
        << "where the beginning is not understood, the usual ones";
}

TEST(DialectWordsTest, AServerKnowsWhatItsVersionHasLearned) {
    const auto knows = [](Keyword word, Dialect dialect, std::string_view told) {
        return isWordSince(word, dialect, serverVersionIn(told));
    };
    EXPECT_TRUE(knows(Keyword::Merge, Dialect::Postgres, "PostgreSQL 15.6 (Debian)"));
    EXPECT_FALSE(knows(Keyword::Merge, Dialect::Postgres, "PostgreSQL 14.9"));
    EXPECT_TRUE(knows(Keyword::Merge, Dialect::Postgres, "")) << "nobody knows better";
    EXPECT_FALSE(knows(Keyword::Returning, Dialect::Sqlite, "SQLite 3.34"));
    EXPECT_TRUE(knows(Keyword::Returning, Dialect::Sqlite, "SQLite 3.40"));
    EXPECT_FALSE(knows(Keyword::With, Dialect::MySql, "5.7.44"));
    EXPECT_TRUE(knows(Keyword::With, Dialect::MySql, "8.0.36"));
    EXPECT_FALSE(knows(Keyword::Except, Dialect::MySql, "10.2.44-MariaDB"));
    EXPECT_TRUE(knows(Keyword::Except, Dialect::MySql, "10.11.6-MariaDB"));
    const auto m = marked("SELECT name FROM plot e<|>");
    const auto offers = [&](const std::string& told) {
        const catalog::View view(std::make_shared<const catalog::Catalog>(catalog::Facts{.serverVersion = told},
                                                                          std::vector<catalog::SchemaPtr>{}),
                                 {"main"});
        std::vector<std::string> texts;
        for (const auto& item : completeAt(m.text, m.caret, Dialect::MySql, view).items) texts.push_back(item.text);
        return texts;
    };
    EXPECT_THAT(offers("10.11.6-MariaDB"), Contains("EXCEPT"));
    EXPECT_THAT(offers("5.5.68-MariaDB"), Not(Contains("EXCEPT")));
}

}  // namespace
}  // namespace pantry::sql
