#include "core/sql/check/findings.h"

#include "core/sql/syntax/script.h"

namespace pantry::sql {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::IsEmpty;

const catalog::View& orchardToCheck() {
    static const catalog::View view(
        {{.schema = "public",
          .name = "plot",
          .columns = {{"plot_id", "integer", false, 1},
                      {"name", "text", false},
                      {"hectares", "numeric"},
                      {"opened_on", "date"}},
          .rowEstimate = 40},
         {.schema = "public",
          .name = "tree",
          .columns =
              {{"tree_id", "integer", false, 1}, {"plot_id", "integer"}, {"name", "text"}, {"planted_on", "date"}},
          .foreignKeys = {{"", {"plot_id"}, "public", "plot", {"plot_id"}}},
          .rowEstimate = 12'000},
         {.schema = "public",
          .name = "reading",
          .columns = {{"reading_id", "bigint", false, 1}, {"value", "double precision"}},
          .rowEstimate = 241'920}},
        {"public"});
    return view;
}

std::vector<Finding> found(std::string_view text, Dialect dialect = Dialect::Postgres, bool withCatalog = false) {
    CheckOptions options;
    if (withCatalog) options.catalog = &orchardToCheck();
    return checkScript(text, dialect, options);
}

std::vector<std::string> rulesIn(std::string_view text, Dialect dialect = Dialect::Postgres, bool withCatalog = false) {
    std::vector<std::string> rules;
    for (const Finding& f : found(text, dialect, withCatalog)) rules.emplace_back(f.rule);
    return rules;
}

std::vector<std::string> rulesWithCatalog(std::string_view text, Dialect dialect = Dialect::Postgres) {
    return rulesIn(text, dialect, true);
}

/// The text after the first mend that is offered.
std::string mended(std::string_view text, Dialect dialect = Dialect::Postgres, bool withCatalog = false) {
    std::string out(text);
    for (const Finding& f : found(text, dialect, withCatalog)) {
        if (f.fix) return out.replace(f.fix->start, f.fix->length, f.fix->text);
    }
    return out;
}

TEST(FindingsTest, SoundTextsHaveNone) {
    for (const std::string_view text : {
             "select a from t; create table x (a int); /* c */",
             "select count(*), max(a) from t",
             "select p.id, p.name, count(*) from p join t on t.p_id = p.id group by p.id",
             "select a.x from a, b where a.id = b.id",
             "select a.x from a, b, c where a.id = b.id and b.id = c.id",
             "select x from t where exists (select 1 from u, v where u.a = t.a and v.a = t.a)",
             "select x from t, lateral (select 1 from u where u.a = t.a) l",
             "select a.x from a, (select max(b) as b from c) m",
             "with p as (select 1 as n) select t.a from t, p",
             "update t set a = null where b = 1",
             "select a from t where 1 = 1 and b = 2",
             "select 10 / 4.0, a / b from t",
             "select x from t where y not in (select z from u where z is not null)",
             "select x from t where y not in (1, 2)",
             "select a from t where exists (select 1 from u limit 1)",
             "select a from t limit 0",
             "select a from t order by 1",
             "select a, b from t order by null",
             "select a from t where b between 1 and 5 and c like 'x%'",
             "select a as group_name, sum(b) as b from t group by a having sum(b) > 1",
             "select a x, b y from t",
             "with x as (select 1), y as (select * from x) select * from y",
             "with gone as (delete from t where a = 1 returning *) select 1",
             "insert into t (a, b) values (1, 2), (3, 4)",
             "insert into t (a, b) select a, b from u",
             "select a from t x where exists (select 1 from t x where x.b = 2)",
             "select a.x from a join b on a.id = b.id join (c join d on c.id = d.id) on c.id = b.id",
         }) {
        EXPECT_THAT(rulesIn(text), IsEmpty()) << text;
    }
}

TEST(FindingsTest, PointsAtTheMistakeInTheWholeText) {
    const std::string_view text = "select 1;\nselect a from t group a;";
    const auto findings = checkScript(text, Dialect::Sqlite);
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_EQ(findings[0].rule, "syntax");
    EXPECT_EQ(text.substr(findings[0].start), "a;");
    EXPECT_EQ(findings[0].length, 1U);
}

TEST(FindingsTest, AnEndThatIsMissingBetweenTwoStatementsIsOffered) {
    const std::string text = "select 1;\nselect 2 -- two\n\nselect 3";
    const auto all = checkScript(text, Dialect::Sqlite);
    ASSERT_EQ(all.size(), 1U);
    EXPECT_EQ(all[0].rule, "missing-terminator");
    EXPECT_EQ(all[0].start, text.rfind("select"));
    ASSERT_TRUE(all[0].fix);
    EXPECT_EQ(*all[0].fix, (TextEdit{text.find(" -- two"), 0, ";"}));
    Script script(Dialect::Sqlite);
    script.setText(text);
    const auto found = missingTerminators(script);
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].start, all[0].start);
    script.setText("select 1;\nselect 2; -- two\n\nselect 3");
    EXPECT_TRUE(missingTerminators(script).empty());
}

TEST(FindingsTest, AStatementOfASheetIsCheckedOnTheSamePathAsAScript) {
    const std::string text =
        "create table harvest (n int);\n"
        "select * from harvest;\n"
        "select * from nowhere;\n"
        "-- pantry: allow unknown-table\n"
        "select * from nowhere;\n"
        "select * from nowhere; -- pantry: allow all\n"
        "delete from plot;\n"
        "select 1 from from;\n"
        "select * from tree where name = null";
    CheckOptions options;
    options.catalog = &orchardToCheck();
    options.off = {"delete-without-where"};
    Script script(Dialect::Sqlite);
    script.setText(text);
    const std::vector<Finding> whole = checkScript(text, Dialect::Sqlite, options);
    options.definedInScript = definedIn(script);
    EXPECT_THAT(options.definedInScript, ElementsAre("harvest"));
    std::vector<Finding> single;
    for (std::size_t i = 0; i < script.statements().size(); ++i) {
        std::ranges::move(checkStatement(script, i, options), std::back_inserter(single));
    }
    ASSERT_EQ(single.size(), whole.size());
    ASSERT_GE(whole.size(), 3U);
    for (std::size_t i = 0; i < whole.size(); ++i) {
        EXPECT_EQ(single[i].rule, whole[i].rule);
        EXPECT_EQ(single[i].start, whole[i].start);
        EXPECT_EQ(single[i].fix, whole[i].fix);
    }
    const auto unknown = std::ranges::count(whole, std::string_view("unknown-table"), &Finding::rule);
    EXPECT_EQ(unknown, 1) << "the one that nothing allows and nothing makes";
}

TEST(FindingsTest, TheClosestVerbIsProposedNotTheLastOne) {
    const auto proposed = [](std::string_view text) { return checkScript(text, Dialect::Sqlite).at(0).message; };
    EXPECT_NE(proposed("selct 1").find("Did you mean SELECT?"), std::string::npos) << proposed("selct 1");
    EXPECT_NE(proposed("upsate t set a = 1").find("Did you mean UPDATE?"), std::string::npos);
    EXPECT_NE(proposed("ste a = 1").find("Did you mean SET?"), std::string::npos);
}

TEST(FindingsTest, SaysWhatAStatementMayBeginWith) {
    const auto findings = found("selec 1;");
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_THAT(findings[0].message, testing::HasSubstr("Did you mean SELECT?"));
}

TEST(FindingsTest, AnUnclosedTextPointsAtItsBeginning) {
    const auto findings = found("select 'abc; select 2;");
    ASSERT_FALSE(findings.empty());
    EXPECT_EQ(findings[0].rule, "unterminated");
    EXPECT_EQ(findings[0].start, 7U);
    EXPECT_EQ(findings[0].length, 1U);
}

TEST(FindingsTest, ReportsLinesForOtherPrograms) {
    const auto findings = found("\\timing on\nselect 1;");
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_EQ(findings[0].rule, "backslash-line");
    EXPECT_EQ(findings[0].severity, Severity::Warning);
}

TEST(FindingsTest, AForgottenCommaIsSeenAtTheEndOfALine) {
    EXPECT_THAT(rulesIn("select a\n  b, c from t"), ElementsAre("missing-comma"));
    EXPECT_EQ(mended("select a\n  b, c from t"), "select a,\n  b, c from t");
    EXPECT_THAT(rulesIn("select a\n  as b from t"), IsEmpty());
}

TEST(FindingsTest, AForgottenCommaIsSeenByTheColumnsOfTheTable) {
    EXPECT_THAT(rulesWithCatalog("select plot_id name from plot where plot_id = 1"), ElementsAre("missing-comma"));
    EXPECT_THAT(rulesWithCatalog("select plot_id number from plot where plot_id = 1"), IsEmpty());
}

TEST(FindingsTest, ChangesOfEveryRowAreTold) {
    EXPECT_THAT(rulesIn("update t set a = 1"), ElementsAre("update-without-where"));
    EXPECT_THAT(rulesIn("delete from t"), ElementsAre("delete-without-where"));
    EXPECT_THAT(rulesIn("delete from t using u where t.a = u.a"), IsEmpty());
    EXPECT_THAT(rulesIn("update t join u on t.a = u.a set t.b = 1", Dialect::MySql), IsEmpty());
}

TEST(FindingsTest, TablesThatNothingRelatesAreTold) {
    EXPECT_THAT(rulesIn("select a.x from a, b where a.y = 1"), ElementsAre("unrelated-tables"));
    EXPECT_THAT(rulesIn("select a.x from a, b, c where a.y = b.y"), ElementsAre("unrelated-tables"));
    EXPECT_THAT(rulesIn("select x from a join b"), ElementsAre("join-without-condition"));
    EXPECT_THAT(rulesIn("select x from a cross join b"), IsEmpty());
    EXPECT_THAT(rulesIn("select x from a natural join b"), IsEmpty());
}

TEST(FindingsTest, ComparisonsWithNullAreMended) {
    EXPECT_EQ(mended("select a from t where b = null"), "select a from t where b is null");
    EXPECT_EQ(mended("SELECT a FROM t WHERE b <> NULL"), "SELECT a FROM t WHERE b IS NOT NULL");
    EXPECT_EQ(mended("select a from t where b <> null"), "select a from t where b is not null");
    EXPECT_THAT(rulesIn("select a from t where b < null"), ElementsAre("null-comparison"));
}

TEST(FindingsTest, NotInIsATrapWhereNullMayCome) {
    EXPECT_THAT(rulesIn("select a from t where b not in (1, null)"), ElementsAre("not-in-null"));
    EXPECT_THAT(rulesIn("select a from t where b not in (select c from u)"), ElementsAre("not-in-null"));
    EXPECT_THAT(rulesWithCatalog("select name from plot where plot_id not in (select plot_id from tree)"),
                ElementsAre("not-in-null"));
    EXPECT_THAT(rulesWithCatalog("select name from plot where plot_id not in (select tree_id from tree)"), IsEmpty());
}

TEST(FindingsTest, OrderMattersWithLimit) {
    EXPECT_THAT(rulesIn("select a from t limit 5"), ElementsAre("limit-without-order"));
    EXPECT_THAT(rulesIn("select a from t order by a limit 5 offset 3"), IsEmpty());
    EXPECT_THAT(rulesIn("select a from t where b = (select c from u limit 1)"), IsEmpty());
}

TEST(FindingsTest, ConstantsDoNotOrder) {
    EXPECT_THAT(rulesIn("select a from t order by 'a'"), ElementsAre("order-by-constant"));
    EXPECT_THAT(rulesIn("select a from t order by 2"), ElementsAre("order-by-constant"));
    EXPECT_THAT(rulesIn("select * from t order by 2"), IsEmpty());
}

TEST(FindingsTest, GroupsNeedTheirColumns) {
    EXPECT_THAT(rulesIn("select a, count(*) from t"), ElementsAre("ungrouped-column"));
    EXPECT_THAT(rulesIn("select a, max(b) from t", Dialect::Sqlite), IsEmpty());
    EXPECT_THAT(rulesIn("select a, count(*) from t group by 1"), IsEmpty());
    EXPECT_THAT(rulesIn("select a + 1 as x, count(*) from t group by x"), IsEmpty());
    EXPECT_THAT(rulesIn("select t.a, count(*) from t join u on t.id = u.id group by u.b"),
                ElementsAre("ungrouped-column"));
    EXPECT_THAT(rulesIn("select a, sum(b) over () from t"), IsEmpty());
    EXPECT_THAT(rulesIn("select a from t group by a having a > 1"), ElementsAre("having-without-aggregate"));
}

TEST(FindingsTest, BoundsAndPatternsAreLookedAt) {
    EXPECT_EQ(mended("select a from t where b between 5 and 1"), "select a from t where b between 1 AND 5");
    EXPECT_THAT(rulesIn("select a from t where d between '2026-12-01' and '2026-01-01'"),
                ElementsAre("between-swapped"));
    EXPECT_THAT(rulesIn("select a from t where b like 'abc'"), ElementsAre("like-without-wildcard"));
    EXPECT_THAT(rulesIn("select a from t where b like '%abc'"), ElementsAre("leading-wildcard"));
    EXPECT_THAT(rulesIn("select a from t where b not like '%abc'"), ElementsAre("leading-wildcard"));
}

TEST(FindingsTest, ConditionsThatNeverChangeAreTold) {
    EXPECT_THAT(rulesIn("select a from t where 'a' = 'b'"), ElementsAre("constant-condition"));
    EXPECT_THAT(rulesIn("select a from t where t.a = t.a"), ElementsAre("constant-condition"));
    EXPECT_THAT(rulesIn("select a from t where 1 = 0"), IsEmpty());
}

TEST(FindingsTest, DivisionsOfIntegersLoseTheFraction) {
    EXPECT_EQ(mended("select count(*) / 2 from t"), "select count(*) / 2.0 from t");
    EXPECT_THAT(rulesIn("select 7 / 2", Dialect::MySql), IsEmpty());
    EXPECT_THAT(rulesWithCatalog("select plot_id / 2 from plot where plot_id = 1"), ElementsAre("integer-division"));
    EXPECT_THAT(rulesWithCatalog("select hectares / 2 from plot where plot_id = 1"), IsEmpty());
}

TEST(FindingsTest, NamesAreUsedOnce) {
    EXPECT_THAT(rulesIn("select t.x from t join t on 1 = 1"), ElementsAre("duplicate-alias"));
    EXPECT_THAT(rulesIn("select a as x, b as x from t"), ElementsAre("duplicate-alias"));
    EXPECT_THAT(rulesIn("with x as (select 1) select 2"), ElementsAre("unused-cte"));
    EXPECT_THAT(rulesIn("select 1 from t x where exists (select 1 from u x)"), ElementsAre("shadowed-alias"));
}

TEST(FindingsTest, StarsInDefinitionsAreUnfolded) {
    EXPECT_THAT(rulesIn("insert into t select * from u"), ElementsAre("star-in-definition"));
    EXPECT_EQ(mended("create view v as select * from plot", Dialect::Postgres, true),
              "create view v as select plot_id, name, hectares, opened_on from plot");
}

TEST(FindingsTest, ValuesAreCounted) {
    EXPECT_THAT(rulesIn("insert into t (a, b) values (1)"), ElementsAre("value-count"));
    EXPECT_THAT(rulesIn("insert into t values (1, 2), (3)"), ElementsAre("value-count"));
    EXPECT_THAT(rulesIn("insert into t (a, b) select a from u"), ElementsAre("value-count"));
    EXPECT_THAT(rulesWithCatalog("insert into reading values (1, 2, 3)"), ElementsAre("value-count"));
}

TEST(FindingsTest, NumbersAndTextsAreNotCompared) {
    EXPECT_EQ(mended("select a from t group by a having count(*) > '5'"),
              "select a from t group by a having count(*) > 5");
    EXPECT_THAT(rulesWithCatalog("select plot_id from plot where name = 5"), ElementsAre("number-as-text"));
    EXPECT_THAT(rulesWithCatalog("select plot_id from plot where plot_id = 'north'"), ElementsAre("number-as-text"));
    EXPECT_THAT(rulesWithCatalog("select plot_id from plot where plot_id = '5'"), IsEmpty());
}

TEST(FindingsTest, ReservedWordsAsNamesGetQuotes) {
    EXPECT_EQ(mended("create table user (a int)"), "create table \"user\" (a int)");
    EXPECT_THAT(rulesIn("select a as order_no from t"), IsEmpty());
}

TEST(FindingsTest, UnknownNamesAreToldWithTheClosest) {
    EXPECT_EQ(mended("select name from plots where plot_id = 1", Dialect::Postgres, true),
              "select name from plot where plot_id = 1");
    EXPECT_EQ(mended("select p.nme from plot p where plot_id = 1", Dialect::Postgres, true),
              "select p.name from plot p where plot_id = 1");
    EXPECT_THAT(rulesWithCatalog("select q.name from plot p where p.plot_id = 1"), ElementsAre("unknown-column"));
    EXPECT_THAT(rulesWithCatalog("with x as (select 1 as a) select b from x"), ElementsAre("unknown-column"));
    EXPECT_THAT(rulesWithCatalog("select a.b from elsewhere.thing a"), IsEmpty());
    EXPECT_THAT(rulesWithCatalog("create table fresh (a int); select a from fresh"), IsEmpty());
    EXPECT_THAT(rulesWithCatalog("select extract(year from opened_on) as y, count(*) from plot group by y order by y"),
                IsEmpty());
    EXPECT_THAT(rulesWithCatalog("insert into plot (plot_id, name) values (1, 'x') on conflict (plot_id) do update set "
                                 "name = excluded.name"),
                IsEmpty());
}

TEST(FindingsTest, ColumnsOfSeveralTablesNeedAQualifier) {
    EXPECT_THAT(rulesWithCatalog("select name from plot join tree using (plot_id)"), ElementsAre("ambiguous-column"));
    EXPECT_THAT(rulesWithCatalog("select plot_id from plot join tree using (plot_id)"), IsEmpty());
    EXPECT_THAT(rulesWithCatalog("select 1 from plot where exists (select 1 from tree where name = 'x')"), IsEmpty());
}

TEST(FindingsTest, TypesThatNeverMatchAreTold) {
    EXPECT_THAT(rulesWithCatalog("select plot_id from plot where opened_on = hectares"), ElementsAre("type-mismatch"));
    EXPECT_THAT(rulesWithCatalog("select plot_id from plot where opened_on = '2026-01-01'"), IsEmpty());
}

TEST(FindingsTest, JoinsFollowTheKey) {
    EXPECT_THAT(rulesWithCatalog("select 1 from tree t join plot p on t.tree_id = p.plot_id"),
                ElementsAre("join-beside-key"));
    EXPECT_THAT(rulesWithCatalog("select 1 from tree t join plot p on t.plot_id = p.plot_id"), IsEmpty());
}

TEST(FindingsTest, LargeTablesAreNotReadWholeUnnoticed) {
    EXPECT_THAT(rulesWithCatalog("select value from reading"), ElementsAre("whole-large-table"));
    EXPECT_THAT(rulesWithCatalog("select value from reading where value > 3"), IsEmpty());
    EXPECT_THAT(rulesWithCatalog("select count(*) from reading"), IsEmpty());
}

TEST(FindingsTest, CommentsAndOptionsSilenceRules) {
    EXPECT_THAT(rulesIn("-- pantry: allow delete-without-where\ndelete from t"), IsEmpty());
    EXPECT_THAT(rulesIn("delete from t; -- pantry: allow delete-without-where"), IsEmpty());
    EXPECT_THAT(rulesIn("delete /* pantry: allow all */ from t"), IsEmpty());
    EXPECT_THAT(rulesIn("-- pantry: allow all\n\ndelete from t"), ElementsAre("delete-without-where"));
    EXPECT_THAT(rulesIn("-- pantry: allow all\nselect 1;\ndelete from t"), ElementsAre("delete-without-where"));
    EXPECT_THAT(checkScript("delete from t", Dialect::Sqlite, {.off = {"delete-without-where"}}), IsEmpty());
}

TEST(FindingsTest, EveryRuleHasAPlaceInTheTable) {
    std::set<std::string_view> names;
    for (const FindingRule& rule : findingRules()) {
        EXPECT_TRUE(names.insert(rule.name).second) << rule.name;
        EXPECT_FALSE(rule.summary.empty());
    }
}

TEST(FindingsTest, APasswordInTheTextIsPointedAt) {
    const auto findings = found("CREATE USER ida IDENTIFIED BY 's3cret'", Dialect::MySql);
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_EQ(findings[0].rule, "secret-in-text");
    EXPECT_EQ(findings[0].length, 6U);
    EXPECT_THAT(rulesIn("ALTER ROLE ida PASSWORD 's3cret'"), Contains("secret-in-text"));
    EXPECT_THAT(rulesIn("SELECT name, 'secret' FROM plot"), IsEmpty());
}

}  // namespace
}  // namespace pantry::sql
