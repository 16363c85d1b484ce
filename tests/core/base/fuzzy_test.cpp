#include "core/base/fuzzy.h"

namespace pantry::base {
namespace {

int scoreOf(std::string_view pattern, std::string_view text) { return fuzzyMatch(pattern, text).value().score; }

TEST(FuzzyMatchTest, FindsLettersInOrder) {
    EXPECT_TRUE(fuzzyMatch("scb", "scab_score"));
    EXPECT_FALSE(fuzzyMatch("bcs", "scab"));
    EXPECT_TRUE(fuzzyMatch("", "anything"));
}

TEST(FuzzyMatchTest, PrefersBeginningsWordsAndRuns) {
    EXPECT_GT(scoreOf("plot", "plot"), scoreOf("plot", "plot_health"));
    EXPECT_GT(scoreOf("plot", "plot_health"), scoreOf("plot", "exploiting"));
    EXPECT_GT(scoreOf("ss", "scab_score"), scoreOf("ss", "assess"));
}

TEST(FuzzyMatchTest, TellsWhichLettersItTook) {
    EXPECT_EQ(fuzzyMatch("ps", "plot_scab")->places, (std::vector<std::size_t>{0, 5}));
}

TEST(EditDistanceTest, CountsEditsUpToALimit) {
    EXPECT_EQ(editDistance("plots", "plot", 3), 1U);
    EXPECT_EQ(editDistance("plto", "PLOT", 3), 1U);
    EXPECT_EQ(editDistance("warden", "kettle", 2), 3U);
}

TEST(FuzzyTest, TheScoreAloneIsTheSame) {
    for (const std::string_view pattern : {"", "p", "plt", "tn", "inspection_id", "xq", "Plot_Id"}) {
        for (const std::string_view text : {"plot", "plot_id", "treatment", "inspection_id", "PlotTree", "p"}) {
            const auto match = fuzzyMatch(pattern, text);
            const auto score = fuzzyScore(pattern, text);
            ASSERT_EQ(match.has_value(), score.has_value()) << pattern << " in " << text;
            EXPECT_EQ(match ? match->score : 0, score.value_or(0)) << pattern << " in " << text;
        }
    }
}

TEST(FuzzyTest, WordsAreFoundAsPeopleAbbreviateThem) {
    EXPECT_TRUE(wordScore("exp", "Export…"));
    EXPECT_TRUE(wordScore("cwa", "Compare with another result…"));
    EXPECT_TRUE(wordScore("result compare", "Compare with another result…"));
    EXPECT_TRUE(wordScore("alert", "frost_alert"));
    EXPECT_TRUE(wordScore("", "anything"));
    EXPECT_FALSE(wordScore("plot", "Reopen the sheet closed last"));
    EXPECT_FALSE(wordScore("sort", "Close the first"));
    EXPECT_FALSE(wordScore("export xyz", "Export…"));
}

}  // namespace
}  // namespace pantry::base
