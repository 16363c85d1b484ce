#include "core/sql/findings.h"

namespace pantry::sql {
namespace {

TEST(FindingsTest, SoundTextsHaveNone) {
    EXPECT_THAT(checkScript("select a from t; create table x (a int); /* c */", Dialect::Sqlite), testing::IsEmpty());
}

TEST(FindingsTest, PointsAtTheMistakeInTheWholeText) {
    const std::string_view text = "select 1;\nselect a from t group a;";
    const auto findings = checkScript(text, Dialect::Sqlite);
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_EQ(findings[0].rule, "syntax");
    EXPECT_EQ(text.substr(findings[0].start), "a;");
    EXPECT_EQ(findings[0].length, 1U);
}

TEST(FindingsTest, AnUnclosedTextPointsAtItsBeginning) {
    const auto findings = checkScript("select 'abc; select 2;", Dialect::Postgres);
    ASSERT_FALSE(findings.empty());
    EXPECT_EQ(findings[0].start, 7U);
}

TEST(FindingsTest, ReportsLinesForOtherPrograms) {
    const auto findings = checkScript("\\timing on\nselect 1;", Dialect::Postgres);
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_EQ(findings[0].severity, Severity::Warning);
}

}  // namespace
}  // namespace pantry::sql
