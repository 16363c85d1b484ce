// What an application keeps: sheets, the ledger, results.
#include "core/work/application_fixture.h"
#include "core/work/documents.h"
#include "core/work/ledger_keeper.h"

namespace pantry::work {
namespace {

using KeepingTest = ApplicationTest;

TEST_F(KeepingTest, AnOpenSheetIsThereAtTheNextStartAndAClosedOneCanBeOpenedAgain) {
    {
        Documents documents(around_, [] {});
        documents.open();
        store::SheetState open{.id = "a", .title = "Apples"};
        open.text = "SELECT 1";
        documents.keep(open);
        store::SheetState closed{.id = "b", .title = "Pears"};
        closed.text = "SELECT 2";
        documents.keep(closed);
        documents.close(closed);
        documents.flush();
    }
    Documents next(around_, [] {});
    next.open();
    const auto kept = next.takeKept();
    ASSERT_EQ(kept.size(), 1U);
    EXPECT_EQ(kept[0].text, "SELECT 1");
    std::optional<std::optional<store::SheetState>> reopened;
    next.reopenLast([&](auto sheet) { reopened = std::move(sheet); });
    EVENTUALLY(reopened.has_value());
    ASSERT_TRUE(*reopened);
    EXPECT_EQ((*reopened)->title, "Pears");
    EXPECT_TRUE(raised().empty());
}

TEST_F(KeepingTest, TheLedgerKeepsARunBeforeAndAfter) {
    int changes = 0;
    LedgerKeeper ledger(around_, [&] { ++changes; });
    ledger.open();
    bool isKept = false;
    const auto entry = ledger.start({.connectionId = "orchard", .connectionName = "Orchard", .statement = "SELECT 1"},
                                    base::now(), [&] { isKept = true; });
    ledger.end(entry, {.status = store::RunStatus::Succeeded});
    EVENTUALLY(isKept);
    EVENTUALLY(changes == 2);
    std::optional<Result<std::vector<store::LedgerEntry>>> found;
    ledger.find({}, [&](auto entries) { found = std::move(entries); });
    EVENTUALLY(found.has_value());
    ASSERT_TRUE(*found);
    ASSERT_EQ((*found)->size(), 1U);
    EXPECT_EQ((**found)[0].start.statement, "SELECT 1");
    ledger.remove(entry);
    found.reset();
    ledger.find({}, [&](auto entries) { found = std::move(entries); });
    EVENTUALLY(found.has_value());
    EXPECT_TRUE((*found)->empty());
}

TEST_F(KeepingTest, NothingIsToldToSomebodyWhoIsGone) {
    bool isTold = false;
    {
        LedgerKeeper ledger(around_, [&] { isTold = true; });
        ledger.open();
        ledger.start({.connectionId = "orchard", .statement = "SELECT 1"}, base::now(), [&] { isTold = true; });
    }
    bool isOver = false;
    around_.owner().post([&] { isOver = true; });
    EVENTUALLY(isOver);
    EXPECT_FALSE(isTold);
}

}  // namespace
}  // namespace pantry::work
