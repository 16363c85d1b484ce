#include "core/base/line_edits.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <algorithm>

namespace pantry::base {
namespace {

TEST(LineEditsTest, JoinedLinesKeepTheirFirstIndentAndOneBlankBetween) {
    EXPECT_EQ(joinedLines("    SELECT a,  \n        b\n\n    FROM t\n"), "    SELECT a, b FROM t\n");
    EXPECT_EQ(joinedLines("a\r\nb"), "a b");
    EXPECT_EQ(joinedLines("alone"), "alone");
    EXPECT_EQ(joinedLines(""), "");
}

TEST(LineEditsTest, SortingGoesByLettersAndByTheValueOfNumbers) {
    EXPECT_EQ(sortedLines("plot10\nPlot9\nplot 1\n"), "plot 1\nPlot9\nplot10\n");
    EXPECT_EQ(sortedLines("b\na\nB"), "a\nb\nB") << "what is the same stays in its order";
}

TEST(LineEditsTest, SortingAListKeepsItsCommasBetween) {
    EXPECT_EQ(sortedLines("    variety,\n    name,\n    soil"), "    name,\n    soil,\n    variety");
    EXPECT_EQ(sortedLines("c,\nb,\na,"), "a,\nb,\nc,");
    EXPECT_EQ(sortedLines("b\r\na"), "a\r\nb") << "line ends stay what they are";
}

RC_GTEST_PROP(LineEditsTest, SortingTwiceIsSortingOnceAndLosesNoLine, ()) {
    const auto lines = *rc::gen::container<std::vector<std::string>>(
        rc::gen::container<std::string>(rc::gen::elementOf(std::string("abAB019 _"))));
    std::string text;
    for (const std::string& line : lines) text += line + "\n";
    const std::string once = sortedLines(text);
    RC_ASSERT(sortedLines(once) == once);
    RC_ASSERT(std::ranges::count(once, '\n') == std::ranges::count(text, '\n'));
    std::string before = text;
    std::string after = once;
    std::ranges::sort(before);
    std::ranges::sort(after);
    RC_ASSERT(before == after);
}

}  // namespace
}  // namespace pantry::base
