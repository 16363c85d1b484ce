#include "core/shelf/saved_query.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "core/shelf/shelf_names.h"

namespace pantry::shelf {
namespace {

constexpr const char* kScab =
    "-- title: Scab by plot\n"
    "-- note: Which plots need treatment before blossom.\n"
    "--       Visits without a score count as visits.\n"
    "-- connection: Orchard records\n"
    "-- parameter: since date = 2026-01-01\n"
    "-- parameter: fewest integer\n"
    "\n"
    "SELECT name FROM plot WHERE planted_on > :since;\n";

TEST(SavedQueryTest, TheHeadIsReadAndTheRestIsText) {
    const SavedQuery query = readQuery(kScab);
    EXPECT_TRUE(query.hasHead);
    EXPECT_EQ(query.head.title, "Scab by plot");
    EXPECT_EQ(query.head.note, "Which plots need treatment before blossom.\nVisits without a score count as visits.");
    EXPECT_EQ(query.head.connection, "Orchard records");
    ASSERT_EQ(query.head.parameters.size(), 2U);
    EXPECT_EQ(query.head.parameters[0], (QueryParameter{"since", "date", "2026-01-01", true}));
    EXPECT_EQ(query.head.parameters[1], (QueryParameter{"fewest", "integer", "", false}));
    EXPECT_EQ(query.text, "SELECT name FROM plot WHERE planted_on > :since;\n");
    EXPECT_EQ(writeQuery(query), kScab);
    EXPECT_EQ(std::string(kScab).substr(headLength(kScab)), query.text);
}

TEST(SavedQueryTest, ACommentThatIsNoHeadIsText) {
    for (const char* text : {"-- Counts the jars.\nSELECT 1;", "SELECT 1;\n-- title: late\n", "-- title:\nSELECT 1;",
                             "", "/* title: x */ SELECT 1"}) {
        const SavedQuery query = readQuery(text);
        EXPECT_FALSE(query.hasHead) << text;
        EXPECT_EQ(query.text, text);
        EXPECT_EQ(writeQuery(query), text);
        EXPECT_EQ(headLength(text), 0U);
    }
}

TEST(SavedQueryTest, LinesOfANewerVersionStay) {
    const std::string text = "-- title: Jars\n-- colour: red\n-- note: few\n-- chart: bars\n\nSELECT 1;\n";
    SavedQuery query = readQuery(text);
    EXPECT_THAT(query.head.others, testing::ElementsAre("-- colour: red", "-- chart: bars"));
    query.head.title = "Jars left";
    const SavedQuery again = readQuery(writeQuery(query));
    EXPECT_EQ(again.head.others, query.head.others);
    EXPECT_EQ(again.head.title, "Jars left");
}

TEST(SavedQueryTest, ChoicesForTheGridStandOnALine) {
    const std::string text = "-- title: Jars\n-- grid: {\"frozen\":1}\n-- chart: bars\n\nSELECT 1;\n";
    const SavedQuery query = readQuery(text);
    EXPECT_EQ(query.head.grid, "{\"frozen\":1}");
    EXPECT_EQ(writeQuery(query), text);
}

TEST(SavedQueryTest, TheValueOfASecretParameterIsNotWritten) {
    SavedQuery query{.head = {.title = "New warden", .parameters = {{"password", "text", "hunter2", true}}},
                     .text = "SELECT :password",
                     .hasHead = true};
    EXPECT_THAT(writeQuery(query), testing::Not(testing::HasSubstr("hunter2")));
    EXPECT_THAT(writeQuery(query), testing::HasSubstr("-- parameter: password text\n"));
}

TEST(SavedQueryTest, LineEndsOfOtherSystemsAreRead) {
    const SavedQuery query = readQuery("-- title: Jars\r\n-- connection: Kitchen\r\n\r\nSELECT 1;\r\n");
    EXPECT_EQ(query.head.title, "Jars");
    EXPECT_EQ(query.head.connection, "Kitchen");
    EXPECT_EQ(query.text, "SELECT 1;\r\n");
}

std::string plainText(bool withLines) {
    auto letters =
        rc::gen::container<std::string>(rc::gen::elementOf(std::string(withLines ? "abc =:-é;'()\n" : "abc=:-;'()")));
    return *letters;
}

RC_GTEST_PROP(SavedQueryProperty, WhatIsWrittenIsReadAgain, ()) {
    SavedQuery query{.hasHead = true};
    query.head.title = "T" + plainText(false);
    query.head.note = *rc::gen::element<std::string>("", "one", "one\ntwo", "one\n\nthree");
    query.head.connection = *rc::gen::element<std::string>("", "Kitchen", "Orchard records");
    if (*rc::gen::arbitrary<bool>()) query.head.parameters = {{"since", "date", plainText(false), true}};
    query.text = "SELECT " + plainText(true);
    RC_ASSERT(readQuery(writeQuery(query)) == query);
}

RC_GTEST_PROP(SavedQueryProperty, NoTextIsLost, ()) {
    const std::string head =
        *rc::gen::element<std::string>("", "-- title: x\n", "-- title: x\n-- note: y\n--       z\n\n");
    const std::string text = head + plainText(true);
    const SavedQuery query = readQuery(text);
    RC_ASSERT(text.ends_with(query.text));
    RC_ASSERT(query.hasHead || query.text == text);
    RC_ASSERT(readQuery(writeQuery(query)) == query);
}

TEST(ShelfNamesTest, TitlesBecomeNamesOfFilesAndBack) {
    EXPECT_EQ(fileNameFor("Scab by plot"), "scab-by-plot");
    EXPECT_EQ(fileNameFor("  What/where? (2026)  "), "what-where-2026");
    EXPECT_EQ(fileNameFor("Bäume über 20 m"), "bäume-über-20-m");
    EXPECT_EQ(fileNameFor("..."), "query");
    EXPECT_LE(fileNameFor(std::string(999, 'x')).size(), 120U);
    EXPECT_EQ(titleOfName("scab-by-plot.sql"), "Scab by plot");
    EXPECT_EQ(titleOfName("Why is it so - really.md"), "Why is it so - really");
    EXPECT_EQ(folderOf("a/b/c.sql"), "a/b");
    EXPECT_EQ(nameOf("a/b/c.sql"), "c.sql");
    EXPECT_EQ(folderOf("c.sql"), "");
}

TEST(ShelfNamesTest, PathsThatLeadAwayAreRefused) {
    for (const char* path :
         {"", " ", "/etc/passwd", "../a.sql", "a/../b.sql", "a//b.sql", ".git/config", "a/.b.sql", "a\nb.sql"})
        EXPECT_FALSE(checkPath(path)) << path;
    for (const char* path : {"a.sql", "plot-health/scab by plot.sql", "été/ü.sql"})
        EXPECT_TRUE(checkPath(path)) << path;
    EXPECT_FALSE(checkPath(std::string(300, 'a')));
}

}  // namespace
}  // namespace pantry::shelf
