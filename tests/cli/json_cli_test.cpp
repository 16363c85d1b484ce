#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "cli/pantry_program.h"

namespace pantry {
namespace {

using nlohmann::json;

/// What the command line writes with --json, read by somebody else's reader.
class JsonCliTest : public test::PantryProgram {
protected:
    json read(const std::string& command, const std::string& input = {}) {
        const test::Outcome outcome = pantry(command + " --json", input);
        return json::parse(outcome.output, nullptr, false);
    }
    json named(const json& all, const std::string& name) {
        for (const json& one : all)
            if (one.value("name", "") == name) return one;
        return {};
    }
};

TEST_F(JsonCliTest, ACatalogTellsColumnsKeysAndDefinitions) {
    const json batch = named(read("catalog -c Kitchen --definitions"), "batch");
    ASSERT_TRUE(batch.is_object());
    EXPECT_EQ(batch["kind"], "table");
    EXPECT_EQ(batch["columns"][0]["name"], "batch_id");
    EXPECT_EQ(batch["columns"][0]["key"], 1);
    EXPECT_TRUE(batch["columns"][0]["nullable"].is_boolean());
    EXPECT_TRUE(batch["columns"][0]["default"].is_null());
    ASSERT_FALSE(batch["foreignKeys"].empty());
    EXPECT_TRUE(batch["foreignKeys"][0]["columns"].is_array());
    EXPECT_THAT(batch["definition"].get<std::string>(), testing::HasSubstr("CREATE TABLE"));
}

TEST_F(JsonCliTest, TextsKeepTheirQuotesLinesAndLetters) {
    const std::string title = R"(Jars "left" \ übrig)";
    ASSERT_EQ(pantry("shelf save kitchen/jars -e 'SELECT :least' -c Kitchen --title '" + title + "'").exitCode, 0);
    const json one = read("shelf show kitchen/jars");
    EXPECT_EQ(one["title"], title);
    EXPECT_EQ(one["parameters"][0]["name"], "least");
    EXPECT_FALSE(one["parameters"][0].contains("value"));
    EXPECT_THAT(one["text"].get<std::string>(), testing::HasSubstr("-- connection: Kitchen\n"));
    EXPECT_EQ(one["versions"], 1);
    EXPECT_EQ(one["starred"], false);
    const json versions = read("shelf versions kitchen/jars");
    ASSERT_EQ(versions.size(), 1U);
    EXPECT_EQ(versions[0]["removal"], false);
    EXPECT_EQ(versions[0]["path"], "kitchen/jars.sql");
    EXPECT_TRUE(read("shelf remote list").is_array());
    const json shelves = read("shelf shelves");
    ASSERT_EQ(shelves.size(), 1U);
    EXPECT_EQ(shelves[0]["notPushed"], 0);
}

TEST_F(JsonCliTest, StatementsFindingsAndOffersTellWhereTheyStand) {
    const json statements = read("split --dialect sqlite", "SELECT 1;\nDELETE FROM batch;\n");
    ASSERT_EQ(statements.size(), 2U);
    EXPECT_EQ(statements[1]["line"], 2);
    EXPECT_EQ(statements[1]["start"], 10);
    EXPECT_EQ(statements[1]["kind"], "delete");
    const json findings = read("check --dialect sqlite", "SELECT 1 WHERE 2 = NULL;\n");
    ASSERT_FALSE(findings.empty());
    EXPECT_EQ(findings[0]["severity"], "warning");
    EXPECT_EQ(findings[0]["fix"]["text"], "IS NULL");
    const json offers = read("complete --dialect sqlite --at 4", "SELE");
    ASSERT_FALSE(offers.empty());
    EXPECT_EQ(offers[0]["text"], "SELECT");
    EXPECT_EQ(offers[0]["replaces"], json::array({0, 4}));
}

TEST_F(JsonCliTest, ConnectionsAndEmptyListsAreLists) {
    const json kitchen = named(read("connections list"), "Kitchen");
    EXPECT_EQ(kitchen["engine"], "sqlite");
    EXPECT_EQ(read("check --dialect sqlite", "SELECT 1;\n"), json::array());
    EXPECT_EQ(read("split --dialect sqlite", "\n"), json::array());
}

}  // namespace
}  // namespace pantry
