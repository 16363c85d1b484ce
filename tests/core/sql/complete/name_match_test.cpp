#include "core/sql/complete/name_match.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

int matchOf(std::string_view typed, std::string_view name) { return nameMatch(typed, name).value_or(-1); }

TEST(NameMatchTest, StepsDownFromTheNameItselfToStrewnLetters) {
    const std::string_view typed = "na";
    EXPECT_GT(matchOf(typed, "na"), matchOf(typed, "name"));
    EXPECT_GT(matchOf(typed, "name"), matchOf(typed, "plot_name"));
    EXPECT_GT(matchOf(typed, "plot_name"), matchOf(typed, "new_area"));
    EXPECT_GT(matchOf(typed, "new_area"), matchOf(typed, "banana"));
    EXPECT_GT(matchOf(typed, "banana"), matchOf(typed, "nectar"));
    EXPECT_EQ(matchOf(typed, "plum"), -1);
}

TEST(NameMatchTest, ALongNameIsNoWorseThanAShortOne) {
    EXPECT_EQ(matchOf("pl", "plot"), matchOf("pl", "planting_permission_requested_on"));
    EXPECT_EQ(matchOf("", "plot"), matchOf("", "planting_permission_requested_on"));
}

TEST(NameMatchTest, WordsBeginAfterALineAndAtACapital) {
    EXPECT_EQ(matchOf("name", "full_name"), matchOf("name", "FullName"));
    EXPECT_EQ(matchOf("fn", "full_name"), matchOf("fn", "FullName"));
    EXPECT_GT(matchOf("funa", "full_name"), matchOf("funa", "frost_unplanned"));
    EXPECT_EQ(matchOf("NAME", "name"), matchOf("name", "name"));
}

TEST(NameMatchTest, OneLetterIsNoPartOfAName) {
    EXPECT_EQ(matchOf("a", "plant"), -1);
    EXPECT_GT(matchOf("a", "plant_area"), 0);
}

TEST(NameMatchTest, AVeryLongNameIsMatchedInNoTime) {
    const std::string name(5000, 'a');
    EXPECT_GT(matchOf(std::string(400, 'a'), name + "_b"), 0);
    EXPECT_EQ(matchOf("aaaaaaaaaaab", name), -1);
}

TEST(AliasFitTest, ShortNamesFitTheRelationsThatTheyStandFor) {
    EXPECT_GT(aliasFit("p", "plot"), 0);
    EXPECT_GT(aliasFit("ri", "recipe_ingredient"), aliasFit("re", "recipe_ingredient"));
    EXPECT_GT(aliasFit("sl", "SeedLot"), aliasFit("s", "SeedLot"));
    EXPECT_GT(aliasFit("sl", "SeedLot"), 0);
    EXPECT_GT(aliasFit("lines", "order_lines"), 0);
    EXPECT_GT(aliasFit("plot", "plot"), aliasFit("p", "plot"));
    EXPECT_GT(aliasFit("ctg", "category"), 0);
    EXPECT_EQ(aliasFit("x", "plot"), 0);
    EXPECT_EQ(aliasFit("", "plot"), 0);
    EXPECT_EQ(aliasFit("t", "plot"), 0) << "in the middle of a word nothing begins";
}

TEST(LastWordTest, IsWhatANameIsAbout) {
    EXPECT_EQ(lastWordOf("wrd_full_name"), "name");
    EXPECT_EQ(lastWordOf("FirstName"), "Name");
    EXPECT_EQ(lastWordOf("name"), "name");
    EXPECT_EQ(lastWordOf("name_"), "name_");
    EXPECT_EQ(lastWordOf(""), "");
}

}  // namespace
}  // namespace pantry::sql
