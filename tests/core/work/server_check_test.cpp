#include "core/work/server_check.h"

#include <gmock/gmock.h>

namespace pantry::work {
namespace {

using testing::HasSubstr;
using Opinion = db::Session::Opinion;

sql::Script scriptOf(std::string_view text) {
    sql::Script script(sql::Dialect::Sqlite);
    script.setText(text);
    return script;
}

Opinion against(std::string message, std::optional<std::size_t> at, ErrorKind kind = ErrorKind::Statement) {
    return {.isKnown = true, .error = Error{.kind = kind, .message = std::move(message), .byteOffset = at}};
}

TEST(ServerCheckTest, WhatTheServerSaysStandsAtItsPlaceInTheText) {
    const sql::Script script = scriptOf("SELECT 1;\nSELECT nme FROM plot;\n  SELECT");
    const auto found =
        serverFindings(script, {{}, against("No such column: nme.", 7), against("It ends too early.", std::nullopt)});
    ASSERT_EQ(found.size(), 2U);
    EXPECT_EQ(script.text().substr(found[0].start, found[0].length), "nme");
    EXPECT_EQ(found[0].severity, sql::Severity::Error);
    EXPECT_EQ(script.text().substr(found[1].start, found[1].length), "SELECT") << "without a place, its first word";
    EXPECT_EQ(found[0].rule, kServerRule);
}

TEST(ServerCheckTest, WhatAStatementBeforeMayMakeIsNotCalledWrong) {
    const sql::Script script = scriptOf("SELECT a FROM shed; CREATE TABLE shed (a int); SELECT a FROM shed; SELEC 1");
    const auto unknown = against("No such table: shed.", 14, ErrorKind::UnknownName);
    const auto found = serverFindings(script, {unknown, {}, unknown, against("Not understood: SELEC.", 0)});
    ASSERT_EQ(found.size(), 3U);
    EXPECT_EQ(found[0].severity, sql::Severity::Error) << "it stands before";
    EXPECT_EQ(found[1].severity, sql::Severity::Hint);
    EXPECT_THAT(found[1].message, HasSubstr("cannot tell before the statements above have run"));
    EXPECT_EQ(found[2].severity, sql::Severity::Error) << "words that are wrong stay wrong";
}

TEST(ServerCheckTest, WhatOurOwnRulesSayIsNotSaidAgain) {
    const sql::Script script = scriptOf("SELECT 1;\nSELECT nme FROM plot;\nSELECT FROM FROM");
    const auto ours = sql::checkScript(script.text(), script.language(), {});
    ASSERT_FALSE(ours.empty());
    ASSERT_THAT(ours, testing::Each(testing::Field(&sql::Finding::rule, sql::kSyntaxRule)));
    const auto unread = against("Near FROM: not understood.", std::nullopt);
    EXPECT_TRUE(serverFindings(script, {{}, {}, unread}, ours).empty()) << "each reader tells its own place";
    EXPECT_EQ(serverFindings(script, {unread, {}, {}}, ours).size(), 1U) << "another statement";
    const auto unknown = against("No such column: nme.", 7, ErrorKind::UnknownName);
    EXPECT_EQ(serverFindings(script, {{}, unknown, unread}, ours).size(), 1U);
    EXPECT_EQ(serverFindings(script, {{}, {}, against("No such table: x.", 0, ErrorKind::UnknownName)}, ours).size(),
              1U)
        << "it has read what we could not";
    const sql::Finding same{.rule = "unknown-column", .start = 17, .length = 3, .message = "Unknown.", .fix = {}};
    EXPECT_TRUE(serverFindings(script, {{}, unknown, {}}, {same}).empty());
    EXPECT_TRUE(
        serverFindings(script, {{}, against("No such column: nme.", {}, ErrorKind::UnknownName), {}}, {same}).empty())
        << "SQLite tells no place";
    sql::Finding hint = same;
    hint.severity = sql::Severity::Hint;
    EXPECT_EQ(serverFindings(script, {{}, unknown, {}}, {hint}).size(), 1U) << "a hint is no error";
}

TEST(ServerCheckTest, FewerOpinionsThanStatementsAreFewerFindings) {
    EXPECT_TRUE(serverFindings(scriptOf("SELECT 1; SELECT 2"), {}).empty());
    EXPECT_EQ(statementsOf(scriptOf("SELECT 1; SELECT 2")).size(), 2U);
}

}  // namespace
}  // namespace pantry::work
