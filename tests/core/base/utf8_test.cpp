#include "core/base/utf8.h"

namespace pantry::base {
namespace {

TEST(Utf8Test, DecodesEveryLength) {
    EXPECT_EQ(decodeAt("a", 0).value, U'a');
    EXPECT_EQ(decodeAt("é", 0).value, U'é');
    EXPECT_EQ(decodeAt("→", 0).value, U'→');
    EXPECT_EQ(decodeAt("🍎", 0).value, U'🍎');
}

TEST(Utf8Test, TakesBytesThatAreNoUtf8OneByOne) {
    for (const std::string_view bad : {"\xC0\xAF", "\xED\xA0\x80", "\xF4\x90\x80\x80", "\x80", "\xE2\x82"}) {
        EXPECT_FALSE(decodeAt(bad, 0).valid) << testing::PrintToString(bad);
        EXPECT_EQ(decodeAt(bad, 0).length, 1);
    }
    EXPECT_EQ(toValidUtf8("a\xFFz"), "a\uFFFDz");
}

TEST(Utf8Test, NeverCutsACodePoint) {
    EXPECT_EQ(prefixOf("a→b", 3), "a");
    EXPECT_EQ(prefixOf("a→b", 4), "a→");
}

TEST(Utf8Test, CountsLinesAndColumnsAsPeopleDo) {
    EXPECT_EQ(linePositionAt("ab\r\ncé→x", 10), (LinePosition{2, 4}));
    EXPECT_EQ(linePositionAt("a\n\nb", 3), (LinePosition{3, 1}));
    EXPECT_EQ(linePositionAt("abc", 99), (LinePosition{1, 4}));
}

TEST(Utf8Test, KnowsHowWideATextIs) {
    EXPECT_EQ(displayWidth("abc"), 3U);
    EXPECT_EQ(displayWidth("梅"), 2U);
    EXPECT_EQ(displayWidth("e\u0301"), 1U);
}

}  // namespace
}  // namespace pantry::base
