#include "core/sql/syntax/parser.h"
#include "support/deep_calls.h"

namespace pantry::sql {
namespace {

SyntaxTree parsed(std::string_view text, Dialect dialect = Dialect::Postgres) { return parseSingle(text, dialect); }

std::string firstError(std::string_view text, Dialect dialect = Dialect::Postgres) {
    const SyntaxTree tree = parsed(text, dialect);
    return tree.errors.empty() ? "none" : tree.errors.front().message;
}

std::string errorToken(std::string_view text) {
    const SyntaxTree tree = parsed(text);
    if (tree.errors.empty()) return "none";
    const auto at = tree.errors.front().token;
    return at < tree.tokens.size() ? std::string(tree.tokens[at].textIn(text)) : "end";
}

TEST(ParserTest, UnderstandsQueriesOfManyShapes) {
    for (const std::string_view text : {
             "select 1",
             "select distinct on (a) a, b.*, count(*) filter (where x > 1) over (partition by y order by z rows "
             "between "
             "unbounded preceding and current row) n from s.t as b left join lateral (select 1) q on true",
             "with recursive x(a) as (select 1 union all select a + 1 from x), y as materialized (select 2) select * "
             "from x, y",
             "select a from b where (a, b) in ((1, 2)) and not exists (select 1) or c between 1 and 2 and d like 'x' "
             "escape '!'",
             "select cast(a as numeric(10, 2)), b::int[], extract(year from d), trim(both ' ' from e), interval '1 "
             "day', date '2026-01-01'",
             "select array[1, 2], arr[1:2], (row(1, 2)).f1, x at time zone 'utc', y collate \"C\", -z, not w",
             "(select 1 order by 1 limit 1) union all (select 2) order by 1 desc nulls last offset 2 rows fetch first "
             "3 rows only",
             "values (1, 'a'), (2, 'b')",
             "table plot",
             "select * from f(1) with ordinality as t(a, b)",
             "select a is not distinct from b, c is null, d isnull, e = any(array[1]) from g for update of g skip "
             "locked",
             "select group_concat(distinct a order by b desc separator ';') from t group by grouping sets ((a), ())",
             "select case a when 1 then 'x' else 'y' end, case when b then c end from t window w as (partition by a)",
             "select ((select 1) union (select 2))",
             "select percentile_cont(0.5) within group (order by a) from t",
         }) {
        EXPECT_EQ(firstError(text), "none") << text;
    }
}

TEST(ParserTest, UnderstandsChanges) {
    for (const std::string_view text : {
             "insert into t (a, b) values (1, default), (2, 3) on conflict (a) where b > 0 do update set b = "
             "excluded.b where t.c returning *",
             "insert into t default values",
             "insert into t select * from u",
             "update t set a = 1, (b, c) = (2, 3) from u where t.i = u.i returning t.a x",
             "delete from t using u where t.i = u.i returning *",
             "with x as (delete from t returning *) insert into u select * from x",
         }) {
        EXPECT_EQ(firstError(text), "none") << text;
    }
    EXPECT_EQ(firstError("insert ignore into t set a = 1 on duplicate key update a = values(a)", Dialect::MySql),
              "none");
    EXPECT_EQ(firstError("delete a, b from a join b on a.i = b.i where a.x limit 3", Dialect::MySql), "none");
    EXPECT_EQ(firstError("update t use index (i) join u using (x) set t.a = u.a order by t.b limit 5", Dialect::MySql),
              "none");
    EXPECT_EQ(firstError("insert or replace into t values (?1, :a, @b, $c)", Dialect::Sqlite), "none");
    EXPECT_EQ(firstError("select date_add(now(), interval 1 day), a div 2, @x := 1 from t", Dialect::MySql), "none");
}

TEST(ParserTest, PointsAtTheMistakeAndSaysWhatItExpected) {
    EXPECT_EQ(errorToken("select a from t group a"), "a");
    EXPECT_THAT(firstError("select a from t group a"), testing::HasSubstr("BY"));
    EXPECT_EQ(errorToken("select a,, b from t"), ",");
    EXPECT_EQ(errorToken("select a from t where"), "end");
    EXPECT_EQ(errorToken("select (1 + 2 from t"), "from");
    EXPECT_EQ(errorToken("select a from t where b = 1 extra stuff"), "extra");
    EXPECT_EQ(firstError("select 'abc"), "The text that begins here has no closing '.");
}

TEST(ParserTest, AnErrorCostsOnlyItsOwnClause) {
    const std::string_view text = "select a b c d from plot p where p.x = ";
    const SyntaxTree tree = parsed(text);
    ASSERT_TRUE(tree.hasErrors());
    EXPECT_THAT(tree.describe(text), testing::AllOf(testing::HasSubstr("Error c d"), testing::HasSubstr("TableName"),
                                                    testing::HasSubstr("WhereClause")));
}

TEST(ParserTest, KnowsWhatAWordIsUsedAs) {
    const std::string_view text = "select date, count(x) from date";
    const SyntaxTree tree = parsed(text);
    EXPECT_EQ(tree.roles[0], TokenRole::Keyword);
    EXPECT_EQ(tree.roles[2], TokenRole::Column);
    EXPECT_EQ(tree.roles[5], TokenRole::Function);
    EXPECT_EQ(tree.roles.back(), TokenRole::Relation);
}

TEST(ParserTest, UnderstandsTheWordsBetweenArgumentsOfJson) {
    for (const std::string_view text :
         {"select json_query(j, '$' with wrapper)", "select json_object('a' : 1 with unique keys)",
          "select json_value(j, '$.a' returning int default 0 on empty)",
          "select f(with x as (select 1) select * from x)"}) {
        EXPECT_FALSE(parsed(text).hasErrors()) << text;
    }
}

TEST(ParserTest, MistakesInDefinitionsHaveTheirPlace) {
    struct Case {
        std::string_view text;
        std::string_view place;
        std::string_view expected;
    };
    for (const Case& c : {Case{"create table t (a int,, b int)", ", b int)", "a column or a constraint"},
                          Case{"create table t (a int b int)", "b int)", "a comma or )"},
                          Case{"create table t (foreign key (a) reference u (b))", "reference u (b))", "REFERENCES"},
                          Case{"create table t (a int references u on delete perhaps)", "perhaps)", "CASCADE"},
                          Case{"drop tabel t", "tabel t", "the kind of object to drop"},
                          Case{"alter table t", "", "what to change"}, Case{"create index i on (a)", "(a)", "a table"},
                          Case{"merge into t using s when matched then delete", "when matched then delete", "ON"},
                          Case{"create view v as 1", "1", "SELECT"},
                          Case{"create trigger r after on t execute function f()", "on t execute function f()",
                               "INSERT, UPDATE or DELETE"},
                          Case{"explain", "", "a statement to explain"}}) {
        const SyntaxTree tree = parsed(c.text);
        ASSERT_FALSE(tree.errors.empty()) << c.text;
        const SyntaxError& error = tree.errors.front();
        const std::size_t at = error.token < tree.tokens.size() ? tree.tokens[error.token].start : c.text.size();
        EXPECT_EQ(c.text.substr(at), c.place) << c.text;
        EXPECT_THAT(error.message, testing::HasSubstr(std::string(c.expected))) << c.text;
    }
}

TEST(ParserTest, WhatOtherEnginesHaveIsNoMistakeInTheirLanguage) {
    for (const std::string_view text :
         {"{call f(?)}", "exec f 1, 'a'", "select top 3 [a b] from [t] with (nolock) option (maxdop 1)",
          "update t set a = 1 output inserted.a where b = 2", "select a from t for xml path('x')",
          "select * from t match_recognize (pattern (a+)) as m", "declare @x int = 5"}) {
        EXPECT_FALSE(parsed(text, Dialect::Ansi).hasErrors()) << text;
    }
}

/// The kinds of the statements under the root, and the words of the missing ends.
std::string parted(std::string_view text, Dialect dialect = Dialect::Postgres) {
    const SyntaxTree tree = parsed(text, dialect);
    std::string out;
    for (const SyntaxError& error : tree.errors) {
        if (error.lacksTerminator) out += std::string(tree.tokens[error.token].textIn(text)) + " ";
    }
    return out;
}

TEST(ParserTest, ALineThatBeginsAStatementWhereNoneCanBeginIsReadAsOne) {
    EXPECT_EQ(parted("select * from plot\n\nselect * from tree"), "select ");
    EXPECT_EQ(parted("select * from plot p where p.\nselect 1\ninsert into a values (1)"), "select insert ");
    EXPECT_EQ(parted("select * from plot\nupdate tree set a = 1"), "update ") << "not an alias";
    EXPECT_EQ(parted("select 1\n\nwith x as (select 1) select * from x"), "with ");
    EXPECT_EQ(parted("update t set a = 1\n-- and then\ndelete from t"), "delete ");
    EXPECT_EQ(parted("selct 1\nselect 2"), "select ") << "a verb that nobody knows takes no other statement with it";
    EXPECT_EQ(parted("select * from plot where id in (1, 2\n\nselect * from tree"), "select ");
    EXPECT_EQ(parted("drop table a\ncreate table b (c int)\ncommit"), "create commit ");
    EXPECT_EQ(firstError("select 1 from\nselect 2"), "The statement ends where a table should follow.");
    // Keywords of the second have their colour.
    const std::string_view text = "select 1\n\nselect two from three";
    const SyntaxTree tree = parsed(text);
    EXPECT_EQ(std::ranges::count(tree.roles, TokenRole::Keyword), 3);
}

TEST(ParserTest, ALineThatOnlyLooksLikeTheBeginningOfAStatementIsNone) {
    for (const std::string_view text :
         {"insert into a\nselect 1", "create table a as\nselect 1", "with a as (\nselect 1)\nselect 2",
          "select 1\nunion all\nselect 2", "select (\nselect 1)", "explain\nselect 1",
          "insert into a values (1) on conflict do\nupdate set a = 1", "select * from a for\nupdate",
          "create trigger t before\nupdate on a for each row execute function f()", "select a\nreplace from b",
          "select * from a\nupdate", "create view v as select 1\nwith check option",
          "select a from b group by rollup (a)\nfetch first 2 rows\nwith ties", "grant\nselect on a to b",
          "alter table a\ndrop column b", "prepare p as\nselect 1", "declare c cursor for\nselect 1",
          "select a.\nupdate from a"}) {
        EXPECT_EQ(parted(text), "") << text;
        EXPECT_EQ(firstError(text), "none") << text;
    }
    EXPECT_EQ(parted("select 1 select 2"), "") << "on one line nobody can tell";
}

TEST(ParserTest, ConditionsBelongToTheJoinsThatWaitForThem) {
    for (const std::string_view text :
         {"select 1 from a join b join c on b.x = c.x on a.x = b.x", "select 1 from a join b on true join c using (x)",
          "select 1 from a join ((select 1 union select 2) b join c on b.x = c.x) on true",
          "select 1 from ((select 1 as x) b cross join c)", "select 1 from (((select 1)) union (select 2)) b",
          "select 1 from ((select 1) order by 1) b", "select 1 from (((select 1) b join c on true) join d on true)"}) {
        EXPECT_EQ(firstError(text), "none") << text;
    }
    EXPECT_EQ(errorToken("select 1 from a join b, c on b.x = c.x"), "on");
    EXPECT_EQ(errorToken("select 1 from a join b on true on false"), "on");
}

TEST(ParserTest, MayEndBehindEveryKeywordOfAnything) {
    EXPECT_EQ(firstError("select a from b order by a using"), "The statement ends where an operator should follow.");
    for (std::size_t i = 1; i < kKeywordCount; ++i) {
        const std::string word(spellingOf(static_cast<Keyword>(i)));
        for (const std::string_view beginning :
             {"", "select a from b order by a ", "create table a (b int ", "create ", "alter table a ", "grant select ",
              "select a over ( ", "insert into a values (1) on ", "merge into a using b on a.c = b.c when ", "set ",
              "create trigger t before ", "select json_table(a, ", "begin; select cast(a ", "copy a from "}) {
            for (const Dialect dialect : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi}) {
                const std::string text = std::string(beginning) + word;
                EXPECT_EQ(parsed(text, dialect).root().firstToken, 0U) << text;
            }
        }
    }
}

TEST(ParserTest, SurvivesNestingThatNobodyWrites) {
    SKIP_WHERE_CALLS_ARE_COUNTED();
    const auto within = [](std::size_t levels, std::string_view open, std::string_view close) {
        std::string text = "select ";
        for (std::size_t i = 0; i < levels; ++i) text.append(open);
        text.append("1");
        for (std::size_t i = 0; i < levels; ++i) text.append(close);
        return text;
    };
    EXPECT_FALSE(parsed(within(10'000, "(", ")")).hasErrors());
    EXPECT_TRUE(parsed(within(10'000, "(", "")).hasErrors());
    EXPECT_TRUE(parsed(within(100'000, "(", ")")).hasErrors());
    EXPECT_TRUE(parsed(within(5000, "case when not ", "")).hasErrors());
    EXPECT_FALSE(parsed(within(20'000, "-", ""), Dialect::MySql).hasErrors());
    EXPECT_TRUE(parsed(within(200'000, "-", ""), Dialect::MySql).hasErrors());
}

}  // namespace
}  // namespace pantry::sql
