#include "core/markdown/outline.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

#include <algorithm>

namespace pantry::markdown {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

/// The words of a text that have a look.
std::vector<std::string> lookingLike(std::string_view text, TokenKind kind) {
    std::vector<std::string> found;
    for (const Token& one : outlineOf(text).tokens) {
        if (one.kind == kind) found.emplace_back(text.substr(one.start, one.length));
    }
    return found;
}

TEST(MarkdownOutlineTest, WordsLookAsTheyAreMeant) {
    const std::string_view text =
        "# Scab *now*\n\nA **bad** year, _wet_; see `scab_score` and [notes](n.md).\n\n> said so\n";
    EXPECT_THAT(lookingLike(text, TokenKind::Strong), ElementsAre("**bad**"));
    EXPECT_THAT(lookingLike(text, TokenKind::Link), ElementsAre("[notes](n.md)"));
    EXPECT_THAT(lookingLike(text, TokenKind::Quote), ElementsAre("> said so\n"));
    EXPECT_EQ(lookingLike(text, TokenKind::Heading).front(), "# Scab ");
    EXPECT_THAT(lookingLike("plain words\n", TokenKind::Heading), IsEmpty());
    EXPECT_THAT(lookingLike("    indented code\n", TokenKind::Code), ElementsAre("    indented code\n"));
}

TEST(MarkdownOutlineTest, BlocksOfSqlStandWhereTheyAreAndTheRestIsBlank) {
    const std::string text = "# Über\n```sql\nSELECT 1\n```\nand\n~~~ SQL title\nSELECT 2;\n~~~\n```json\n{}\n```\n";
    const Outline outline = outlineOf(text);
    ASSERT_EQ(outline.blocks.size(), 3U);
    EXPECT_EQ(text.substr(outline.blocks[0].start, outline.blocks[0].end - outline.blocks[0].start), "SELECT 1\n");
    EXPECT_TRUE(outline.blocks[1].isSql());
    EXPECT_FALSE(outline.blocks[2].isSql());
    const std::string sql = sqlOf(text, outline.blocks);
    EXPECT_EQ(sql.size(), text.size());
    EXPECT_EQ(sql.find("SELECT 1\n;"), text.find("SELECT 1\n```"));
    EXPECT_EQ(sql.find("SELECT 2"), text.find("SELECT 2"));
    EXPECT_EQ(sql.find_first_not_of(" \n"), text.find("SELECT 1"));
    EXPECT_EQ(sql.find('{'), std::string::npos);
}

TEST(MarkdownOutlineTest, ABlockWithoutAnEndReachesToTheEndAndOneInAQuoteIsNotRun) {
    const std::string open = "text\n```sql\nSELECT 1\n";
    const Outline outline = outlineOf(open);
    ASSERT_EQ(outline.blocks.size(), 1U);
    EXPECT_EQ(outline.blocks[0].end, open.size());
    EXPECT_EQ(outline.blocks[0].fenceEnd, open.size());
    const Outline quoted = outlineOf("> ```sql\n> SELECT 1\n> ```\n");
    ASSERT_EQ(quoted.blocks.size(), 1U);
    EXPECT_FALSE(quoted.blocks[0].isSql()) << "the sign of the quote is no SQL";
    const Outline listed = outlineOf("- first\n\n  ```sql\n  SELECT 1\n  ```\n");
    ASSERT_EQ(listed.blocks.size(), 1U);
    EXPECT_TRUE(listed.blocks[0].isSql());
}

TEST(MarkdownOutlineTest, AHeadingFoldsWhatStandsUnderIt) {
    const std::string_view text = "# One\ntext\n\n## Inner\nmore\n```sql\nSELECT 1\n```\n\n# Two\nend\n";
    EXPECT_THAT(outlineOf(text).folds, ElementsAre(Fold{0, 7}, Fold{3, 7}, Fold{5, 7}, Fold{9, 10}));
    EXPECT_THAT(outlineOf("# Alone\n").folds, IsEmpty());
}

TEST(MarkdownOutlineTest, FilesAreKnownByTheirNames) {
    EXPECT_TRUE(isMarkdownName("/home/ann/Notes.MD"));
    EXPECT_TRUE(isMarkdownName("a.markdown"));
    EXPECT_FALSE(isMarkdownName("a.sql"));
    EXPECT_FALSE(isMarkdownName("md"));
}

RC_GTEST_PROP(MarkdownOutlineProperties, AnyBytesAreTakenAndStayInTheirPlaces, ()) {
    const auto pieces = *rc::gen::container<std::vector<std::string>>(rc::gen::element<std::string>(
        "# ", "```", "```sql\n", "~~~~", "\n", "> ", "- ", "*", "**", "`", "[a](b)", "\xE4", "\xC3\xA4", "SELECT 1;",
        "\r\n", "\t", "    ", "<b>", std::string(1, '\0'), "word", "\r"));
    std::string text;
    for (const std::string& one : pieces) text += one;
    const Outline outline = outlineOf(text);
    std::size_t done = 0;
    for (const Token& one : outline.tokens) {
        RC_ASSERT(one.start >= done);
        RC_ASSERT(one.length > 0U);
        done = one.start + one.length;
    }
    RC_ASSERT(done <= text.size());
    const std::string sql = sqlOf(text, outline.blocks);
    RC_ASSERT(sql.size() == text.size());
    for (std::size_t i = 0; i < text.size(); ++i) RC_ASSERT((text[i] == '\n') == (sql[i] == '\n'));
}

}  // namespace
}  // namespace pantry::markdown
