#include "core/base/shared_text.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <utility>

namespace pantry::base {
namespace {

TEST(SharedTextTest, ACopyStaysAsItWasWhileTheOtherIsEdited) {
    SharedText text = "SELECT 1;";
    const SharedText before = text;
    text.replace(7, 1, "2");
    EXPECT_EQ(text, "SELECT 2;");
    EXPECT_EQ(before, "SELECT 1;");
}

TEST(SharedTextTest, EditsBeyondTheEndMeanTheEnd) {
    SharedText text = "ab";
    text.replace(9, 9, "c");
    EXPECT_EQ(text, "abc");
    text.replace(1, 99, "");
    EXPECT_EQ(text, "a");
    text.replace(0, 1, "");
    EXPECT_TRUE(text.empty());
    EXPECT_EQ(text.part(3, 4), "");
}

TEST(SharedTextTest, CountsLinesUpToAPlaceInAnyPiece) {
    std::string plain;
    while (plain.size() < 200'000) plain += "tree\n";
    const SharedText text = plain;
    for (const std::size_t at :
         {std::size_t(0), std::size_t(4), std::size_t(5), std::size_t(70'000), plain.size(), plain.size() + 9}) {
        EXPECT_EQ(text.linesBefore(at), std::min(at, plain.size()) / 5) << at;
    }
}

TEST(SharedTextTest, CountsNothingButLineEnds) {
    std::string plain;
    for (int round = 0; round < 3; ++round) {
        for (int byte = 0; byte < 256; ++byte) plain += static_cast<char>(byte);
        plain += "\n\n\x8a\x0b\x09";  // other places among the eight bytes that are counted at once
    }
    const SharedText text = plain;
    for (std::size_t at = 0; at <= plain.size(); ++at) {
        const auto lines = std::count(plain.begin(), plain.begin() + static_cast<std::ptrdiff_t>(at), '\n');
        ASSERT_EQ(text.linesBefore(at), static_cast<std::size_t>(lines)) << at;
    }
}

/// Any row of edits, in a text of several pieces, has the outcome that a plain string has.
RC_GTEST_PROP(SharedTextTest, EditsAsAStringDoes, ()) {
    std::string plain;
    for (int i = 0; plain.size() < 300'000; ++i) plain += "tree " + std::to_string(i) + "\n";
    SharedText text = plain;
    const auto edits = *rc::gen::container<std::vector<std::pair<std::pair<unsigned, unsigned>, unsigned>>>(
        rc::gen::arbitrary<std::pair<std::pair<unsigned, unsigned>, unsigned>>());
    for (const auto& [where, added] : edits) {
        const std::size_t start = where.first % (plain.size() + 1);
        // Mostly a few bytes, at times more than a piece.
        const std::size_t length = where.second % 7 == 0 ? where.second % 150'000 : where.second % 4;
        const std::string with(added % 5 == 0 ? added % 140'000 : added % 3, added % 2 == 0 ? 'x' : '\n');
        plain.replace(start, length, with);
        text.replace(start, length, with);
        RC_ASSERT(text.size() == plain.size());
        const std::size_t from = start > 10 ? start - 10 : 0;
        RC_ASSERT(text.part(from, 40) == plain.substr(from, 40));
    }
    const bool isSame = text == plain && text.str() == plain && text == SharedText(plain);
    RC_ASSERT(isSame);  // and not the texts: a message of their length is no use
    const std::size_t at = plain.size() / 3;
    const auto lines = std::count(plain.begin(), plain.begin() + static_cast<std::ptrdiff_t>(at), '\n');
    RC_ASSERT(text.linesBefore(at) == static_cast<std::size_t>(lines));
}

}  // namespace
}  // namespace pantry::base
