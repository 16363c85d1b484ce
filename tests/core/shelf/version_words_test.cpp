#include "core/shelf/version_words.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "core/shelf/secret_check.h"
#include "core/shelf/text_difference.h"

namespace pantry::shelf {
namespace {

constexpr const char* kBefore =
    "SELECT p.name AS plot, count(*) AS visits FROM plot p WHERE p.planted_on > '2020-01-01'";

struct Case {
    const char* before;
    const char* now;
    const char* words;
};

TEST(VersionWordsTest, SayWhatChanged) {
    for (const Case& one : {
             Case{"", kBefore, "First version"},
             {kBefore,
              "SELECT p.name AS plot, count(*) AS visits, max(x.d) AS last FROM plot p WHERE p.planted_on > "
              "'2020-01-01'",
              "last added"},
             {kBefore, "SELECT p.name AS plot FROM plot p WHERE p.planted_on > '2020-01-01'", "visits removed"},
             {kBefore,
              "SELECT p.name AS plot, count(*) AS visits FROM plot p WHERE p.planted_on > '2020-01-01' AND p.area > 2",
              "Condition on area added"},
             {kBefore, "SELECT p.name AS plot, count(*) AS visits FROM plot p", "Condition on planted_on removed"},
             {kBefore, "SELECT p.name AS plot, count(*) AS visits FROM plot p WHERE p.planted_on > :since",
              "Value of planted_on became a parameter"},
             {kBefore, "SELECT p.name AS plot, count(*) AS visits FROM plot p WHERE p.planted_on > '2021-01-01'",
              "Condition on planted_on changed"},
             {kBefore,
              "SELECT p.name AS plot, count(*) AS visits FROM plot p JOIN tree t USING (plot_id) WHERE p.planted_on > "
              "'2020-01-01'",
              "Reads tree"},
             {kBefore,
              "SELECT p.name AS plot, count(*) AS visits FROM plot p WHERE p.planted_on > '2020-01-01' GROUP BY 1 "
              "ORDER BY 2 LIMIT 5",
              "Grouping added; Order added; Limit added"},
             {kBefore,
              "SELECT p.name AS plot,\n       count(*) AS visits -- all\nFROM plot p\nWHERE p.planted_on > "
              "'2020-01-01'",
              "Layout and comments"},
             {kBefore, kBefore, "Saved again"},
             {"SELECT 1;", "SELECT 1;\nSELECT 2;\nSELECT 3;", "2 statements added"},
             {"-- title: A\n\nSELECT 1;\n", "-- title: B\n-- note: n\n\nSELECT 1;\n", "Title changed; Note added"},
             {"DROP TABLE a", "DROP TABLE a CASCADE", "Statement changed"},
         })
        EXPECT_EQ(describeChange(one.before, one.now), one.words) << one.now;
}

TEST(VersionWordsTest, AnyTextHasWords) {
    for (const char* text : {"SELECT", "((((", "'", "-- title: x\n", "\xff\xfe", "a b c"})
        EXPECT_NE(describeChange("SELECT 1", text), "") << text;
}

TEST(SecretCheckTest, FindsWhatMustNotBeShared) {
    for (const char* text :
         {"SELECT 1;\nALTER ROLE maud PASSWORD 'hunter2'", "-- see postgresql://maud:hunter2@db/x\nSELECT 1",
          "SELECT dblink('host=db password=hunter2')"}) {
        const auto error = secretIn(text);
        ASSERT_TRUE(error) << text;
        EXPECT_EQ(error->text().find("hunter2"), std::string::npos) << "it is told without the secret";
    }
    EXPECT_NE(secretIn("SELECT 1;\nALTER ROLE maud PASSWORD 'hunter2'")->message.find("Line 2"), std::string::npos);
    EXPECT_TRUE(secretIn("# Notes\n\npassword: hunter2\n", true));
}

TEST(SecretCheckTest, LeavesHarmlessTextsAlone) {
    for (const char* text : {"SELECT * FROM account WHERE password = :password", "SELECT a.token = b.token FROM a, b",
                             "SELECT password_changed_on FROM warden", "ALTER ROLE maud PASSWORD :new_password",
                             "-- connection: Orchard records\nSELECT 'apple'", "SELECT 'http://example.org/a?b=c'"})
        EXPECT_FALSE(secretIn(text)) << text;
}

TEST(TextDifferenceTest, PutsEqualLinesBesideEachOther) {
    const auto lines = differenceOf("a\nb\nc\nd\n", "a\nx\nb\nC\nd");
    ASSERT_EQ(lines.size(), 5U);
    EXPECT_TRUE(lines[0].isSame);
    EXPECT_FALSE(lines[1].before);
    EXPECT_EQ(lines[1].now->text, "x");
    EXPECT_EQ(lines[1].now->number, 2U);
    EXPECT_TRUE(lines[2].isSame);
    EXPECT_EQ(lines[3].before->text, "c");
    EXPECT_EQ(lines[3].now->text, "C");
    EXPECT_TRUE(lines[4].isSame);
    EXPECT_EQ(lines[4].before->number, 4U);
    EXPECT_EQ(lines[4].now->number, 5U);
    EXPECT_EQ(countOf(lines).changedOrAdded, 2U);
    EXPECT_EQ(countOf(lines).gone, 0U);
}

TEST(TextDifferenceTest, TellsTheMiddleThatChanged) {
    const auto lines = differenceOf("WHERE visited_on >= '2026'", "WHERE visited_on >= :since");
    ASSERT_EQ(lines.size(), 1U);
    const auto& side = *lines[0].now;
    EXPECT_EQ(side.text.substr(side.changed.first, side.changed.second - side.changed.first), ":since");
    const auto letters = differenceOf("größe", "grüße");
    EXPECT_EQ(letters[0].now->changed, (std::pair<std::size_t, std::size_t>{2, 4})) << "whole letters";
}

TEST(TextDifferenceTest, LinesThatAreAlikeStandBesideEachOther) {
    const auto lines = differenceOf("ORDER BY visits DESC", "HAVING count(*) >= :fewest\nORDER BY scab DESC");
    ASSERT_EQ(lines.size(), 2U);
    EXPECT_FALSE(lines[0].before);
    EXPECT_EQ(lines[1].before->text, "ORDER BY visits DESC");
    EXPECT_EQ(lines[1].now->text, "ORDER BY scab DESC");
    const auto others = differenceOf("alpha\nbeta", "1\n2\n3");
    ASSERT_EQ(others.size(), 3U) << "what is like nothing stands as it comes";
    EXPECT_EQ(others[1].before->text, "beta");
    EXPECT_EQ(others[1].now->changed, (std::pair<std::size_t, std::size_t>{})) << "and all of it is other";
}

RC_GTEST_PROP(TextDifferenceProperty, BothTextsAreThereInTheirOrder, ()) {
    const auto text =
        rc::gen::container<std::vector<std::string>>(rc::gen::element<std::string>("a", "ab", "abc", "x", ""));
    const auto joined = [](const std::vector<std::string>& all) {
        std::string out;
        for (const std::string& one : all) out += one + "\n";
        return out;
    };
    const std::string before = joined(*text);
    const std::string now = joined(*text);
    std::string left;
    std::string right;
    std::size_t lastNumber = 0;
    for (const DifferenceLine& line : differenceOf(before, now)) {
        if (line.before) left += line.before->text + "\n";
        if (line.now) right += line.now->text + "\n";
        if (line.now) RC_ASSERT(line.now->number == ++lastNumber);
        RC_ASSERT((!line.isSame || line.before->text == line.now->text));
    }
    RC_ASSERT(left == before);
    RC_ASSERT(right == now);
}

TEST(TextDifferenceTest, TextsWithoutLines) {
    EXPECT_TRUE(differenceOf("", "").empty());
    EXPECT_EQ(differenceOf("", "a\nb").size(), 2U);
    EXPECT_EQ(differenceOf("a\nb", "").size(), 2U);
    EXPECT_TRUE(differenceOf("a", "a\n").at(0).isSame) << "a line end at the end is no change";
}

}  // namespace
}  // namespace pantry::shelf
