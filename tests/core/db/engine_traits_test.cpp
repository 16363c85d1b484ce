#include "core/db/engine_traits.h"

#include <gtest/gtest.h>

#include "core/db/driver.h"
#include "core/db/guard.h"
#include "core/db/session_statements.h"

namespace pantry::db {
namespace {

TEST(EngineTraitsTest, EveryEngineHasWordsOfItsOwn) {
    for (const Engine engine : availableEngines()) {
        const EngineTraits& traits = traitsOf(engine);
        EXPECT_FALSE(traits.name.empty());
        EXPECT_EQ(engineFromWord(traits.word), engine);
        EXPECT_EQ(traits.place == PlaceKind::Server, traits.port != 0) << traits.name;
        EXPECT_EQ(traits.passwordFile.empty(), traits.passwordFileAdvice.empty()) << traits.name;
        EXPECT_EQ(traits.setIsolation == nullptr, traits.isolationLevels.empty()) << traits.name;
    }
    EXPECT_EQ(engineFromWord("abacus"), std::nullopt);
}

TEST(EngineTraitsTest, StatementsOfASessionAreInTheEnginesWords) {
    EXPECT_EQ(setSchema(Engine::Postgres, "My kitchen"), "SET search_path TO \"My kitchen\"");
    EXPECT_EQ(setSchema(Engine::MariaDb, "kitchen"), "USE kitchen");
    EXPECT_EQ(setSchema(Engine::Sqlite, "main"), "");
    EXPECT_EQ(setReadOnly(Engine::Sqlite, true), "PRAGMA query_only = ON");
    EXPECT_EQ(setStatementLimit(Engine::MariaDb, std::chrono::milliseconds(1500)),
              "SET SESSION max_statement_time = 1.5");
    EXPECT_EQ(setIsolation(Engine::Postgres, "serializable"),
              "SET SESSION CHARACTERISTICS AS TRANSACTION ISOLATION LEVEL SERIALIZABLE");
    EXPECT_EQ(setIsolation(Engine::Odbc, "serializable"), "");
}

TEST(EngineTraitsTest, NamesAreLookedForWhereTheEngineLooks) {
    const ConnectionState line{.database = "orchard", .schema = "public"};
    EXPECT_EQ(currentSchema(Engine::Postgres, line), "public");
    EXPECT_EQ(currentSchema(Engine::MariaDb, line), "orchard");
}

TEST(EngineTraitsTest, SomeCommitByThemselves) {
    EXPECT_TRUE(commitsByItself(Engine::MariaDb, "CREATE TABLE a (b int)", {}));
    EXPECT_FALSE(commitsByItself(Engine::MariaDb, "CREATE TEMPORARY TABLE a (b int)", {}));
    EXPECT_FALSE(commitsByItself(Engine::Postgres, "CREATE TABLE a (b int)", {}));
    EXPECT_TRUE(commitsByItself(Engine::Odbc, "DROP TABLE a", {}));
}

}  // namespace
}  // namespace pantry::db
