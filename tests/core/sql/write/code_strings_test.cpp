#include "core/sql/write/code_strings.h"

#include <gmock/gmock.h>

namespace pantry::sql {
namespace {

TEST(CodeStringsTest, QuotesConcatenationAndEscapesOfProgramsAreTakenAway) {
    EXPECT_EQ(fromCode("String sql = \"SELECT name \" +\n    \"FROM plot\\n\" +\n    \"WHERE name = ?\";"),
              "SELECT name FROM plot\nWHERE name = ?");
    EXPECT_EQ(fromCode("sql = (\"SELECT 'a' \"\n       \"FROM plot\")"), "SELECT 'a' FROM plot");
    EXPECT_EQ(fromCode("query = \"\"\"SELECT 1\nFROM plot WHERE id = %(id)s\"\"\""),
              "SELECT 1\nFROM plot WHERE id = %(id)s");
    EXPECT_EQ(fromCode("const q = `SELECT ${1}`;"), "SELECT ${1}") << "placeholders stay";
    EXPECT_EQ(fromCode("$sql = 'SELECT a ' . 'FROM b';"), "SELECT a FROM b");
    EXPECT_EQ(fromCode("var s = @\"SELECT \\d FROM t\";"), "SELECT \\d FROM t");
    EXPECT_EQ(fromCode("R\"(SELECT \"a\" FROM t)\""), "SELECT \"a\" FROM t");
    EXPECT_EQ(fromCode("\"UPDATE t SET \" // first\n + \"a = 1\""), "UPDATE t SET a = 1");
}

TEST(CodeStringsTest, WhatIsNoProgramTextIsPastedAsItIs) {
    for (const char* text :
         {"SELECT \"name\" FROM plot", "'Saltmarsh'", "plot", "", "\"plot\"", "WHERE a = 'b'", "\"SELECT open"}) {
        EXPECT_EQ(fromCode(text), std::nullopt) << text;
    }
}

TEST(CodeStringsTest, AStatementStandsInEachLanguageWithItsParameters) {
    const std::string sql = "SELECT \"a\"\nFROM t WHERE b = :b AND c = 'it''s :x' AND d = :b";
    EXPECT_EQ(asCodeString(sql, CodeLanguage::Cpp),
              "R\"(SELECT \"a\"\nFROM t WHERE b = ? AND c = 'it''s :x' AND d = ?)\"");
    EXPECT_EQ(asCodeString(sql, CodeLanguage::Java),
              "\"SELECT \\\"a\\\"\\n\" +\n\"FROM t WHERE b = ? AND c = 'it''s :x' AND d = ?\"");
    EXPECT_EQ(asCodeString(sql, CodeLanguage::Python),
              "\"\"\"SELECT \"a\"\nFROM t WHERE b = %(b)s AND c = 'it''s :x' AND d = %(b)s\"\"\"");
    EXPECT_EQ(asCodeString(sql, CodeLanguage::JavaScript),
              "`SELECT \"a\"\nFROM t WHERE b = $1 AND c = 'it''s :x' AND d = $1`");
    EXPECT_EQ(asCodeString(sql, CodeLanguage::CSharp),
              "@\"SELECT \"\"a\"\"\nFROM t WHERE b = @b AND c = 'it''s :x' AND d = @b\"");
    EXPECT_EQ(asCodeString("SELECT 'a'", CodeLanguage::Php), "'SELECT \\'a\\''");
    EXPECT_EQ(asCodeString("SELECT `a`", CodeLanguage::Go), "\"SELECT `a`\"");
}

TEST(CodeStringsTest, ComesBackFromEveryLanguage) {
    const std::string sql = "SELECT 'a\\b', \"c\" FROM t\nWHERE d = 1";
    for (const CodeLanguage language : codeLanguages()) {
        EXPECT_EQ(fromCode("x = " + asCodeString(sql, language)), sql) << codeLanguageName(language);
    }
}

}  // namespace
}  // namespace pantry::sql
