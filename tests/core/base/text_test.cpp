#include "core/base/text.h"

#include "core/base/hex.h"
#include "core/base/joined.h"
#include "core/base/time.h"

namespace pantry::base {
namespace {

using namespace std::chrono_literals;

TEST(TextTest, GroupsDigitsWithThinSpaces) {
    EXPECT_EQ(grouped(8412), "8\u2009412");
    EXPECT_EQ(grouped(-1000000), "-1\u2009000\u2009000");
    EXPECT_EQ(grouped(999), "999");
    EXPECT_EQ(counted(1, "row", "rows"), "1 row");
    EXPECT_EQ(counted(0, "row", "rows"), "0 rows");
}

TEST(TextTest, JoinsTextsWithSomethingBetween) {
    EXPECT_EQ(joined(std::vector<std::string>{}, ", "), "");
    EXPECT_EQ(joined(std::vector<std::string>{"plot"}, ", "), "plot");
    EXPECT_EQ(joined(std::set<std::string, std::less<>>{"tree", "", "plot"}, ", "), ", plot, tree");
    EXPECT_EQ(joined(std::array<std::string_view, 2>{"a", "b"}, ""), "ab");
}

TEST(TextTest, WritesBytesAsHexadecimalDigitsBehindAText) {
    std::string out = "x'";
    appendHexDigits(out, std::string_view("\0\x7f\x80\xff{", 5));
    EXPECT_EQ(out, "x'007f80ff7b");
    appendHexDigits(out, "");
    EXPECT_EQ(out, "x'007f80ff7b");
}

TEST(TextTest, TellsWhatTwoTextsHaveInCommonAtTheirEnds) {
    // Lengths around the pieces that are compared at once.
    for (const std::size_t length : {0, 1, 63, 64, 65, 127, 128, 300}) {
        const std::string same(length, 'q');
        EXPECT_EQ(commonStart(same, same), length);
        EXPECT_EQ(commonEnd(same, same), length);
        EXPECT_EQ(commonStart(same + "a", same + "bc"), length);
        EXPECT_EQ(commonEnd("a" + same, "bc" + same), length);
        EXPECT_EQ(commonStart(same, same + "more"), length);
        EXPECT_EQ(commonEnd(same, "more" + same), length);
        for (std::size_t at = 0; at < length; at += 7) {
            std::string other = same;
            other[at] = 'x';
            EXPECT_EQ(commonStart(same, other), at);
            EXPECT_EQ(commonEnd(same, other), length - at - 1);
        }
    }
}

TEST(TextTest, SaysDurationsAsPeopleDo) {
    EXPECT_EQ(readable(18ms), "18 ms");
    EXPECT_EQ(readable(1400ms), "1.4 s");
    EXPECT_EQ(readable(125s), "2 min 5 s");
    EXPECT_EQ(readable(3h + 20min), "3 h 20 min");
    EXPECT_EQ(readable(400us), "0.4 ms");
}

TEST(TextTest, SaysSizesAsPeopleDo) {
    EXPECT_EQ(readableBytes(1), "1 byte");
    EXPECT_EQ(readableBytes(1100000), "1.1 MB");
    EXPECT_EQ(readableBytes(212000000), "212 MB");
}

TEST(TextTest, FitsAStatementOnALine) {
    EXPECT_EQ(oneLine("  SELECT *\n  FROM plot ", 80), "SELECT * FROM plot");
    EXPECT_EQ(oneLine("abcdefghij", 5), "abcde…");
}

TEST(TextTest, FindsIgnoringCase) {
    EXPECT_EQ(findIgnoringCase("a pLOt here", "Plot"), 2U);
    EXPECT_EQ(findIgnoringCase("pPlot", "plot"), 1U);
    EXPECT_EQ(findIgnoringCase("plo", "plot"), std::string_view::npos);
    EXPECT_EQ(findIgnoringCase("x5", "5"), 1U);
    EXPECT_EQ(findIgnoringCase("x", ""), 0U);
    EXPECT_EQ(findIgnoringCase("", "x"), std::string_view::npos);
}

TEST(TextTest, SpeaksOfRecentMoments) {
    const Moment moment = now();
    EXPECT_EQ(spokenDay(moment, moment), "Today");
    EXPECT_EQ(spokenDay(moment - 24h, moment), "Yesterday");
    EXPECT_EQ(spoken(moment - 24h * 40, moment).substr(0, 10), localDate(moment - 24h * 40));
}

}  // namespace
}  // namespace pantry::base
