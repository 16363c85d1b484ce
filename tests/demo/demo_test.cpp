#include "demo/demo_data.h"

#include <sqlite3.h>

#include "core/shelf/shelf.h"
#include "core/store/connections_file.h"
#include "core/store/home.h"
#include "demo/demo_shelf.h"
#include "support/demo_copy.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::demo {
namespace {

class DemoTest : public testing::Test {
protected:
    static void SetUpTestSuite() {
        folder_ = new test::TemporaryFolder;
        ASSERT_TRUE(test::copyDemo(folder_->path()));
    }
    static void TearDownTestSuite() { delete folder_; }

    static double number(const std::string& file, const std::string& query) {
        sqlite3* db = nullptr;
        sqlite3_open(((*folder_) / file).c_str(), &db);
        sqlite3_stmt* statement = nullptr;
        EXPECT_EQ(sqlite3_prepare_v2(db, query.c_str(), -1, &statement, nullptr), SQLITE_OK) << sqlite3_errmsg(db);
        EXPECT_EQ(sqlite3_step(statement), SQLITE_ROW);
        const double value = sqlite3_column_double(statement, 0);
        sqlite3_finalize(statement);
        sqlite3_close(db);
        return value;
    }

    static inline test::TemporaryFolder* folder_ = nullptr;
};

TEST_F(DemoTest, SetsUpFourConnectionsInAHomeOfItsOwn) {
    const auto home = store::findHome((*folder_) / "home");
    const auto list = store::ConnectionsFile(home.connectionsFile()).load();
    ASSERT_EQ(list->profiles.size(), 4U);
    for (const auto& p : list->profiles) EXPECT_TRUE(std::filesystem::exists(p.database)) << p.database;
    EXPECT_TRUE(hasDemo(folder_->path()));
}

TEST_F(DemoTest, HasTheAwkwardValuesOfRealLife) {
    EXPECT_GE(number("orchard.db", "SELECT max(length(remark)) FROM inspection"), 100'000);
    EXPECT_GT(number("orchard.db", "SELECT count(*) FROM inspection WHERE remark = ''"), 0);
    EXPECT_GT(number("orchard.db", "SELECT count(*) FROM inspection WHERE remark LIKE '%' || char(10) || '%'"), 0);
    EXPECT_GT(number("orchard.db", "SELECT count(*) FROM inspection WHERE instr(remark, '🐝')"), 0);
    EXPECT_GT(number("orchard.db", "SELECT max(tag) FROM tree"), 9e15);
    EXPECT_GT(
        number("kitchen.db", "SELECT count(*) FROM batch WHERE substr(label_picture, 2, 3) = CAST('PNG' AS BLOB)"), 0);
    EXPECT_EQ(number("kitchen.db", "SELECT count(*) FROM batch WHERE label IS NOT NULL AND NOT json_valid(label)"), 0);
    EXPECT_GE(number("probes.db", "SELECT count(*) FROM reading"), 200'000);
}

TEST_F(DemoTest, KeysLeadSomewhere) {
    for (const char* file : {"orchard.db", "orchard-live.db", "kitchen.db", "probes.db"}) {
        EXPECT_EQ(number(file, "SELECT count(*) FROM pragma_foreign_key_check"), 0) << file;
    }
}

TEST_F(DemoTest, HoldsItsStories) {
    const std::string scab =
        "SELECT avg(scab_score) FROM inspection JOIN tree USING (tree_id) WHERE visited_on > '2026-08-01' AND plot_id ";
    EXPECT_GT(number("orchard.db", scab + "= 1"), 2 * number("orchard.db", scab + "<> 1"));
    const std::string probe = "SELECT avg(value) FROM reading WHERE probe_id = 9 AND taken_at ";
    EXPECT_GT(number("probes.db", probe + "> '2026-11-01'"), number("probes.db", probe + "< '2026-07-10'") + 4);
    EXPECT_GT(number("kitchen.db", "SELECT sum(jars) FROM stall_sale WHERE batch_id = 41"),
              1.5 * number("kitchen.db", "SELECT sum(jars) FROM stall_sale WHERE batch_id = 42"));
}

TEST_F(DemoTest, TheLiveOrchardDiffers) {
    EXPECT_GT(number("orchard-live.db", "SELECT count(*) FROM inspection"),
              number("orchard.db", "SELECT count(*) FROM inspection"));
    EXPECT_LT(number("orchard-live.db", "SELECT count(*) FROM frost_alert"),
              number("orchard.db", "SELECT count(*) FROM frost_alert"));
    EXPECT_EQ(number("orchard-live.db", "SELECT count(*) FROM pragma_table_info('warden') WHERE name = 'email'"), 1);
}

TEST_F(DemoTest, IsTheSameEachTime) {
    const test::TemporaryFolder again;
    ASSERT_TRUE(writeDemo(again.path()));
    for (const char* file : {"orchard.db", "orchard-live.db", "kitchen.db", "probes.db"}) {
        EXPECT_TRUE(test::contentOf(again / file) == test::contentOf(test::demoFile(file))) << file;
    }
}

TEST_F(DemoTest, TheShelfHasVersionsAndStaysAsSomebodyLeftIt) {
    const auto folder = store::findHome((*folder_) / "home").shelfFolder();
    auto shelf = shelf::Shelf::openOwn(folder);
    ASSERT_TRUE(shelf);
    EXPECT_GE(shelf->list()->size(), 12U);
    const auto versions = (*shelf->repository())->versionsOf("plot-health/scab-by-plot.sql", 99);
    ASSERT_EQ(versions->size(), 6U);
    EXPECT_EQ(versions->back().message, "First version");
    EXPECT_EQ(versions->at(1).author, "Maud Okafor");
    EXPECT_EQ(versions->at(1).message, "lead_warden added; Condition on warden_id added; Reads warden; and more");
    const auto items = shelf->list();
    for (const shelf::ShelfItem& one : *items) {
        EXPECT_EQ(one.versioning, shelf::Versioning::Kept) << one.path;
        EXPECT_NE(one.head.connection, "") << one.path;
    }
    ASSERT_TRUE(shelf->save("kitchen/takings-per-stall.sql", "SELECT 'mine';\n"));
    ASSERT_TRUE(writeShelf(folder));
    EXPECT_EQ(*shelf->read("kitchen/takings-per-stall.sql"), "SELECT 'mine';\n");
}

}  // namespace
}  // namespace pantry::demo
