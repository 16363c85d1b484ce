#include "core/work/reading_shape.h"

#include <gmock/gmock.h>

namespace pantry::work {
namespace {

TextReading readingOf(std::string_view text, TextKind kind = TextKind::Sql) {
    return TextReading::of(base::SharedText(text), sql::Dialect::Postgres, nullptr, kind);
}

std::string depths(const TextReading& reading) {
    std::string all;
    for (const sql::FoldLine& one : foldLinesOf(reading)) all += std::to_string(one.depth) + (one.begins ? "+" : "");
    return all;
}

TEST(ReadingShapeTest, BracketsOfJsonBelongTogetherOnOneLineAndOnSeveral) {
    const TextReading json = readingOf("{\"crates\": [1, 2],\n \"by\": {\n}\n}");
    const auto pair = pairIn(json, 12);
    ASSERT_TRUE(pair && pair->other);
    EXPECT_EQ(pair->at.start, 11U);
    EXPECT_EQ(pair->other->start, 16U);
    const auto back = pairIn(json, 17);
    ASSERT_TRUE(back && back->other);
    EXPECT_EQ(back->other->start, 11U) << "behind it comes before in front of it";
    EXPECT_FALSE(pairIn(json, 4));
    const auto lone = pairIn(readingOf("[1, {"), 5);
    ASSERT_TRUE(lone);
    EXPECT_FALSE(lone->other);
}

TEST(ReadingShapeTest, EveryLanguageFoldsByItsOwnRules) {
    EXPECT_EQ(depths(readingOf("{\n\"a\": [{\n}],\n\"b\": 1}\n")), "0+1+210");
    EXPECT_EQ(depths(readingOf("SELECT (\n1)\n;")), "0+10");
    EXPECT_EQ(depths(readingOf("# Crates\n```sql\nSELECT 1,\n 2\n```\n", TextKind::Markdown)), "0+1+2+320");
}

TEST(ReadingShapeTest, OfMarkdownOnlyBlocksOfSqlAreStatements) {
    const std::string text = "DROP it, or not.\n```sql\nSELECT 1\n```\nSELECT nothing\n```sql\nSELECT 2\n```\n";
    const TextReading reading = readingOf(text, TextKind::Markdown);
    ASSERT_EQ(reading.script().statements().size(), 2U);
    EXPECT_EQ(reading.script().textOf(0), "SELECT 1");
    EXPECT_EQ(reading.script().statements()[1].span.start, text.find("SELECT 2"));
    EXPECT_TRUE(reading.findings().empty()) << "no semicolon is missing between blocks";
    EXPECT_TRUE(reading.isSqlAt(text.find("SELECT 1") + 3));
    EXPECT_FALSE(reading.isSqlAt(4));
    EXPECT_FALSE(reading.json());
    EXPECT_TRUE(readingOf("SELECT 1").isSqlAt(3));
    EXPECT_FALSE(readingOf("[1]").isSqlAt(1));
    EXPECT_FALSE(readingOf("[a]: b", TextKind::Markdown).json()) << "a link is no list";
}

}  // namespace
}  // namespace pantry::work
