#include "core/sql/layout/format_part.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

/// The whole text after what stands between two marks was partFormatted.
struct Formatted {
    std::string text;
    FormattedPart part;
};
Formatted partFormatted(std::string marked, Dialect dialect = Dialect::Postgres) {
    const std::size_t start = marked.find('|');
    marked.erase(start, 1);
    const std::size_t end = marked.find('|');
    marked.erase(end, 1);
    FormattedPart part = formatPart(marked, start, end, dialect);
    return {marked.substr(0, part.start) + part.text + marked.substr(part.end), part};
}

TEST(FormatPartTest, WholeStatementsAreLaidOutAndBlanksAroundThemStay) {
    EXPECT_EQ(partFormatted("|\n\n  select 1;  select 2 \n|").text, "\n\n  SELECT 1;\nSELECT 2 \n");
    EXPECT_EQ(partFormatted("| \n|").text, " \n");
    EXPECT_EQ(partFormatted("select  0; |select  1;| select  2").text, "select  0; SELECT 1; select  2");
}

TEST(FormatPartTest, APartOfAStatementIsLaidOutAsItWouldBeInTheWhole) {
    EXPECT_EQ(
        partFormatted("select  plot_id,  name from plot |where  name is not null  and plot_id>3| order  by 1").text,
        "select  plot_id,  name from plot WHERE name IS NOT NULL AND plot_id > 3 order  by 1");
    EXPECT_EQ(partFormatted("select |a ,b|,  c from t").text, "select a, b,  c from t");
}

TEST(FormatPartTest, LinesOfThePartGoOnAtItsOwnIndent) {
    const std::string text =
        "create view v as\n"
        "        |select  warden_id, count(*) as plots, min(planted) as the_first_planting, max(planted) as "
        "the_last_one from plot group by warden_id|;";
    EXPECT_EQ(partFormatted(text).text,
              "create view v as\n"
              "        SELECT\n"
              "            warden_id,\n"
              "            count(*) AS plots,\n"
              "            min(planted) AS the_first_planting,\n"
              "            max(planted) AS the_last_one\n"
              "        FROM plot\n"
              "        GROUP BY warden_id;");
}

TEST(FormatPartTest, ASelectionThatCutsTokensTakesThemWhole) {
    EXPECT_EQ(partFormatted("select a from t whe|re a=1 and b  =  '|x y'").text,
              "select a from t WHERE a = 1 AND b = 'x y'");
}

TEST(FormatPartTest, WhatCanBeReadByItselfIsLaidOutThoughTheRestCannot) {
    const Formatted one = partFormatted("select from from;\nselect * from (|select  1,2|) as x where where");
    EXPECT_EQ(one.text, "select from from;\nselect * from (SELECT 1, 2) as x where where");
    EXPECT_TRUE(one.part.unread.empty());
    const Formatted first = partFormatted("|select  1|\n\nselect  2");
    EXPECT_EQ(first.text, "SELECT 1\n\nselect  2");
}

TEST(FormatPartTest, WhatCannotBeReadIsToldWithItsPlaceAndStays) {
    const Formatted bad = partFormatted("select  1;\n|where  a  in|  (1, , 2)");
    EXPECT_EQ(bad.text, "select  1;\nwhere  a  in  (1, , 2)");
    ASSERT_EQ(bad.part.unread.size(), 1U);
    EXPECT_EQ(bad.part.unread[0].start, 11U);
    const Formatted behind = partFormatted("select |a  ,  b| from t where ,");
    ASSERT_EQ(behind.part.unread.size(), 1U);
    EXPECT_EQ(behind.text[behind.part.unread[0].formattedOffset], ',');
    EXPECT_GT(behind.part.unread[0].formattedOffset, behind.text.find("where"));
}

TEST(FormatPartTest, SeveralStatementsOfWhichSomeAreCutAreLaidOutPieceByPiece) {
    EXPECT_EQ(partFormatted("select  1,|2 ,3;\nselect  4;\nselect  5|  ,6").text,
              "select  1,2, 3;\nSELECT 4;\nSELECT 5  ,6");
}

TEST(FormatPartTest, TextsAndCommentsOverSeveralLinesAreNotMoved) {
    const std::string text = "insert into t values (1);\n    |select  'one\n  two',  /* three\n four */ 5| from t";
    const std::string out = partFormatted(text).text;
    EXPECT_NE(out.find("'one\n  two'"), std::string::npos) << out;
    EXPECT_NE(out.find("/* three\n four */"), std::string::npos) << out;
}

}  // namespace
}  // namespace pantry::sql
