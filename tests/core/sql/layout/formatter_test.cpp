#include "core/sql/layout/formatter.h"

#include <fmt/format.h>

#include "core/sql/check/findings.h"

#include "support/deep_calls.h"
#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

std::string formatted(std::string_view text, Dialect dialect = Dialect::Postgres) {
    return formatScript(text, dialect);
}

TEST(FormatterTest, ShortQueriesStayOnALine) {
    EXPECT_EQ(formatted("select * from plot"), "SELECT * FROM plot");
    EXPECT_EQ(formatted("select 1;"), "SELECT 1;");
}

TEST(FormatterTest, EveryClauseOfALongerQueryHasItsLine) {
    EXPECT_EQ(formatted("select p.name as plot, count(*) visits from inspection i join tree t using (tree_id) "
                        "left join plot p on p.plot_id=t.plot_id and p.x>1 where i.visited_on>=:since "
                        "group by p.name having count(*)>3 order by visits desc nulls last limit 10;\n"),
              "SELECT p.name AS plot, count(*) visits\n"
              "FROM inspection i\n"
              "JOIN tree t USING (tree_id)\n"
              "LEFT JOIN plot p ON p.plot_id = t.plot_id AND p.x > 1\n"
              "WHERE i.visited_on >= :since\n"
              "GROUP BY p.name\n"
              "HAVING count(*) > 3\n"
              "ORDER BY visits DESC NULLS LAST\n"
              "LIMIT 10;\n");
}

TEST(FormatterTest, ListsBreakWhenTheyDoNotFit) {
    EXPECT_EQ(formatted("select aaaaaaaaaaaaaaaaaaaaaaaaaaaaaa, bbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbb, "
                        "cccccccccccccccccccccccc, d from t"),
              "SELECT\n"
              "    aaaaaaaaaaaaaaaaaaaaaaaaaaaaaa,\n"
              "    bbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbb,\n"
              "    cccccccccccccccccccccccc,\n"
              "    d\n"
              "FROM t");
}

TEST(FormatterTest, LongConditionsBreakBeforeAndOr) {
    EXPECT_EQ(formatted("select a from t where first_condition = 'something long' and (second_condition < 12 or "
                        "third_condition is null) and fourth = 1"),
              "SELECT a\n"
              "FROM t\n"
              "WHERE first_condition = 'something long'\n"
              "    AND (second_condition < 12 OR third_condition IS NULL)\n"
              "    AND fourth = 1");
}

TEST(FormatterTest, CommonTablesAndSubqueries) {
    EXPECT_EQ(formatted("with x as (select a from t where a>1) select * from x where a in (select a from u)"),
              "WITH x AS (\n"
              "    SELECT a\n"
              "    FROM t\n"
              "    WHERE a > 1\n"
              ")\n"
              "SELECT *\n"
              "FROM x\n"
              "WHERE a IN (SELECT a FROM u)");
}

TEST(FormatterTest, LongInListsAreFilled) {
    EXPECT_EQ(formatted("delete from t where plot_id in (1000, 1001, 1002, 1003, 1004, 1005, 1006, 1007, 1008, 1009, "
                        "1010, 1011, 1012)"),
              "DELETE FROM t\n"
              "WHERE plot_id IN (\n"
              "    1000, 1001, 1002, 1003, 1004, 1005, 1006, 1007, 1008, 1009, 1010, 1011, 1012\n"
              ")");
}

TEST(FormatterTest, ChangesOfManyRows) {
    EXPECT_EQ(formatted("insert into plot(plot_id,name)values(1,'a'),(2,'b') on conflict(plot_id) do update set "
                        "name=excluded.name"),
              "INSERT INTO plot (plot_id, name)\n"
              "VALUES\n"
              "    (1, 'a'),\n"
              "    (2, 'b')\n"
              "ON CONFLICT (plot_id) DO UPDATE SET name = excluded.name");
    EXPECT_EQ(formatted("update t set a=1,b=2 where c=3"), "UPDATE t SET a = 1, b = 2 WHERE c = 3");
    EXPECT_EQ(formatted("update t set a=1,b=2 from u where c=3"), "UPDATE t\nSET a = 1, b = 2\nFROM u\nWHERE c = 3");
}

TEST(FormatterTest, CommentsStayWithTheirNeighbours) {
    EXPECT_EQ(formatted("-- head\nselect a, -- first\n b /* two */, /* c! */ c\n -- own line\n , d from t -- tail\n;"),
              "-- head\n"
              "SELECT\n"
              "    a, -- first\n"
              "    b /* two */,\n"
              "    /* c! */ c,\n"
              "    -- own line\n"
              "    d\n"
              "FROM t -- tail\n;");
}

TEST(FormatterTest, OnlyKeywordsChangeTheirCase) {
    EXPECT_EQ(formatted("select Count(*), Name from Plot where Name is Null"),
              "SELECT Count(*), Name\nFROM Plot\nWHERE Name IS NULL");
    EXPECT_EQ(formatScript("SELECT a FROM t", Dialect::Ansi, {.keywords = KeywordCase::Lower}), "select a from t");
    EXPECT_EQ(formatScript("Select a From t", Dialect::Ansi, {.keywords = KeywordCase::Keep}), "Select a From t");
}

TEST(FormatterTest, WhatItCannotReadStays) {
    for (const std::string_view text : {"select a   b   c from", "create  table x (a  int,, b int)", "selec  1",
                                        "\\set  x\n", "COPY t FROM stdin;\n1  2\n\\."}) {
        EXPECT_EQ(formatted(text), text);
    }
    EXPECT_EQ(formatted("create   table a (b int from); select   1;"), "create   table a (b int from);\nSELECT 1;");
}

TEST(FormatterTest, KeepsAtMostOneBlankLineBetweenStatements) {
    EXPECT_EQ(formatted("select 1\n\n\v"), "SELECT 1\n");
    EXPECT_EQ(formatted("select 1;\n\n\n\nselect 2;\nselect 3;\n\n"), "SELECT 1;\n\nSELECT 2;\nSELECT 3;\n");
}

TEST(FormatterTest, NeverJoinsWhatWasApart) {
    EXPECT_EQ(formatted("select 1 - -1"), "SELECT 1 - -1");
    EXPECT_EQ(formatted("select - - 1"), "SELECT - -1");
    EXPECT_EQ(formatted("select 'a'\n'b'"), "SELECT\n    'a'\n    'b'");
    EXPECT_EQ(formatted("select a :: int, b [ 1 : 2 ]"), "SELECT a::int, b[1:2]");
}

TEST(FormatterTest, CarriesTheCaretAlongOnItsToken) {
    const auto m = test::marked("select   a,b<|> from   plot where a=1");
    const auto result = formatKeepingCaret(m.text, m.caret, Dialect::Sqlite);
    EXPECT_EQ(result.text.substr(0, result.caret), "SELECT a, b");
}

TEST(FormatterTest, CaseExpressionsBreakByBranch) {
    EXPECT_EQ(formatted("select case when a_rather_long_condition = 1 then 'the first outcome' when another = 2 then "
                        "'second' else 'x' end as y from t"),
              "SELECT\n"
              "    CASE\n"
              "        WHEN a_rather_long_condition = 1 THEN 'the first outcome'\n"
              "        WHEN another = 2 THEN 'second'\n"
              "        ELSE 'x'\n"
              "    END AS y\n"
              "FROM t");
}

TEST(FormatterTest, CommasStandWhereTheStyleSays) {
    const FormatOptions leading{.width = 30, .commas = CommaPlace::Leading};
    EXPECT_EQ(formatScript("select alpha, beta, -- the second\n gamma_and_more from t", Dialect::Ansi, leading),
              "SELECT\n    alpha\n    , beta -- the second\n    , gamma_and_more\nFROM t");
    EXPECT_EQ(formatScript("select\n    alpha\n    , beta -- the second\n    , gamma_and_more from t", Dialect::Ansi,
                           {.width = 30}),
              "SELECT\n    alpha,\n    beta, -- the second\n    gamma_and_more\nFROM t");
}

TEST(FormatterTest, AndStandsWhereTheStyleSays) {
    EXPECT_EQ(formatScript("select a from t where first_one = 1 and second_one = 2", Dialect::Ansi,
                           {.width = 30, .logic = LogicPlace::LineEnd}),
              "SELECT a\nFROM t\nWHERE first_one = 1 AND\n    second_one = 2");
}

TEST(FormatterTest, SelectItemsFillLinesOrAlignTheirNames) {
    const std::string_view text = "select a as one, second_column as two, c + d as three_and_more from t";
    EXPECT_EQ(formatScript(text, Dialect::Ansi, {.width = 40, .selectItems = SelectItems::Filled}),
              "SELECT\n    a AS one, second_column AS two,\n    c + d AS three_and_more\nFROM t");
    EXPECT_EQ(
        formatScript(text, Dialect::Ansi, {.width = 40, .alignment = Alignment::All}),
        "SELECT\n    a             AS one,\n    second_column AS two,\n    c + d         AS three_and_more\nFROM t");
}

TEST(FormatterTest, TablesAreAlignedUnlessTheStyleSaysOtherwise) {
    const std::string_view text = "create table t (id integer primary key, long_name text not null)";
    EXPECT_EQ(formatScript(text, Dialect::Sqlite),
              "CREATE TABLE t (\n    id        integer PRIMARY KEY,\n    long_name text    NOT NULL\n)");
    EXPECT_EQ(formatScript(text, Dialect::Sqlite, {.alignment = Alignment::None}),
              "CREATE TABLE t (\n    id integer PRIMARY KEY,\n    long_name text NOT NULL\n)");
}

TEST(FormatterTest, BodiesInDollarQuotesStayByteForByte) {
    const std::string_view body = "$x$\n  begin\n\tselect   1;\n  end\n$x$";
    EXPECT_THAT(
        formatScript(fmt::format("create function f() returns int language plpgsql as {}", body), Dialect::Postgres),
        testing::HasSubstr(body));
}

TEST(FormatterTest, AnErrorInOneStatementLeavesTheOthers) {
    EXPECT_EQ(formatted("select   1; select   from   where; select   2"), "SELECT 1; select   from   where;\nSELECT 2");
}

TEST(FormatterTest, OneLineOfAMegabyteIsLaidOut) {
    std::string text = "select a from t where b in (0";
    while (text.size() < 1'000'000) text += ", 12345";
    text += ")";
    const std::string out = formatScript(text, Dialect::Postgres);
    EXPECT_GT(std::ranges::count(out, '\n'), 10'000);
    EXPECT_TRUE(haveSameTokens(text, out, Dialect::Postgres));
}

TEST(FormatterTest, LongChainsOfOperatorsJoinsAndQueriesAreLaidOut) {
    SKIP_WHERE_CALLS_ARE_COUNTED();
    const auto chain = [](std::string_view head, std::string_view link, std::size_t times) {
        std::string text(head);
        for (std::size_t i = 0; i < times; ++i) text.append(link);
        return text;
    };
    for (const std::string& text :
         {chain("select a", " || a", 100'000), chain("select a", "::int", 100'000),
          chain("select 1", " union all select 1", 20'000), chain("select 1 from a", " join b on true", 20'000)}) {
        const std::string out = formatScript(text, Dialect::Postgres);
        EXPECT_NE(out, text);
        EXPECT_TRUE(haveSameTokens(text, out, Dialect::Postgres));
        EXPECT_TRUE(checkScript(text, Dialect::Postgres, {.off = {"duplicate-alias"}}).empty());
    }
}

TEST(FormatterTest, TenThousandParenthesesAreLaidOut) {
    SKIP_WHERE_CALLS_ARE_COUNTED();
    const std::string text = "select " + std::string(10'000, '(') + "1" + std::string(10'000, ')') + " + 2";
    EXPECT_TRUE(haveSameTokens(text, formatted(text), Dialect::Postgres));
}

TEST(FormatterTest, PlaceholdersOfExtensionsAndNamesLikeKeywordsStayWhatTheyAre) {
    const std::string text =
        "create table @extschema@.t(at timestamptz) partition by range (at, value);\ngrant all on t to @extowner@;";
    const std::string laid = formatScript(text, Dialect::Postgres);
    EXPECT_NE(laid.find("@extschema@.t"), std::string::npos) << laid;
    EXPECT_NE(laid.find("TO @extowner@"), std::string::npos) << laid;
    EXPECT_NE(laid.find("RANGE (at, value)"), std::string::npos) << laid;
    EXPECT_NE(formatScript("select @a @ b", Dialect::Postgres).find("@a @ b"), std::string::npos) << "operators stay";
}

TEST(FormatterTest, CommentsStayWithWhatTheyStandBehindHoweverOftenItIsLaidOut) {
    for (const std::string_view text :
         {"alter text search configuration a add mapping for b,/*\nof two lines\n*/\nc with d",
          "alter extension p drop/*\n*/\nfunction f()", "create operator class c\ndefault/*\n*/\nfor type t",
          "select f(a\n/* b */) from c", "select ''::s\n/* of a type */(3)",
          "select a\n/* b */, c\n/* d */ /* e */ , f"}) {
        for (const Dialect dialect : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi}) {
            const std::string once = formatScript(text, dialect, {.keywords = KeywordCase::Upper});
            EXPECT_TRUE(haveSameTokens(text, once, dialect)) << once;
            EXPECT_EQ(formatScript(once, dialect, {.keywords = KeywordCase::Upper}), once) << text;
        }
    }
    EXPECT_NE(formatted("select f(a\n/* b */) from c").find("f(a /* b */)"), std::string::npos);
}

TEST(FormatterTest, TellsWhichStatementsCouldNotBeReadAndWhereTheyStandAfterwards) {
    const std::string text = "select  1;\nselect a from from b;\nselect   2;\nselect 3 +;";
    std::vector<UnreadStatement> unread;
    const std::string out = formatScript(text, Dialect::Sqlite, {}, &unread);
    EXPECT_EQ(out, "SELECT 1;\nselect a from from b;\nSELECT 2;\nselect 3 +;");
    ASSERT_EQ(unread.size(), 2U);
    EXPECT_EQ(unread[0].start, text.find("select a"));
    EXPECT_EQ(unread[0].offset, text.find("from b"));
    EXPECT_EQ(unread[0].formattedOffset, out.find("from b"));
    EXPECT_NE(unread[0].message.find("“from”"), std::string::npos) << unread[0].message;
    EXPECT_EQ(unread[1].offset, text.size() - 1) << "where something is missing";
    EXPECT_EQ(unread[1].formattedOffset, out.size() - 1);
}

}  // namespace
}  // namespace pantry::sql
