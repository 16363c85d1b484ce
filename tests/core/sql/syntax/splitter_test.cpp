#include "core/sql/syntax/splitter.h"

#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using test::marked;
using testing::ElementsAre;
using testing::SizeIs;

std::vector<std::string> statements(std::string_view text, Dialect dialect = Dialect::Sqlite) {
    std::vector<std::string> out;
    for (const StatementSpan& s : splitStatements(text, dialect)) out.emplace_back(text.substr(s.start, s.length));
    return out;
}

TEST(SplitterTest, SpansGoFromTheFirstTokenToTheLast) {
    EXPECT_THAT(statements("-- a\nselect 1 /* in */ + 1 -- b\n;; /* c */ select 2"),
                ElementsAre("select 1 /* in */ + 1", "select 2"));
    EXPECT_THAT(statements(" -- only a comment\n;"), ElementsAre());
}

TEST(SplitterTest, TellsLineAndKind) {
    const auto spans =
        splitStatements("\n\nwith x as (select 1) insert into t select * from x;\nEXPLAIN select 1", Dialect::Postgres);
    ASSERT_EQ(spans.size(), 2U);
    EXPECT_EQ(spans[0].line, 3U);
    EXPECT_EQ(kindName(spans[0].kind), "insert");
    EXPECT_TRUE(spans[0].isTerminated);
    EXPECT_EQ(kindName(spans[1].kind), "explain");
    EXPECT_FALSE(spans[1].isTerminated);
}

TEST(SplitterTest, KeepsTriggersWhole) {
    const std::string trigger =
        "CREATE TRIGGER t AFTER INSERT ON a BEGIN\n UPDATE b SET x = CASE WHEN 1 THEN 2 END;\n DELETE FROM c;\nEND";
    EXPECT_THAT(statements(trigger + "; select 1;"), ElementsAre(trigger, "select 1"));
}

TEST(SplitterTest, KeepsRoutinesWhole) {
    const std::string atomic =
        "CREATE FUNCTION f() RETURNS int BEGIN ATOMIC SELECT 1; SELECT CASE WHEN true THEN 2 END; END";
    EXPECT_THAT(statements(atomic + ";select 1", Dialect::Postgres), ElementsAre(atomic, "select 1"));
    const std::string body =
        "CREATE PROCEDURE p() BEGIN IF a THEN SET b = 1; END IF; WHILE x DO SET x = 0; END WHILE; END";
    EXPECT_THAT(statements(body + "; select 1;", Dialect::MySql), ElementsAre(body, "select 1"));
    EXPECT_THAT(
        statements("DELIMITER //\ncreate procedure p() begin select 1; end//\nDELIMITER ;\nselect 2;", Dialect::MySql),
        ElementsAre("create procedure p() begin select 1; end", "select 2"));
}

TEST(SplitterTest, BeginAloneOpensATransaction) {
    EXPECT_THAT(statements("BEGIN; UPDATE a SET x = 1; COMMIT;"), ElementsAre("BEGIN", "UPDATE a SET x = 1", "COMMIT"));
}

TEST(SplitterTest, CopyDataBelongToTheirCopy) {
    EXPECT_THAT(statements("COPY t FROM STDIN;\n1;2\n\\.\nselect 1;", Dialect::Postgres),
                ElementsAre("COPY t FROM STDIN;\n1;2\n\\.", "select 1"));
}

TEST(SplitterTest, DollarQuotesHideTerminators) {
    EXPECT_THAT(statements("DO $$ BEGIN x; END $$; select 1", Dialect::Postgres),
                ElementsAre("DO $$ BEGIN x; END $$", "select 1"));
}

TEST(SplitterTest, LinesForOtherProgramsEndAStatement) {
    EXPECT_THAT(statements("select 1\n\\watch 2\nselect 2", Dialect::Postgres), ElementsAre("select 1", "select 2"));
}

TEST(SplitterTest, AnUnclosedTextIsTheRest) {
    EXPECT_THAT(statements("select 'a; select 2"), ElementsAre("select 'a; select 2"));
}

std::string statementUnder(std::string_view sql) {
    const auto m = marked(sql);
    const auto spans = splitStatements(m.text, Dialect::Sqlite);
    const auto index = statementAt(m.text, spans, m.caret);
    return index ? m.text.substr(spans[*index].start, spans[*index].length) : "none";
}

TEST(SplitterTest, KnowsTheFunctionIfFromTheStatement) {
    EXPECT_THAT(
        statements("create procedure p() begin select case when a then if(b, 1, 2) else if(c, 3, 4) end; end; select 2",
                   Dialect::MySql),
        SizeIs(2));
    EXPECT_THAT(statements("create procedure p() begin if (a = 1) then select 1; else if (b) then set x = if(a, 1, 2); "
                           "end if; end if; end; select 2",
                           Dialect::MySql),
                SizeIs(2));
}

TEST(SplitterTest, CompoundStatementsOutsideRoutinesStayWhole) {
    EXPECT_THAT(statements("if @a then select 1; end if; select 2", Dialect::MySql), SizeIs(2));
    EXPECT_THAT(statements("begin not atomic declare x int; set x = 1; end; select 2", Dialect::MySql), SizeIs(2));
    EXPECT_THAT(statements("while @a < 3 do set @a = @a + 1; end while; select 2", Dialect::MySql), SizeIs(2));
}

TEST(SplitterTest, PostgresBodiesOfStandardSqlStayWhole) {
    EXPECT_THAT(
        statements(
            "create function f() returns int begin atomic select 1; select case when true then 1 end; end; select 2",
            Dialect::Postgres),
        SizeIs(2));
    EXPECT_THAT(statements("create rule r as on update to t do (update a set b = 1; delete from c); select 2",
                           Dialect::Postgres),
                SizeIs(2));
    EXPECT_THAT(
        statements("create schema s create table a (b int) create view v as select 1; select 2", Dialect::Postgres),
        SizeIs(2));
}

TEST(SplitterTest, AnOwnDelimiterAndGoEndWhateverIsOpen) {
    EXPECT_THAT(statements("delimiter //\ncreate procedure p() begin if a then//\nselect 1//", Dialect::MySql),
                SizeIs(2));
    EXPECT_THAT(statements("create procedure p as begin begin transaction;\nGO\nselect 1", Dialect::Ansi), SizeIs(2));
    EXPECT_THAT(statements("create definer=user@host procedure p() begin select 1; end; select 2", Dialect::MySql),
                SizeIs(2));
}

TEST(SplitterTest, ColumnsMayBeCalledLikeTheWordsOfBodies) {
    EXPECT_THAT(
        statements("create table log (event varchar(9), begin datetime, `end` datetime, function int); select 2",
                   Dialect::MySql),
        SizeIs(2));
    EXPECT_THAT(statements("create table log (trigger text, begin text); select 2", Dialect::Sqlite), SizeIs(2));
    EXPECT_THAT(
        statements(
            "create or replace definer = `a`@`b` aggregate function f(x int) returns int begin select 1; end; select 2",
            Dialect::MySql),
        SizeIs(2));
}

TEST(SplitterTest, EmptyStatementsAndCommentsHaveNoSpan) {
    EXPECT_THAT(statements(";; -- c\n; /* d */ ;", Dialect::Postgres), SizeIs(0));
    const auto spans = splitStatements("/*!40101 set names utf8 */;", Dialect::MySql);
    ASSERT_EQ(spans.size(), 1U);
    EXPECT_EQ(spans[0].kind, StatementKind::Set);
}

TEST(StatementAtTest, PicksTheStatementThatHoldsTheCaret) {
    EXPECT_EQ(statementUnder("select 1; sel<|>ect 2; select 3"), "select 2");
    EXPECT_EQ(statementUnder("select 1;<|>\n\nselect 2;"), "select 1");
    EXPECT_EQ(statementUnder("select 1;   <|>\nselect 2;"), "select 1");
    EXPECT_EQ(statementUnder("select 1;\n\n<|>\n\nselect 2;"), "none");
    EXPECT_EQ(statementUnder("-- about<|> it\nselect 1;"), "select 1");
}

TEST(SplitterTest, AStringThatGoesOnInTheNextLineKeepsItsKind) {
    const std::string text = "SELECT E'first\\n' -- and\n  'second\\';' AS a;\nSELECT 2;";
    EXPECT_EQ(splitStatements(text, Dialect::Postgres).size(), 2U);
    EXPECT_EQ(splitStatements("SELECT E'a'\n'b\\';'\n'c\\';';SELECT 2", Dialect::Postgres).size(), 2U);
    EXPECT_EQ(splitStatements("SELECT E'a' 'b\\';SELECT 2", Dialect::Postgres).size(), 2U) << "on one line it ends";
    EXPECT_EQ(splitStatements("SELECT 'a'\n'b\\';SELECT 2", Dialect::Postgres).size(), 2U) << "a plain one stays plain";
}

TEST(SplitterTest, AnExplainedTriggerIsOneStatement) {
    const std::string text =
        "EXPLAIN QUERY PLAN CREATE TRIGGER t AFTER INSERT ON a BEGIN SELECT 1; SELECT 2; END; SELECT 3;";
    EXPECT_EQ(splitStatements(text, Dialect::Sqlite).size(), 2U);
    EXPECT_EQ(splitStatements("EXPLAIN SELECT 1; SELECT 2", Dialect::Sqlite).size(), 2U);
}

}  // namespace
}  // namespace pantry::sql
