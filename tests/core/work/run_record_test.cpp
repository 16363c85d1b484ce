#include "core/work/run_record.h"

#include <gtest/gtest.h>

#include "core/work/catalog_follower.h"
#include "core/work/origin.h"

namespace pantry::work {
namespace {

TEST(RunRecordTest, TellsWhereAndWhat) {
    db::ConnectionProfile profile;
    profile.id = "p1";
    profile.name = "Records";
    profile.engine = db::Engine::Postgres;
    profile.environment = db::Environment::Live;
    profile.database = "orchard";
    profile.user = "lena";
    const store::RunStart start = startRecord(profile, "SELECT 1", "Harvest");
    EXPECT_EQ(start.connectionId, "p1");
    EXPECT_EQ(start.environment, "live");
    EXPECT_EQ(start.engine, "postgresql");
    EXPECT_EQ(start.database, "orchard");
    EXPECT_EQ(start.user, "lena");
    EXPECT_EQ(start.statement, "SELECT 1");
    EXPECT_EQ(start.sheet, "Harvest");
}

TEST(RunRecordTest, TellsHowItEnded) {
    const Error refused{.kind = ErrorKind::Statement, .message = "no such table: tre"};
    const Error stop{.kind = ErrorKind::Cancelled, .message = "Stopped."};
    EXPECT_EQ(endRecord({.rows = 24}).status, store::RunStatus::Succeeded);
    EXPECT_EQ(endRecord({.rows = 24}).rows, 24);
    EXPECT_EQ(endRecord({}).rows, std::nullopt) << "a statement without a result";
    EXPECT_EQ(endRecord({.error = refused}).status, store::RunStatus::Failed);
    EXPECT_EQ(endRecord({.error = refused}).error, "no such table: tre");
    EXPECT_EQ(endRecord({.error = stop}).status, store::RunStatus::Stopped);
    EXPECT_EQ(endRecord({.error = stop}).error, "");
    const store::RunEnd part = endRecord({.rows = 1000, .error = stop, .isPartial = true});
    EXPECT_EQ(part.status, store::RunStatus::Succeeded) << "a part that was enough is no failure";
    EXPECT_TRUE(part.isPartial);
}

TEST(CatalogFollowerTest, TellsWhatChangedWhenOthersCanSeeIt) {
    CatalogFollower follower;
    const auto end = [&](const char* text, db::TransactionState transaction) {
        return follower.noteEnd(sql::Statement(text, sql::Dialect::Postgres), "public", transaction);
    };
    EXPECT_FALSE(end("SELECT 1", db::TransactionState::None));
    const auto changes = end("CREATE TABLE shed (a int)", db::TransactionState::None);
    ASSERT_TRUE(changes);
    EXPECT_EQ(changes->schemas, std::vector<std::string>{"public"});
    EXPECT_FALSE(end("CREATE TABLE shed (a int)", db::TransactionState::Open)) << "nobody else sees it yet";
    EXPECT_FALSE(end("SELECT 1", db::TransactionState::Failed));
    EXPECT_TRUE(end("COMMIT", db::TransactionState::None));
    EXPECT_FALSE(end("SELECT 1", db::TransactionState::None)) << "told once";
}

TEST(OriginTest, AnUnknownSchemaIsLikeAny) {
    const Origin here{.connectionId = "p1", .schema = "public"};
    EXPECT_TRUE(here.isLike({.connectionId = "p1"}));
    EXPECT_TRUE(here.isLike(here));
    EXPECT_FALSE(here.isLike({.connectionId = "p1", .schema = "kitchen"}));
    EXPECT_FALSE(here.isLike({.connectionId = "p2", .schema = "public"}));
    EXPECT_FALSE(here.isLike({.connectionId = "p1", .database = "trial"}));
}

}  // namespace
}  // namespace pantry::work
