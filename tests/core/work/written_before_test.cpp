#include "core/work/written_before.h"

#include "core/work/application_fixture.h"

namespace pantry::work {
namespace {

store::LedgerEntry ran(const std::string& statement, store::RunStatus status = store::RunStatus::Succeeded) {
    store::LedgerEntry entry;
    entry.start.statement = statement;
    entry.end.status = status;
    return entry;
}

TEST(WrittenBeforeTest, OnlyWhatSucceededAndIsWholeIsOfferedAgain) {
    const sql::Habits habits =
        habitsOf({ran("SELECT soil FROM bed"), ran("SELECT nothing FROM nowhere", store::RunStatus::Failed),
                  ran("CREATE USER ann PASSWORD '•••'")},
                 sql::Dialect::Postgres);
    EXPECT_THAT(habits.statements(), testing::ElementsAre("SELECT soil FROM bed"));
    EXPECT_GT(habits.worthOfRelation("bed"), 0);
    EXPECT_EQ(habits.worthOfRelation("nowhere"), 0);
}

using WrittenBeforeKeeperTest = ApplicationTest;

TEST_F(WrittenBeforeKeeperTest, IsReadFromTheLedgerOfItsConnectionAndAgainAfterARun) {
    LedgerKeeper ledger(around_, [] {});
    ledger.open();
    WrittenBefore before(around_.owner(), ledger);
    const auto run = [&](const std::string& connection, const std::string& statement) {
        bool isKept = false;
        const auto entry =
            ledger.start({.connectionId = connection, .statement = statement}, base::now(), [&] { isKept = true; });
        ledger.end(entry, {.status = store::RunStatus::Succeeded});
        EVENTUALLY(isKept);
        before.forget();
    };
    run("orchard", "SELECT soil FROM bed");
    run("kitchen", "SELECT 1 FROM kettle");
    EXPECT_EQ(before.on("orchard", sql::Dialect::Sqlite), nullptr) << "nothing is known at once";
    EVENTUALLY(before.on("orchard", sql::Dialect::Sqlite) != nullptr);
    EXPECT_THAT(before.on("orchard", sql::Dialect::Sqlite)->statements(), testing::ElementsAre("SELECT soil FROM bed"));
    run("orchard", "SELECT width FROM bed");
    EVENTUALLY(before.on("orchard", sql::Dialect::Sqlite)->statements().size() == 2);
    EXPECT_EQ(before.on("", sql::Dialect::Sqlite), nullptr);
}

}  // namespace
}  // namespace pantry::work
