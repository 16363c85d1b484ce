#include "core/base/text_edits.h"

#include <rapidcheck/gtest.h>

#include <string>

namespace pantry::base {
namespace {

/// A text that is edited as an editor would, with what is known of it.
struct EditedRow {
    SharedText text;
    TextEdits edits;
    void replace(std::size_t at, std::size_t length, std::string_view with) {
        text.replace(at, length, with);
        edits.note(at, length, with.size(), text);
    }
};

TEST(TextEditsTest, APlaceBehindAnEditMovesWithIt) {
    EditedRow row{SharedText("apple pear plum"), {}};
    row.replace(6, 4, "quince");
    EXPECT_EQ(row.edits.now(0), 0U);
    EXPECT_EQ(row.edits.now(6), 6U);
    EXPECT_EQ(row.edits.now(8), 6U) << "what is gone is where it was";
    EXPECT_EQ(row.edits.now(11), 13U);
    EXPECT_EQ(row.edits.then(13), 11U);
    row.replace(0, 0, "one ");
    EXPECT_EQ(row.edits.now(11), 17U);
    EXPECT_EQ(row.edits.then(17), 11U);
}

TEST(TextEditsTest, SettlingOnALaterVersionForgetsWhatLedThere) {
    EditedRow row{SharedText("apple"), {}};
    row.replace(0, 0, "a ");
    const SharedText known = row.text;
    row.replace(0, 0, "bb ");
    EXPECT_FALSE(row.edits.settle(SharedText("a apple"))) << "equal, but not that version";
    EXPECT_TRUE(row.edits.settle(known));
    EXPECT_EQ(row.edits.now(0), 3U);
    EXPECT_EQ(row.edits.now(1), 4U) << "only the later edit counts";
    EXPECT_FALSE(row.edits.settle(known)) << "it is known already";
    EXPECT_TRUE(row.edits.settle(row.text));
    EXPECT_TRUE(row.edits.empty());
}

RC_GTEST_PROP(TextEditsProperty, ByteThatStaysIsFoundWhereItIsNowAndBack, ()) {
    // Each byte of the first version is unlike all others, so that it can be looked for.
    std::string plain;
    for (char c = 'A'; c <= 'Z'; ++c) plain += c;
    EditedRow row{SharedText(plain), {}};
    const auto count = *rc::gen::inRange(0, 6);
    for (int i = 0; i < count; ++i) {
        const auto at = *rc::gen::inRange<std::size_t>(0, row.text.size() + 1);
        const auto length = *rc::gen::inRange<std::size_t>(0, row.text.size() - at + 1);
        row.replace(at, length, std::string(*rc::gen::inRange<std::size_t>(0, 5), '.'));
    }
    const std::string now = row.text.str();
    for (std::size_t i = 0; i < plain.size(); ++i) {
        const std::size_t found = now.find(plain[i]);
        if (found == std::string::npos) continue;
        RC_ASSERT(row.edits.now(i) == found);
        RC_ASSERT(row.edits.then(found) == i);
    }
}

}  // namespace
}  // namespace pantry::base
