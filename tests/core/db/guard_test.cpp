#include "core/db/guard.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/db/session_statements.h"

namespace pantry::db {
namespace {

ConnectionProfile on(Environment environment, const std::string& guard = "") {
    ConnectionProfile profile{.environment = environment, .engine = Engine::Postgres};
    if (!guard.empty()) profile.options["guard"] = guard;
    return profile;
}

TEST(GuardTest, EveryChangeWaitsOnALiveConnection) {
    for (const char* sql :
         {"INSERT INTO plot VALUES (1)", "UPDATE plot SET a = 1 WHERE b = 2", "CREATE TABLE x (a int)", "CALL tidy()",
          "WITH g AS (DELETE FROM plot WHERE a = 1) SELECT 1"}) {
        EXPECT_TRUE(heldBack(on(Environment::Live), sql)) << sql;
        EXPECT_FALSE(heldBack(on(Environment::Trial), sql)) << sql;
    }
}

TEST(GuardTest, TheRecklessWaitsEverywhere) {
    for (const char* sql : {"DELETE FROM plot", "DROP TABLE plot", "TRUNCATE plot"}) {
        EXPECT_TRUE(heldBack(on(Environment::Local), sql)) << sql;
        EXPECT_FALSE(heldBack(on(Environment::Live, "off"), sql)) << sql;
    }
}

TEST(GuardTest, ReadingAndSettingsNeverWait) {
    for (const char* sql : {"SELECT * FROM plot", "BEGIN", "COMMIT", "ROLLBACK", "SET search_path TO a",
                            "EXPLAIN DELETE FROM plot", "SHOW work_mem"}) {
        EXPECT_FALSE(heldBack(on(Environment::Live), sql)) << sql;
    }
}

TEST(GuardTest, AConnectionCanBeStricterOrLaxer) {
    const char* change = "UPDATE plot SET a = 1 WHERE b = 2";
    EXPECT_TRUE(heldBack(on(Environment::Local, "changes"), change));
    EXPECT_FALSE(heldBack(on(Environment::Live, "reckless"), change));
    EXPECT_THAT(heldBack(on(Environment::Live), change)->countQuery,
                testing::HasSubstr("count(*) FROM plot WHERE b = 2"));
}

TEST(SessionStatementsTest, AreWordedForTheEngineAndQuoteNames) {
    EXPECT_EQ(setSchema(Engine::Postgres, "Odd name"), "SET search_path TO \"Odd name\"");
    EXPECT_EQ(setSchema(Engine::MariaDb, "odd`name"), "USE `odd``name`");
    EXPECT_EQ(setSchema(Engine::Sqlite, "main"), "");
    EXPECT_EQ(setStatementLimit(Engine::MariaDb, std::chrono::milliseconds(1500)),
              "SET SESSION max_statement_time = 1.5");
    EXPECT_EQ(setReadOnly(Engine::Postgres, true), "SET default_transaction_read_only = on");
}

TEST(GuardTest, QuotesAreReadAsTheSessionReadsThem) {
    ConnectionProfile profile = on(Environment::Local);
    profile.engine = Engine::MariaDb;
    const std::string escaped = R"(UPDATE plot SET a = '\' WHERE b = 1 -- ')";
    EXPECT_TRUE(heldBack(profile, escaped)) << "the backslash takes the quote's meaning: the condition is in the text";
    EXPECT_FALSE(heldBack(profile, escaped, {.backslash = sql::Backslash::Plain}));
}

}  // namespace
}  // namespace pantry::db
