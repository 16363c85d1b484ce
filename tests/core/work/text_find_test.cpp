#include "core/work/text_find.h"

#include <gmock/gmock.h>

namespace pantry::work {
namespace {

using testing::ElementsAre;

std::vector<std::size_t> places(std::string_view text, const TextQuery& query) {
    std::vector<std::size_t> starts;
    const auto found = findInText(text, query, 100);
    EXPECT_TRUE(found) << found.error().text();
    for (const auto& one : found.value_or(std::vector<sql::TextRange>())) starts.push_back(one.start);
    return starts;
}

std::string replaced(std::string_view text, const TextQuery& query, std::string_view with,
                     std::optional<sql::TextRange> within = {}) {
    const auto edits = replaceInText(text, query, with, within);
    return edits ? sql::edited(text, *edits) : "! " + edits.error().message;
}

TEST(TextFindTest, FindsWordsWhateverTheirLettersUnlessThatIsAskedFor) {
    EXPECT_THAT(places("plot Plot plots", {.pattern = "plot"}), ElementsAre(0, 5, 10));
    EXPECT_THAT(places("plot Plot plots", {.pattern = "plot", .matchesCase = true}), ElementsAre(0, 10));
    EXPECT_THAT(places("plot Plot plots", {.pattern = "plot", .wholeWords = true}), ElementsAre(0, 5));
    EXPECT_THAT(places("a.b a+b", {.pattern = "a.b"}), ElementsAre(0)) << "signs are themselves";
    EXPECT_THAT(places("é É", {.pattern = "É"}), ElementsAre(0, 3));
    EXPECT_THAT(places("abc", {.pattern = ""}), testing::IsEmpty());
}

TEST(TextFindTest, ExpressionsKnowLinesAndNeverLoop) {
    EXPECT_THAT(places("SELECT 1;\nSELECT 2;", {.pattern = "^SELECT \\d", .isExpression = true}), ElementsAre(0, 10));
    EXPECT_THAT(places("aaa", {.pattern = "x*", .isExpression = true}), testing::IsEmpty());
    const std::string many(200'000, 'a');
    EXPECT_THAT(places(many + "b", {.pattern = "(a*)*b$", .isExpression = true}), ElementsAre(0));
    EXPECT_FALSE(findInText("a", {.pattern = "(", .isExpression = true}, 1));
    EXPECT_EQ(findInText("aaaa", {.pattern = "a"}, 3)->size(), 3U);
}

TEST(TextFindTest, SeveralTextsAreGoneThroughWithTheirLines) {
    const std::vector<base::SharedText> texts{base::SharedText("one\ntwo plot"), base::SharedText("none"),
                                              base::SharedText("plot\nplot")};
    const auto found = findInTexts(texts, {.pattern = "plot"}, 2);
    ASSERT_TRUE(found);
    ASSERT_EQ(found->size(), 2U);
    EXPECT_EQ((*found)[0].shown, "two plot");
    EXPECT_EQ((*found)[0].line, 2U);
    EXPECT_EQ((*found)[1].text, 2U);
}

TEST(TextFindTest, ReplacesWithWhatBracketsFound) {
    EXPECT_EQ(replaced("a.x, a.y", {.pattern = "a\\.(\\w+)", .isExpression = true}, "b.$1 AS $1"),
              "b.x AS x, b.y AS y");
    EXPECT_EQ(replaced("a,b", {.pattern = ",", .isExpression = true}, ",\\n$$"), "a,\n$b");
    EXPECT_EQ(replaced("a b a", {.pattern = "a"}, "$1"), "$1 b $1") << "taken as it is without an expression";
    EXPECT_EQ(replaced("a a a", {.pattern = "a"}, "bb", sql::TextRange{2, 1}), "a bb a") << "in the selection alone";
    EXPECT_EQ(replaced("a", {.pattern = "[", .isExpression = true}, "b").substr(0, 2), "! ");
}

}  // namespace
}  // namespace pantry::work
