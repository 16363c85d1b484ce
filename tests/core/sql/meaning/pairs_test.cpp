#include "core/sql/meaning/pairs.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;

/// What the place at <|> belongs to, as “this ~ other”; “this ~” where the other is missing.
std::string pairIn(std::string_view text, Dialect dialect = Dialect::Postgres) {
    const auto m = test::marked(text);
    Script script(dialect);
    script.setText(m.text);
    const auto pair = pairAt(script, m.caret);
    if (!pair) return "none";
    const auto told = [&](const TextRange& range) {
        return std::to_string(range.start) + ":" + m.text.substr(range.start, range.length);
    };
    return told(pair->at) + " ~" + (pair->other ? " " + told(*pair->other) : "");
}

std::vector<FoldRange> foldsIn(std::string_view text, Dialect dialect = Dialect::Postgres) {
    Script script(dialect);
    script.setText(text);
    return foldsOf(script);
}

TEST(PairsTest, BracketsBelongTogetherWhateverStandsInTexts) {
    EXPECT_EQ(pairIn("select f<|>(a, ')', (b))"), "8:( ~ 20:)");
    EXPECT_EQ(pairIn("select f(a, ')', (b)<|>)"), "19:) ~ 17:(") << "the one behind which it stands";
    EXPECT_EQ(pairIn("select (array[1, 2])<|>[1]"), "19:) ~ 7:(");
    EXPECT_EQ(pairIn("select <|>(1"), "7:( ~");
    EXPECT_EQ(pairIn("select 1)<|>"), "8:) ~");
    EXPECT_EQ(pairIn("select '(<|>'"), "none");
    EXPECT_EQ(pairIn("select 1; select (<|>2)"), "17:( ~ 19:)");
}

TEST(PairsTest, WordsBelongToTheirEnds) {
    EXPECT_EQ(pairIn("select CA<|>SE WHEN a THEN CASE WHEN b THEN 1 END END"), "7:CASE ~ 47:END");
    EXPECT_EQ(pairIn("select CASE WHEN a THEN CASE WHEN b THEN 1 END<|> END"), "43:END ~ 24:CASE");
    EXPECT_EQ(pairIn("create procedure p() beg<|>in select 1; end", Dialect::MySql), "21:begin ~ 37:end");
    EXPECT_EQ(pairIn("create procedure p() begin if a then select 1; e<|>nd if; end", Dialect::MySql),
              "47:end ~ 27:if");
    EXPECT_EQ(pairIn("select ca<|>se when a then 1"), "7:case ~");
    EXPECT_EQ(pairIn("select begi<|>n from a"), "none");
}

TEST(PairsTest, StatementsBracketsAndCommentsOfSeveralLinesFold) {
    EXPECT_THAT(foldsIn("select 1;\nselect a,\n  (select 1\n   from b)\nfrom c;\n/* one\n two */"),
                ElementsAre(FoldRange{1, 4}, FoldRange{2, 3}, FoldRange{5, 6}));
    EXPECT_TRUE(foldsIn("select 1; select (2)").empty());
    EXPECT_TRUE(foldsIn("select (1\n").empty()) << "nothing closes it";
}

TEST(PairsTest, LinesKnowHowDeepTheyLie) {
    const auto lines = foldLines({{1, 4}, {2, 3}, {9, 12}}, 7);
    std::string depths;
    for (const FoldLine& line : lines) depths += std::to_string(line.depth) + (line.begins ? "+" : "") + " ";
    EXPECT_EQ(depths, "0 0+ 1+ 2 1 0 0 ");
}

}  // namespace
}  // namespace pantry::sql
