#include "core/store/ledger_transfer.h"

#include <gmock/gmock.h>

#include "core/base/file.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using namespace std::chrono_literals;

LedgerEntry hardOne() {
    return {.startedAt = base::fromMicroseconds(1'795'000'000'123'456),
            .start = {.connectionId = "c1",
                      .connectionName = "Kitchen, \"new\"",
                      .engine = "mariadb",
                      .user = "ann",
                      .statement = "SELECT 'a,b',\n\"c\"\r\nFROM t -- é",
                      .sheet = "Jars",
                      .parameters = "n = 3"},
            .end = {.status = RunStatus::Failed,
                    .duration = 1500us,
                    .fetching = 20us,
                    .rows = 0,
                    .isPartial = true,
                    .error = "line\nbreak",
                    .errorCode = "42S22",
                    .errorPlace = 7,
                    .plan = "SCAN t\n  \"deep\"\n"},
            .note = "why, \"oh\"",
            .isStarred = true};
}

class LedgerTransferTest : public testing::Test {
protected:
    LedgerTransferTest() : ledger_(Ledger::open(folder_ / "ledger.db").value()) {}
    test::TemporaryFolder folder_;
    std::unique_ptr<Ledger> ledger_;
};

void expectSame(const LedgerEntry& a, const LedgerEntry& b) {
    EXPECT_EQ(
        ledgerLine(
            {.startedAt = a.startedAt, .start = a.start, .end = a.end, .note = a.note, .isStarred = a.isStarred}),
        ledgerLine(
            {.startedAt = b.startedAt, .start = b.start, .end = b.end, .note = b.note, .isStarred = b.isStarred}));
}

TEST_F(LedgerTransferTest, WhatIsExportedComesBackTheSameAndOnce) {
    ASSERT_EQ(ledger_->import({hardOne(), {.startedAt = base::now(), .start = {.statement = "SELECT 2"}}}).value(), 2U);
    for (const char* name : {"runs.jsonl", "runs.CSV"}) {
        const auto path = folder_ / name;
        EXPECT_EQ(writeLedgerFile(*ledger_, {}, path).value(), 2U);
        const auto read = readLedgerFile(path);
        ASSERT_TRUE(read) << read.error().text();
        ASSERT_EQ(read->size(), 2U) << name;
        expectSame((*read)[1], hardOne());
        EXPECT_EQ(ledger_->import(*read).value(), 0U) << "they are there already";
        auto other = Ledger::open(folder_ / (std::string(name) + ".db")).value();
        EXPECT_EQ(other->import(*read).value(), 2U);
        expectSame(other->find({})->at(1), hardOne());
    }
}

TEST_F(LedgerTransferTest, ASearchIsExportedAndManyPagesAreOne) {
    std::vector<LedgerEntry> many;
    for (int i = 0; i < 5000; ++i)
        many.push_back({.startedAt = base::fromMicroseconds(std::int64_t{1'000'000} * (i + 1)),
                        .start = {.statement = "SELECT " + std::to_string(i)}});
    ASSERT_EQ(ledger_->import(many).value(), 5000U);
    EXPECT_EQ(writeLedgerFile(*ledger_, {}, folder_ / "all.jsonl").value(), 5000U);
    EXPECT_EQ(readLedgerFile(folder_ / "all.jsonl")->size(), 5000U);
    EXPECT_EQ(
        writeLedgerFile(*ledger_, {.search = parseLedgerSearch("4999", base::now())}, folder_ / "one.jsonl").value(),
        1U);
}

TEST_F(LedgerTransferTest, WhatIsNoRunIsToldWithItsLine) {
    const auto failing = [&](const std::string& content) {
        test::writeFile(folder_ / "bad.jsonl", content);
        const auto read = readLedgerFile(folder_ / "bad.jsonl");
        return read ? std::string("read") : read.error().message;
    };
    const std::string good = ledgerLine(hardOne()) + "\n";
    EXPECT_THAT(failing(good + "\n{\"statement\":\"\"}\n"), testing::EndsWith("line 3: This line has no statement."));
    EXPECT_THAT(failing(good + "nonsense\n"), testing::EndsWith("line 2: This line is no JSON object."));
    EXPECT_THAT(failing("{\"statement\":\"SELECT 1\",\"startedAt\":\"yesterday\"}"),
                testing::EndsWith("line 1: This line does not say when the statement ran."));
    EXPECT_THAT(failing("statement,startedAt\n\"SELECT\n1\",2026-11-01T08:00:00Z\n,\n"),
                testing::EndsWith("line 4: This line has no statement."));
    EXPECT_THAT(failing("{\"statement\":\"\xE4\"}"), testing::EndsWith("is not written in UTF-8."));
    EXPECT_FALSE(readLedgerFile(folder_ / "none.jsonl"));
}

TEST_F(LedgerTransferTest, OfAnotherProgramsFileTheKnownNamesAreTaken) {
    test::writeFile(folder_ / "few.csv", "statement,startedAt,rows,colour\r\nSELECT 1,2026-11-01T08:00:00Z,5,red\r\n");
    const auto read = readLedgerFile(folder_ / "few.csv").value();
    ASSERT_EQ(read.size(), 1U);
    EXPECT_EQ(read[0].end.rows, 5);
    EXPECT_EQ(base::isoUtc(read[0].startedAt), "2026-11-01T08:00:00Z");
}

}  // namespace
}  // namespace pantry::store
