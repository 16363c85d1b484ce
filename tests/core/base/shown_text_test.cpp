#include "core/base/shown_text.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "core/base/utf8.h"

namespace pantry::base {
namespace {

std::string lines(std::size_t bytes) {
    std::string text;
    for (int i = 0; text.size() < bytes; ++i) text += "SELECT 'Früh', " + std::to_string(i) + ";\n";
    return text;
}

TEST(ShownTextTest, ATextOfUsualSizeIsHeldAsItIs) {
    ShownText shown;
    shown.setText("SELECT 1;\n");
    EXPECT_EQ(shown.showAround(3), "SELECT 1;\n");
    EXPECT_FALSE(shown.isPart());
    EXPECT_EQ(shown.textAt(4), 4U);
}

TEST(ShownTextTest, APartBeginsAndEndsAtLinesAndKnowsWhereItIs) {
    const std::string text = lines(3 * ShownText::kWhole);
    ShownText shown;
    shown.setText(text);
    for (const std::size_t at : {std::size_t(0), text.size() / 2, text.size()}) {
        const std::string held = shown.showAround(at);
        ASSERT_TRUE(shown.isPart());
        EXPECT_EQ(held, text.substr(shown.partStart(), held.size()));
        EXPECT_TRUE(held.starts_with("SELECT") && held.ends_with(";\n"));
        EXPECT_GE(at, shown.partStart());
        EXPECT_LE(at, shown.partStart() + held.size());
        EXPECT_EQ(shown.linesBefore(), SharedText(text).linesBefore(shown.partStart()));
        EXPECT_EQ(shown.textAt(shown.shownAt(at, held.size())), at);
    }
    EXPECT_EQ(shown.shownAt(0, 100), 0U) << "what is not held stands at its edge";
}

TEST(ShownTextTest, APartOfOneLineBeginsAtACharacter) {
    std::string text;
    while (text.size() < 2 * ShownText::kWhole) text += "ü";
    ShownText shown;
    shown.setText(text);
    EXPECT_TRUE(isValidUtf8(shown.showAround(text.size() / 2 + 1)));
    EXPECT_FALSE(shown.breaks().empty());
    EXPECT_EQ(shown.linesBefore(), 0U);
}

TEST(ShownTextTest, ATextWithTheSignOfBreaksIsHeldAsItIs) {
    const std::string text = std::string(9'000, 'x') + std::string(SoftBreaks::kBreak) + "y";
    ShownText shown;
    shown.setText(text);
    EXPECT_EQ(shown.showAround(0), text);
    shown.noteInserted(0, SoftBreaks::kBreak, 'x');
    EXPECT_EQ(shown.text(), std::string(SoftBreaks::kBreak) + text);
}

/// Whatever is typed into whatever part, the text is the one that the same edits make of a plain string.
RC_GTEST_PROP(ShownTextTest, EditsOfAPartAreEditsOfTheText, ()) {
    std::string text = lines(ShownText::kWhole + 1) + std::string(20'000, 'x') + "\n" + lines(1'000);
    ShownText shown;
    shown.setText(text);
    std::string held = shown.showAround(0);
    const auto edits = *rc::gen::arbitrary<std::vector<std::pair<unsigned, unsigned>>>();
    for (const auto& [where, what] : edits) {
        if (what % 5 == 0) held = shown.showAround(where % (text.size() + 1));
        std::size_t at = where % (held.size() + 1);
        while (at < held.size() && (static_cast<unsigned char>(held[at]) & 0xC0U) == 0x80U) --at;
        const std::string added = shown.rowsOf(what % 7 == 0 ? std::string(5'000, 'z') : "y");
        const std::size_t offset = shown.textAt(at);
        text.insert(offset, SoftBreaks::unbroken(added));
        held.insert(at, added);
        RC_ASSERT(shown.noteInserted(at, added, at + added.size() < held.size() ? held[at + added.size()] : '\0') ==
                  offset);
        if (what % 3 == 0) {
            text.erase(offset, SoftBreaks::unbroken(added).size());
            held.erase(at, added.size());
            shown.noteDeleted(at, added.size());
        }
        const bool isSame = shown.text() == text;  // a text of this length is no use in a message
        RC_ASSERT(isSame);
    }
}

}  // namespace
}  // namespace pantry::base
