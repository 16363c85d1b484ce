#include "core/base/text_history.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace pantry::base {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

void carryOut(std::string& text, const TextStep& changes) {
    for (const TextChange& one : changes) text.replace(one.at, one.removed.size(), one.inserted);
}

TEST(TextHistoryTest, LettersThatFollowEachOtherAreOneChange) {
    TextHistory history;
    history.note({3, "", "a"}, true);
    history.note({4, "", "b"}, false);
    EXPECT_THAT(history.undo(), ElementsAre(TextChange{3, "ab", ""}));
    history.note({5, "y", ""}, true);
    history.note({4, "x", ""}, false);
    history.note({4, "z", ""}, false);
    EXPECT_THAT(history.undo(), ElementsAre(TextChange{4, "", "xyz"})) << "backspace and delete alike";
    EXPECT_THAT(history.redo(), ElementsAre(TextChange{4, "xyz", ""}));
}

TEST(TextHistoryTest, ANewChangeEndsWhatCouldBeDoneAgainButOneOfNothingDoesNot) {
    TextHistory history;
    history.note({0, "", "a"}, true);
    (void)history.undo();
    history.note({0, "", ""}, true);
    EXPECT_TRUE(history.canRedo()) << "a row was broken, the text is the same";
    EXPECT_THAT(history.redo(), ElementsAre(TextChange{0, "", "a"}));
    (void)history.undo();
    history.note({0, "", "b"}, true);
    EXPECT_FALSE(history.canRedo());
}

TEST(TextHistoryTest, StepsThatChangedNothingArePassedOver) {
    TextHistory history;
    history.note({0, "", "a"}, true);
    history.note({1, "", ""}, true);
    EXPECT_THAT(history.undo(), ElementsAre(TextChange{0, "a", ""}));
    EXPECT_FALSE(history.canUndo());
    EXPECT_THAT(history.undo(), IsEmpty());
}

TEST(TextHistoryTest, WhatTheComponentTookBackItselfIsFollowed) {
    TextHistory history;
    history.note({0, "", "a"}, true);
    history.note({1, "", "b"}, true);
    history.noteUndone();
    history.noteUndone();
    history.noteRedone();
    EXPECT_THAT(history.undo(), ElementsAre(TextChange{0, "a", ""}));
    history.noteUndone();
    EXPECT_FALSE(history.canUndo()) << "nothing is there to follow";
}

TEST(TextHistoryTest, TheOldestStepsGoWhenThereIsTooMuch) {
    TextHistory history;
    const std::string much(TextHistory::kMaxBytes / 4, 'x');
    for (char c = 'a'; c < 'g'; ++c) history.note({0, std::string(1, c), much}, true);
    int left = 0;
    std::string last;
    while (history.canUndo()) {
        last = history.undo().front().inserted;
        ++left;
    }
    EXPECT_EQ(left, 3);
    EXPECT_EQ(last, "d");
}

TEST(TextHistoryTest, TheNewestStepsAreKeptAndGoOn) {
    TextHistory history;
    for (int i = 0; i < 10; ++i) history.note({0, "", std::string(10, 'x')}, true);
    (void)history.undo();
    const TextSteps kept = history.newest(45, 100);
    EXPECT_EQ(kept.done.size(), 4U);
    EXPECT_EQ(kept.undone.size(), 0U) << "no room is left for it";
    EXPECT_EQ(history.newest(1000, 3).done.size(), 3U);
    TextHistory again;
    again.restore(history.newest(1000, 100));
    EXPECT_EQ(again.undo(), history.undo());
    EXPECT_EQ(again.redo(), history.redo());
}

RC_GTEST_PROP(TextHistoryProperties, TakingBackAllAndDoingItAgainGivesBothTexts,
              (std::vector<std::pair<int, std::string>> edits)) {
    std::string text = "SELECT name FROM plot";
    const std::string before = text;
    TextHistory history;
    for (const auto& [where, with] : edits) {
        const std::size_t at = static_cast<std::size_t>(where < 0 ? -(where + 1) : where) % (text.size() + 1);
        const std::size_t length = std::min<std::size_t>(with.size() % 4, text.size() - at);
        const TextChange change{at, text.substr(at, length), with};
        carryOut(text, {change});
        history.note(change, where % 3 != 0);
    }
    const std::string after = text;
    while (history.canUndo()) carryOut(text, history.undo());
    RC_ASSERT(text == before);
    while (history.canRedo()) carryOut(text, history.redo());
    RC_ASSERT(text == after);
}

}  // namespace
}  // namespace pantry::base
