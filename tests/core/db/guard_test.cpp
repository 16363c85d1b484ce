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

TEST(GuardTest, WhatIsNotKnownWaitsOnALiveConnection) {
    for (const char* sql : {"SELECT 1 FROM plot WHERE", "FROB plot", "SELECT 1; SELECT 2", "VACUUM", "SET ROLE warden",
                            "LOCK TABLE plot", "WITH d AS (WITH z AS (SELECT 1) DELETE FROM t RETURNING 1) SELECT 1",
                            "SELECT * FROM plot FOR UPDATE", "EXPLAIN (\"analyze\") DELETE FROM t WHERE a = 1"}) {
        const auto held = heldBack(on(Environment::Live), sql);
        ASSERT_TRUE(held) << sql;
        EXPECT_FALSE(held->reason.empty()) << sql;
    }
}

TEST(GuardTest, WhatItCallsIsAskedAboutAndTheAnswerCounts) {
    const SessionView view{.engine = Engine::Postgres};
    const RunGuard guard = runGuardOf(on(Environment::Live));
    std::vector<std::string> asked;
    const auto answer = [&](std::string doubt) {
        return [&asked, doubt](const sql::PlainReading& reading) {
            for (const sql::CalledName& call : reading.calls) asked.push_back(call.schema + "." + call.name);
            return doubt;
        };
    };
    EXPECT_FALSE(heldBack(guard, view, "SELECT public.\"Cull\"(), Lower(name) FROM plot", answer("")));
    EXPECT_THAT(asked, testing::UnorderedElementsAre("public.Cull", ".lower"));
    EXPECT_EQ(heldBack(guard, view, "SELECT cull()", answer("It calls cull()."))->reason, "It calls cull().");
}

TEST(GuardTest, WhatCommitsAnOpenTransactionByItselfIsAskedAboutFirst) {
    SessionView view{
        .engine = Engine::MariaDb, .connection = {.transaction = TransactionState::Open}, .openChanges = 3};
    const RunGuard guard = runGuardOf({.environment = Environment::Local, .engine = Engine::MariaDb});
    for (const char* sql :
         {"CREATE TABLE x (a int)", "ALTER TABLE plot ADD x int", "LOCK TABLES plot READ", "START TRANSACTION", "BEGIN",
          "SET autocommit = 1", "ANALYZE TABLE plot", "GRANT ALL ON *.* TO x", "/*! CREATE TABLE x (a int) */",
          "RENAME TABLE a TO b", "FLUSH TABLES"}) {
        const auto held = heldBack(guard, view, sql);
        ASSERT_TRUE(held) << sql;
        EXPECT_THAT(held->reason, testing::HasSubstr("3 changes")) << sql;
    }
    for (const char* sql : {"UPDATE plot SET a = 1 WHERE b = 2", "COMMIT", "CREATE TEMPORARY TABLE x (a int)",
                            "SET @a = 1", "ANALYZE SELECT 1", "SAVEPOINT a"}) {
        EXPECT_FALSE(heldBack(guard, view, sql)) << sql;
    }
    view.connection.transaction = TransactionState::None;
    EXPECT_FALSE(heldBack(guard, view, "CREATE TABLE x (a int)")) << "nothing is open";
    view = {.engine = Engine::Postgres, .connection = {.transaction = TransactionState::Open}};
    EXPECT_FALSE(heldBack(guard, view, "CREATE TABLE x (a int)")) << "it is part of the transaction there";
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
