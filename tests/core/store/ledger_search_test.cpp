#include "core/store/ledger_search.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace pantry::store {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

/// The conditions in words, and what was not understood behind an exclamation mark.
std::vector<std::string> read(std::string_view text) {
    const LedgerSearch search = parseLedgerSearch(text, base::now());
    std::vector<std::string> said;
    for (const LedgerTerm& one : search.terms) said.push_back(explained(one));
    for (const LedgerSearchProblem& one : search.problems) said.push_back("! " + one.message);
    return said;
}

TEST(LedgerSearchTest, WordsAndConditionsAreSaidInWords) {
    EXPECT_THAT(read("inspection since:2026-11-12 -changes"),
                ElementsAre("contains “inspection”", "since 2026-11-12", "changes nothing"));
    EXPECT_THAT(read("FAILED slow -starred"), ElementsAre("failed", "took a second or more", "is not starred"));
    EXPECT_THAT(read("rows>1000 rows<5 -rows=0"),
                ElementsAre("more than 1\u2009000 rows", "fewer than 5 rows", "other than 0 rows"));
    EXPECT_THAT(read("took>2s took<500ms took>1.5min"),
                ElementsAre("took more than 2.0 s", "took less than 500 ms", "took more than 1 min 30 s"));
    EXPECT_THAT(
        read("table:plot by:inspector on:\"Orchard records\" -sheet:Jars"),
        ElementsAre("names the table plot", "run by inspector", "on Orchard records", "not from the sheet Jars"));
    EXPECT_THAT(read("\"group by\" -\"order by\""), ElementsAre("contains “group by”", "without “order by”"));
    EXPECT_THAT(read("  "), IsEmpty());
}

TEST(LedgerSearchTest, WhatIsWrongIsToldWithWhatCanBeWritten) {
    EXPECT_THAT(read("since:2026-13-01"),
                ElementsAre("! “2026-13-01” is no day. Write since:2026-11-01, since:today or since:yesterday."));
    EXPECT_THAT(read("rows>many"), ElementsAre("! “many” is no number of rows. Write rows>1000, rows<10 or rows=0."));
    EXPECT_THAT(read("took>5x"), ElementsAre("! “5x” is no time. Write took>2s, took>500ms or took>5min."));
    EXPECT_THAT(read("table:"), ElementsAre("! A name is missing behind table:."));
    const LedgerSearch search = parseLedgerSearch("plot rows>x", base::now());
    ASSERT_EQ(search.problems.size(), 1U);
    EXPECT_EQ(search.problems[0].start, 5U);
    EXPECT_EQ(search.problems[0].length, 6U);
    EXPECT_EQ(search.terms.size(), 1U) << "the rest is looked for";
}

TEST(LedgerSearchTest, WhatOnlyLooksLikeAConditionIsAWord) {
    EXPECT_THAT(read("select:x a>b - \"open"),
                ElementsAre("contains “select:x”", "contains “a>b”", "contains “-”", "contains “open”"));
    EXPECT_THAT(read("p.name"), ElementsAre("contains “p.name”"));
}

TEST(LedgerSearchTest, EveryWordOfTheListIsUnderstood) {
    for (const LedgerSearchWord& one : ledgerSearchWords()) {
        const LedgerSearch search = parseLedgerSearch(one.word, base::now());
        EXPECT_TRUE(search.problems.empty()) << one.word;
        ASSERT_FALSE(search.terms.empty()) << one.word;
        const bool isPhrase = one.word.starts_with('"');
        EXPECT_EQ(search.terms[0].kind == LedgerTerm::Kind::Word, isPhrase) << one.word;
    }
}

RC_GTEST_PROP(LedgerSearchProperties, AnyTextIsReadAndEveryConditionKnowsItsPlace, (const std::string& text)) {
    const LedgerSearch search = parseLedgerSearch(text, base::now());
    for (const LedgerTerm& one : search.terms) {
        RC_ASSERT(one.start + one.length <= text.size());
        RC_ASSERT(!explained(one).empty());
    }
    for (const LedgerSearchProblem& one : search.problems) RC_ASSERT(one.start + one.length <= text.size());
}

}  // namespace
}  // namespace pantry::store
