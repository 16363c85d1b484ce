#include "core/db/session_facts.h"

#include <gmock/gmock.h>

namespace pantry::db {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::Not;
using testing::StartsWith;

TEST(SessionFactsTest, BeforeASessionOnlyWhatTheProfileSays) {
    ConnectionProfile p;
    p.name = "Records";
    p.engine = Engine::Postgres;
    p.host = "orchard.example";
    p.user = "wren";
    p.environment = Environment::Live;
    EXPECT_THAT(sessionFacts(p, {}, ""), ElementsAre("Records · live", "PostgreSQL", "at " + placeOf(p), "as wren"));
}

TEST(SessionFactsTest, ASessionTellsRoleEncryptionAndSinceWhen) {
    ConnectionProfile p;
    p.engine = Engine::MariaDb;
    SessionState session;
    session.isConnected = true;
    session.connection.user = "wren@%";
    session.connection.role = "reader";
    session.connection.database = "kitchen";
    session.encryption = "TLSv1.3";
    auto facts = sessionFacts(p, session, "MariaDB 10.11");
    EXPECT_THAT(facts, Contains("as wren@%, role reader"));
    EXPECT_THAT(facts, Contains("MariaDB 10.11"));
    EXPECT_THAT(facts, Contains("encrypted: TLSv1.3"));
    EXPECT_THAT(facts, Contains(StartsWith("connected since ")));
    session.encryption.clear();
    EXPECT_THAT(sessionFacts(p, session, ""), Contains("not encrypted"));
    p.engine = Engine::Sqlite;
    EXPECT_THAT(sessionFacts(p, session, ""), Not(Contains("not encrypted"))) << "a file goes over no wire";
}

}  // namespace
}  // namespace pantry::db
