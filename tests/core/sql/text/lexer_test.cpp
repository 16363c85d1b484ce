#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;
using enum TokenKind;

/// The significant tokens of a text.
std::vector<std::string> words(std::string_view text, const Language& dialect) {
    std::vector<std::string> out;
    for (const Token& token : lex(text, dialect)) {
        if (!token.isTrivia()) out.emplace_back(token.textIn(text));
    }
    return out;
}

std::vector<TokenKind> kinds(std::string_view text, const Language& dialect) {
    std::vector<TokenKind> out;
    for (const Token& token : lex(text, dialect)) {
        if (token.kind != Blank) out.push_back(token.kind);
    }
    return out;
}

TEST(LexerTest, CoversEveryByte) {
    const std::string_view text = "select 'a' -- x\n, \"b\" /* c */ :p;\t\xFF";
    for (const Dialect dialect : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi}) {
        std::size_t at = 0;
        for (const Token& token : lex(text, dialect)) {
            EXPECT_EQ(token.start, at);
            at = token.end();
        }
        EXPECT_EQ(at, text.size());
    }
}

TEST(LexerTest, PostgresNestsBlockComments) {
    EXPECT_THAT(kinds("/* a /* b */ c */ x", Dialect::Postgres), ElementsAre(BlockComment, Word));
    EXPECT_THAT(words("/* a /* b */ c", Dialect::Sqlite), ElementsAre("c"));
}

TEST(LexerTest, PostgresStringsOfEveryKind) {
    EXPECT_THAT(words(R"(E'it\'s' U&'\0041' B'01' X'1F' N'n' $$a;b$$ $x$ $$ $x$)", Dialect::Postgres),
                ElementsAre(R"(E'it\'s')", R"(U&'\0041')", "B'01'", "X'1F'", "N'n'", "$$a;b$$", "$x$ $$ $x$"));
    EXPECT_THAT(words(R"('back\' x)", Dialect::Postgres), ElementsAre(R"('back\')", "x"));
}

TEST(LexerTest, PostgresOperatorsEndBeforeComments) {
    EXPECT_THAT(words("a @>b->>'c'||d*-1 ~~* e", Dialect::Postgres),
                ElementsAre("a", "@>", "b", "->>", "'c'", "||", "d", "*", "-", "1", "~~*", "e"));
    EXPECT_THAT(words("a+--b\nc", Dialect::Postgres), ElementsAre("a", "+", "c"));
    EXPECT_THAT(words("a@-b", Dialect::Postgres), ElementsAre("a", "@-", "b"));
}

TEST(LexerTest, MySqlCommentsAndEscapes) {
    EXPECT_THAT(kinds("# x\n-- y\n--z", Dialect::MySql),
                ElementsAre(LineComment, LineComment, Operator, Operator, Word));
    EXPECT_THAT(words(R"('it\'s' "text" `na``me` @v @@global.x)", Dialect::MySql),
                ElementsAre(R"('it\'s')", "\"text\"", "`na``me`", "@v", "@@global.x"));
    EXPECT_THAT(kinds("/*!40101 SET x=1 */ /* y */", Dialect::MySql), ElementsAre(ExecutableComment, BlockComment));
}

TEST(LexerTest, MySqlDelimiterLinesChangeWhatEndsAStatement) {
    EXPECT_THAT(
        kinds("DELIMITER //\nselect 1; //\nDELIMITER ;\nselect 2;", Dialect::MySql),
        ElementsAre(DelimiterLine, Word, Number, Semicolon, Terminator, DelimiterLine, Word, Number, Terminator));
}

TEST(LexerTest, SqliteNamesAndParameters) {
    EXPECT_THAT(kinds("[a b] `c` \"d\" x'1F' ?1 :a @b $c", Dialect::Sqlite),
                ElementsAre(QuotedName, QuotedName, QuotedName, String, Parameter, Parameter, Parameter, Parameter));
}

TEST(LexerTest, ParametersAreNotCastsSlicesLabelsOrTimes) {
    EXPECT_THAT(kinds(":a", Dialect::Postgres), ElementsAre(Parameter));
    EXPECT_THAT(kinds("a::int", Dialect::Postgres), ElementsAre(Word, Operator, Word));
    EXPECT_THAT(kinds("a[1:n]", Dialect::Postgres),
                ElementsAre(Word, OpenBracket, Number, Operator, Word, CloseBracket));
    EXPECT_THAT(kinds("again:LOOP", Dialect::MySql), ElementsAre(Word, Operator, Word));
    EXPECT_THAT(kinds("'12:30'", Dialect::Ansi), ElementsAre(String));
    EXPECT_THAT(kinds("x := 1", Dialect::MySql), ElementsAre(Word, Operator, Number));
}

TEST(LexerTest, NumbersOfEveryForm) {
    EXPECT_THAT(words("1 .5 1. 1e5 1.5E-3 0x1F 1..2", Dialect::Postgres),
                ElementsAre("1", ".5", "1.", "1e5", "1.5E-3", "0x1F", "1", "..", "2"));
}

TEST(LexerTest, CopyDataGoUpToTheirEnd) {
    const std::string_view text = "COPY t FROM stdin;\n1\ta;b\n2\t'\n\\.\nselect 1;";
    EXPECT_THAT(kinds(text, Dialect::Postgres),
                ElementsAre(Word, Word, Word, Word, Terminator, CopyData, Word, Number, Terminator));
}

TEST(LexerTest, LinesThatBeginWithABackslashAreOneToken) {
    EXPECT_THAT(kinds("\\set x 1\nselect 1;", Dialect::Postgres), ElementsAre(BackslashLine, Word, Number, Terminator));
}

TEST(LexerTest, AGoLineEndsAStatement) {
    EXPECT_THAT(kinds("select 1\n go \nselect go", Dialect::Ansi), ElementsAre(Word, Number, Terminator, Word, Word));
}

// The cases below follow the chapters on lexical structure of each engine's manual.

TEST(LexerTest, PostgresOperatorsTakeASignOnlyBesideCertainLetters) {
    EXPECT_THAT(words("a *-b", Dialect::Postgres), ElementsAre("a", "*", "-", "b"));
    EXPECT_THAT(words("a @-b", Dialect::Postgres), ElementsAre("a", "@-", "b"));
    EXPECT_THAT(words("a !=-1", Dialect::Postgres), ElementsAre("a", "!=-", "1"));
    EXPECT_THAT(words("a <->b <=> c ~~* d", Dialect::Postgres), ElementsAre("a", "<->", "b", "<=>", "c", "~~*", "d"));
    EXPECT_THAT(words("a+/* c */b", Dialect::Postgres), ElementsAre("a", "+", "b"));
}

TEST(LexerTest, PostgresCastsAssignmentsAndSlices) {
    EXPECT_THAT(words("x::int[], f(a => 1, b := 2)", Dialect::Postgres),
                ElementsAre("x", "::", "int", "[", "]", ",", "f", "(", "a", "=>", "1", ",", "b", ":=", "2", ")"));
    EXPECT_THAT(kinds("a[i:j]", Dialect::Postgres), ElementsAre(Word, OpenBracket, Word, Operator, Word, CloseBracket));
    EXPECT_THAT(kinds("$1 $23", Dialect::Postgres), ElementsAre(Parameter, Parameter));
}

TEST(LexerTest, PostgresDollarQuotesEndAtTheirOwnTag) {
    EXPECT_THAT(words("$a$ $$ $b$ $a$ x", Dialect::Postgres), ElementsAre("$a$ $$ $b$ $a$", "x"));
    EXPECT_THAT(words("a$b$c", Dialect::Postgres), ElementsAre("a$b$c"));
    EXPECT_THAT(words("$été$x$été$", Dialect::Postgres), ElementsAre("$été$x$été$"));
}

TEST(LexerTest, PostgresStringsFollowTheSession) {
    EXPECT_THAT(words(R"('a\' b)", Dialect::Postgres), ElementsAre(R"('a\')", "b"));
    EXPECT_THAT(words(R"('a\' b')", Language(Dialect::Postgres, false, Backslash::Escapes)), ElementsAre(R"('a\' b')"));
    EXPECT_THAT(words("set standard_conforming_strings = off; 'a\\' b'", Dialect::Postgres),
                ElementsAre("set", "standard_conforming_strings", "=", "off", ";", "'a\\' b'"));
    EXPECT_THAT(words("set standard_conforming_strings to on; 'a\\' b", Dialect::Postgres),
                ElementsAre("set", "standard_conforming_strings", "to", "on", ";", "'a\\'", "b"));
}

TEST(LexerTest, NamesMayHaveLettersOfEveryAlphabet) {
    EXPECT_THAT(kinds("größe 名前 _x x$1", Dialect::Postgres), ElementsAre(Word, Word, Word, Word));
    EXPECT_THAT(kinds("U&\"d\\0061t\" \"a\"\"b\"", Dialect::Postgres), ElementsAre(QuotedName, QuotedName));
}

TEST(LexerTest, MySqlQuotesFollowTheSession) {
    EXPECT_THAT(kinds("\"a\"", Dialect::MySql), ElementsAre(String));
    EXPECT_THAT(kinds("\"a\"", Language(Dialect::MySql, true)), ElementsAre(QuotedName));
    EXPECT_THAT(kinds("set sql_mode = 'ANSI_QUOTES'; \"a\"", Dialect::MySql),
                ElementsAre(Word, Word, Operator, String, Terminator, QuotedName));
    EXPECT_THAT(kinds("set @@session.sql_mode = 'no_backslash_escapes'; 'a\\'", Dialect::MySql),
                ElementsAre(Word, Variable, Operator, String, Terminator, String));
    EXPECT_THAT(words(R"('a\' c')", Language(Dialect::MySql, false, Backslash::Plain)),
                ElementsAre(R"('a\')", "c", "'"));
}

TEST(LexerTest, MySqlLiteralsVariablesAndOperators) {
    EXPECT_THAT(words("x'4D' 0x4D b'01' 0b01 _utf8'a' N'b'", Dialect::MySql),
                ElementsAre("x'4D'", "0x4D", "b'01'", "0b01", "_utf8", "'a'", "N'b'"));
    EXPECT_THAT(words("@a := @`b c` <=> @@global.d -> '$.x' ->> '$.y'", Dialect::MySql),
                ElementsAre("@a", ":=", "@`b c`", "<=>", "@@global.d", "->", "'$.x'", "->>", "'$.y'"));
    EXPECT_THAT(words("1st 2_nd 5--3", Dialect::MySql), ElementsAre("1st", "2_nd", "5", "-", "-", "3"));
    EXPECT_THAT(kinds("/*! x */ /*+ y */ /*M! z */", Dialect::MySql),
                ElementsAre(ExecutableComment, BlockComment, ExecutableComment));
}

TEST(LexerTest, SqliteBlobsAndParameters) {
    EXPECT_THAT(kinds("x'00' ? ?12 :a @b $c [a]b", Dialect::Sqlite),
                ElementsAre(String, Parameter, Parameter, Parameter, Parameter, Parameter, QuotedName, Word));
    EXPECT_THAT(kinds("$a::b(c) $d + 1", Dialect::Sqlite), ElementsAre(Parameter, Parameter, Operator, Number));
    EXPECT_THAT(words("a->>'b' || c == d <> e", Dialect::Sqlite),
                ElementsAre("a", "->>", "'b'", "||", "c", "==", "d", "<>", "e"));
}

TEST(LexerTest, OnlyGoAloneOnALineSeparates) {
    EXPECT_THAT(kinds("select go\nGO\n go \nselect 1 go", Dialect::Ansi),
                ElementsAre(Word, Word, Terminator, Terminator, Word, Number, Word));
}

TEST(LexerTest, AMissingEndIsMarked) {
    for (const std::string_view text : {"'abc", "\"abc", "/* abc", "$$abc"}) {
        EXPECT_FALSE(lex(text, Dialect::Postgres).back().isClosed) << text;
    }
}

TEST(QuotedNameTest, QuotesOnlyWhatNeedsIt) {
    EXPECT_EQ(quotedName("plot", Dialect::Sqlite), "plot");
    EXPECT_EQ(quotedName("order", Dialect::Sqlite), "\"order\"");
    EXPECT_EQ(quotedName("a b", Dialect::MySql), "`a b`");
    EXPECT_EQ(quotedName("Plot", Dialect::Postgres), "\"Plot\"");
    EXPECT_EQ(quotedName("say \"x\"", Dialect::Postgres), "\"say \"\"x\"\"\"");
    EXPECT_EQ(unquotedName("\"say \"\"x\"\"\""), "say \"x\"");
    EXPECT_EQ(quotedString("O'Dair\\", Dialect::MySql), "'O''Dair\\\\'");
}

}  // namespace
}  // namespace pantry::sql
