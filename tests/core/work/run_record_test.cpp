#include "core/work/run_record.h"

#include <gtest/gtest.h>

#include "core/work/catalog_follower.h"
#include "core/work/origin.h"

namespace pantry::work {
namespace {

/// Rows of texts.
data::ResultSetPtr planOf(const std::vector<std::string>& columns, const std::vector<std::string>& cells) {
    std::vector<data::Column> made;
    for (const std::string& name : columns) made.push_back({name, "text", data::ColumnType::Text});
    auto set = std::make_shared<data::ResultSet>(std::move(made));
    data::ChunkBuilder builder(columns.size());
    for (std::size_t i = 0; i < cells.size(); ++i) {
        builder.addText(cells[i]);
        if ((i + 1) % columns.size() != 0) continue;
        builder.endRow();
        if (builder.isFull()) set->append(builder.take());
    }
    if (builder.rowCount() > 0) set->append(builder.take());
    return set;
}

TEST(RunRecordTest, APlanIsLinesOfText) {
    const auto text = [](const data::ResultSetPtr& rows, std::string_view statement = "EXPLAIN SELECT 1") {
        return planText(*rows, statement, sql::Dialect::MySql);
    };
    EXPECT_EQ(text(planOf({"QUERY PLAN"}, {"Seq Scan on plot", "  Filter: (slope > 3)"})),
              "Seq Scan on plot\n  Filter: (slope > 3)\n");
    EXPECT_EQ(text(planOf({"id", "table"}, {"1", "plot", "2", "tree"})), "id\ttable\n1\tplot\n2\ttree\n");
    EXPECT_EQ(text(planOf({"QUERY PLAN"}, {})), "");
}

TEST(RunRecordTest, APlanHoldsNoSecretAndHasAnEnd) {
    const std::string hidden =
        planText(*planOf({"QUERY PLAN"}, {"Filter: (password = 'plum7')"}),
                 "EXPLAIN SELECT * FROM warden WHERE password = 'plum7'", sql::Dialect::Postgres);
    EXPECT_EQ(hidden.find("plum7"), std::string::npos) << hidden;
    const std::string longOne = planText(*planOf({"QUERY PLAN"}, std::vector<std::string>(3000, std::string(100, 'x'))),
                                         "EXPLAIN SELECT 1", sql::Dialect::Postgres);
    EXPECT_LT(longOne.size(), 66'000U);
    EXPECT_TRUE(longOne.ends_with("…\n"));
}

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
