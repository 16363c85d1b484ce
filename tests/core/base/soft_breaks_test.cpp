#include "core/base/soft_breaks.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <algorithm>

#include "core/base/utf8.h"

namespace pantry::base {
namespace {

std::string longLine(std::size_t bytes) {
    std::string line;
    for (int i = 0; line.size() < bytes; ++i) line += fmt::format("({}, 'Früh'), ", i);
    return line;
}

std::size_t longestRow(std::string_view shown) {
    std::size_t longest = 0;
    for (std::size_t start = 0; start <= shown.size();) {
        const std::size_t end = std::min(shown.find('\n', start), shown.size());
        longest = std::max(longest, end - start);
        start = end + 1;
    }
    return longest;
}

TEST(SoftBreaksTest, ALongLineIsShownInShortRowsOfWholeCharacters) {
    for (const std::string& text :
         {longLine(20'000), "short\n" + std::string(9'000, 'x') + "\nshort", longLine(5'000) + "\n\n", [] {
              std::string wide;
              while (wide.size() < 9'000) wide += "\u00fc";
              return wide;
          }()}) {
        ASSERT_TRUE(SoftBreaks::areNeeded(text));
        const std::string shown = SoftBreaks::broken(text);
        EXPECT_LE(longestRow(shown), SoftBreaks::kLongestRow);
        EXPECT_TRUE(isValidUtf8(shown));
        EXPECT_EQ(SoftBreaks::unbroken(shown), text);
    }
}

TEST(SoftBreaksTest, LinesOfUsualLengthStayAsTheyAre) {
    const std::string text = "SELECT 1;\n" + std::string(SoftBreaks::kLongestRow, 'x') + "\n";
    EXPECT_FALSE(SoftBreaks::areNeeded(text));
    EXPECT_EQ(SoftBreaks::broken(text), text);
}

TEST(SoftBreaksTest, ATextThatHasTheSignItselfIsNotBroken) {
    EXPECT_FALSE(SoftBreaks::areNeeded(std::string(9'000, 'x') + std::string(SoftBreaks::kSign)));
}

/// A shown text that is edited like a component does, and the text that it means.
struct Edited {
    std::string shown;
    SoftBreaks breaks;

    void insert(std::size_t at, const std::string& text) {
        shown.insert(at, text);
        breaks.noteInserted(at, text, at + text.size() < shown.size() ? shown[at + text.size()] : '\0');
    }
    void erase(std::size_t at, std::size_t length) {
        length = std::min(length, shown.size() - at);
        shown.erase(at, length);
        breaks.noteDeleted(at, length);
    }
    [[nodiscard]] std::string text() const { return breaks.textOf(0, shown); }
};

TEST(SoftBreaksTest, HalfABreakDeletedChangesNothingInTheText) {
    const std::string text = longLine(6'000);
    Edited edited;
    edited.insert(0, SoftBreaks::broken(text));
    const std::size_t at = edited.shown.find(SoftBreaks::kBreak);
    edited.erase(at, SoftBreaks::kSign.size());
    EXPECT_EQ(edited.text(), text);
    edited.insert(at, std::string(SoftBreaks::kSign));  // taken back
    EXPECT_EQ(edited.text(), text);
    edited.erase(at + SoftBreaks::kSign.size(), 1);
    EXPECT_EQ(edited.text(), text);
    edited.insert(at + SoftBreaks::kSign.size(), "\n");
    EXPECT_EQ(edited.text(), text);
    edited.insert(at + SoftBreaks::kSign.size(), "between");
    EXPECT_EQ(edited.text().size(), text.size() + 7);
}

TEST(SoftBreaksTest, TellsWhichRowsGoOnAndWhereABreakIs) {
    Edited edited;
    edited.insert(0, "one\n" + SoftBreaks::broken(longLine(6'000)) + "\nlast");
    const std::size_t at = edited.shown.find(SoftBreaks::kBreak);
    EXPECT_FALSE(edited.breaks.isContinued(4));
    EXPECT_TRUE(edited.breaks.isContinued(at + SoftBreaks::kBreak.size()));
    EXPECT_EQ(edited.breaks.rowsBefore(at), 0U);
    EXPECT_EQ(edited.breaks.rowsBefore(at + SoftBreaks::kBreak.size()), 1U);
    for (const std::size_t within : {at, at + SoftBreaks::kSign.size(), at + SoftBreaks::kBreak.size()}) {
        EXPECT_EQ(edited.breaks.around(within).start, at);
        EXPECT_EQ(edited.breaks.around(within).end, at + SoftBreaks::kBreak.size());
        EXPECT_EQ(edited.breaks.toText(within), at);
    }
    EXPECT_EQ(edited.breaks.toShown(at), at + SoftBreaks::kBreak.size());
    EXPECT_EQ(edited.breaks.around(1).start, edited.breaks.around(1).end);
}

TEST(SoftBreaksTest, WhatBelongsToBytesOfTheTextStandsAtTheSameBytesOfTheRows) {
    const std::string text = longLine(6'000);
    Edited edited;
    edited.insert(0, SoftBreaks::broken(text));
    const std::string spread = edited.breaks.spread(0, edited.shown.size(), text, '#');
    ASSERT_EQ(spread.size(), edited.shown.size());
    EXPECT_EQ(edited.breaks.textOf(0, spread), text);
    EXPECT_EQ(std::ranges::count(spread, '#'), std::ptrdiff_t(edited.shown.size() - text.size()));
    const std::size_t middle = edited.shown.find(SoftBreaks::kBreak) - 3;
    EXPECT_EQ(edited.breaks.spread(middle, 9, text.substr(middle, 5), '#'),
              text.substr(middle, 3) + "####" + text.substr(middle + 3, 2));
}

/// Whatever is typed and deleted, the text is the one that the same edits make of the unbroken text, and places lead
/// there and back.
RC_GTEST_PROP(SoftBreaksTest, EditsOfRowsAreEditsOfTheText, ()) {
    std::string text = longLine(9'000) + "\nSELECT 1;\n" + longLine(5'000);
    Edited edited;
    edited.insert(0, SoftBreaks::broken(text));
    const auto wholeCharacter = [&](std::size_t at) {
        while (at < edited.shown.size() && (static_cast<unsigned char>(edited.shown[at]) & 0xC0U) == 0x80U) --at;
        return at;
    };
    const auto edits = *rc::gen::arbitrary<std::vector<std::pair<unsigned, unsigned>>>();
    for (const auto& [where, what] : edits) {
        const std::size_t at = wholeCharacter(where % (edited.shown.size() + 1));
        const std::size_t offset = edited.breaks.toText(at);
        if (what % 3 == 0) {
            const std::size_t end = wholeCharacter(std::min(edited.shown.size(), at + what % 3'000));
            text.erase(offset, edited.breaks.toText(end) - offset);
            edited.erase(at, end - at);
        } else {
            const std::string added(1 + what % 2, 'y');
            text.insert(offset, added);
            edited.insert(at, added);
        }
        const bool isSame = edited.text() == text;  // a text of this length is no use in a message
        RC_ASSERT(isSame);
        RC_ASSERT(edited.breaks.toText(edited.breaks.toShown(offset)) == offset);
    }
}

}  // namespace
}  // namespace pantry::base
