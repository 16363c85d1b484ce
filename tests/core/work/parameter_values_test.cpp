#include "core/work/parameter_values.h"

#include <gmock/gmock.h>

namespace pantry::work {
namespace {

using testing::ElementsAre;
using Items = std::vector<std::optional<std::string>>;

TEST(ParameterValuesTest, AListIsTypedWithCommasOrPastedFromLines) {
    EXPECT_EQ(typedValue("Saltmarsh, Sluice Side", true).items, (Items{"Saltmarsh", "Sluice Side"}));
    EXPECT_EQ(typedValue("1\r\n2\n3\n", true).items, (Items{"1", "2", "3"}));
    EXPECT_EQ(typedValue("'a, b', 'O''Hara', '', null", true).items, (Items{"a, b", "O'Hara", "", std::nullopt}));
    EXPECT_EQ(typedValue(" , ,", true).items, Items{});
    EXPECT_EQ(typedValue("'open", true).items, Items{"open"});
}

TEST(ParameterValuesTest, OneValueIsTakenAsItIs) {
    EXPECT_EQ(typedValue("a, b", false).items, Items{"a, b"});
    EXPECT_EQ(typedValue("NULL", false).items, Items{"NULL"}) << "a text; NULL is chosen";
}

TEST(ParameterValuesTest, TheLedgerReadsThemWithoutTheirSecrets) {
    const auto text = [](const char* statement, sql::ParameterValues values) {
        return parametersText(sql::Statement(statement, sql::Dialect::Postgres).with(std::move(values)));
    };
    EXPECT_EQ(text("SELECT :since, :none WHERE 1 IN (:plots)",
                   {{"since", "2026-01-01"}, {"plots", typedValue("a,b", true)}, {"none", std::nullopt}}),
              "none = NULL, plots = (a, b), since = 2026-01-01");
    EXPECT_EQ(text("SELECT :password", {{"password", "hedgerow"}}), "password = •••");
    EXPECT_EQ(text("ALTER ROLE warden PASSWORD :p", {{"p", "hedgerow"}}), "p = •••") << "by its place";
    EXPECT_EQ(text("SELECT 1", {}), "");
}

TEST(ParameterValuesTest, WhatIsTypedForTheCommandLineGoesToTheStatementsThatAskForIt) {
    const auto with = [](const char* text) {
        return withTyped(sql::Statement(text, sql::Dialect::Sqlite), {{"plots", "1, 2"}, {"since", "x"}}).parameters();
    };
    EXPECT_EQ(with("SELECT 1 WHERE a IN (:plots)").at("plots").items, (Items{"1", "2"}));
    EXPECT_EQ(with("SELECT 1 WHERE a = :plots").at("plots").items, Items{"1, 2"});
    EXPECT_TRUE(with("SELECT 1").empty());
}

TEST(ParameterValuesTest, TheCountOfAChangeHasTheValuesOfItsConditions) {
    const sql::Statement named =
        sql::Statement("UPDATE t SET a = :a WHERE b = :b", sql::Dialect::MySql).with({{"a", "1"}, {"b", "2"}});
    EXPECT_EQ(withValuesOf("SELECT count(*) FROM t WHERE b = :b", named).parameters(),
              (sql::ParameterValues{{"b", "2"}}));
    const sql::Statement unnamed =
        sql::Statement("UPDATE t SET a = ? WHERE b = ?", sql::Dialect::MySql).with({{"1", "1"}, {"2", "2"}});
    EXPECT_EQ(withValuesOf("SELECT count(*) FROM t WHERE b = ?", unnamed).parameters(),
              (sql::ParameterValues{{"1", "2"}}));
}

TEST(ParameterMemoryTest, WhatHasNoValueIsTold) {
    ParameterMemory memory;
    const std::vector<sql::StatementParameter> wanted{{.key = "since", .written = ":since"},
                                                      {.key = "1", .written = "?"}};
    const auto missing = memory.valuesFor(wanted);
    ASSERT_FALSE(missing);
    EXPECT_THAT(missing.error().message, testing::HasSubstr(":since"));
    memory.give("since", {.typed = "2026-01-01"});
    memory.give("1", {.isNull = true});
    const auto values = memory.valuesFor(wanted);
    ASSERT_TRUE(values);
    EXPECT_EQ(values->at("since").items, Items{"2026-01-01"});
    EXPECT_EQ(values->at("1").items, Items{std::nullopt});
}

TEST(ParameterMemoryTest, AnEmptyTextIsAValueOnlyWhenItIsMeant) {
    ParameterMemory memory;
    const std::vector<sql::StatementParameter> wanted{{.key = "note", .written = ":note"}};
    memory.give("note", {});
    EXPECT_FALSE(memory.valuesFor(wanted));
    memory.give("note", {.isEmptyText = true});
    const auto values = memory.valuesFor(wanted);
    ASSERT_TRUE(values);
    EXPECT_EQ(values->at("note").items, Items{""});
}

TEST(ParameterMemoryTest, TheLastValuesAreRememberedEachOnceAndSecretsNever) {
    ParameterMemory memory;
    const std::vector<sql::StatementParameter> wanted{{.key = "plot", .written = ":plot"},
                                                      {.key = "password", .written = ":password"}};
    memory.give("password", {.typed = "hedgerow"});
    for (const char* value : {"a", "b", "a"}) {
        memory.give("plot", {.typed = value});
        ASSERT_TRUE(memory.valuesFor(wanted));
    }
    EXPECT_THAT(memory.before("plot"), ElementsAre("a", "b"));
    EXPECT_THAT(memory.before("password"), testing::IsEmpty());
    EXPECT_FALSE(memory.kept().contains("password"));
    ParameterMemory later;
    later.restore(memory.kept());
    EXPECT_EQ(later.given("plot").typed, "a");
}

}  // namespace
}  // namespace pantry::work
