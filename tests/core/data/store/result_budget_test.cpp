#include "core/data/store/result_budget.h"

#include <fmt/format.h>
#include <rapidcheck/gtest.h>

#include <fstream>
#include <thread>

#include "support/temporary_folder.h"

namespace pantry::data {
namespace {

/// Rows of a number and a text, in chunks as drivers make them.
std::shared_ptr<ResultSet> manyRows(std::size_t count) {
    auto result = std::make_shared<ResultSet>(
        std::vector<Column>{{"n", "integer", ColumnType::Integer}, {"s", "text", ColumnType::Text}});
    ChunkBuilder builder(2);
    for (std::size_t i = 0; i < count; ++i) {
        builder.addInteger(static_cast<std::int64_t>(i));
        i % 10 == 3 ? builder.addNull() : builder.addText(fmt::format("reading number {}", i));
        builder.endRow();
        if (builder.isFull()) result->append(builder.take());
    }
    result->append(builder.take());
    return result;
}

void expectWhole(const ResultSet& result) {
    for (std::size_t i = 0; i < result.rowCount(); i += 97) {
        ASSERT_EQ(result.cell(i, 0).integer, static_cast<std::int64_t>(i));
        if (i % 10 == 3) {
            ASSERT_TRUE(result.cell(i, 1).isNull());
        } else {
            ASSERT_EQ(result.cell(i, 1).bytes, fmt::format("reading number {}", i));
        }
    }
}

TEST(ResultBudgetTest, TheResultLookedAtLongestAgoGoesToDiskAndReadsAsBefore) {
    const test::TemporaryFolder folder;
    const auto first = manyRows(100'000);
    const auto second = manyRows(100'000);
    ResultBudget budget(first->memoryBytes() + second->memoryBytes() / 2, folder.path());
    budget.add(first);
    budget.add(second);
    const std::string_view before = first->cell(50'000, 1).bytes;
    ASSERT_TRUE(budget.enforce());
    EXPECT_GT(first->diskBytes(), 0U);
    EXPECT_EQ(second->diskBytes(), 0U);
    EXPECT_LE(budget.usage().inMemory, first->memoryBytes() + second->memoryBytes());
    EXPECT_EQ(before, "reading number 50000") << "who looked at a cell still does";
    EXPECT_EQ(before.data(), first->cell(50'000, 1).bytes.data());
    expectWhole(*first);
    EXPECT_TRUE(std::filesystem::is_empty(folder.path())) << "the file has no name";
}

TEST(ResultBudgetTest, WhatIsUsedOrPinnedStays) {
    const test::TemporaryFolder folder;
    const auto a = manyRows(60'000);
    const auto b = manyRows(60'000);
    const auto c = manyRows(60'000);
    ResultBudget budget(2 * a->memoryBytes() + a->memoryBytes() / 2, folder.path());
    for (const auto& result : {a, b, c}) budget.add(result);
    budget.setPinned(b.get(), true);
    budget.noteUse(a.get());
    ASSERT_TRUE(budget.enforce());
    EXPECT_EQ(a->diskBytes(), 0U);
    EXPECT_EQ(b->diskBytes(), 0U);
    EXPECT_GT(c->diskBytes(), 0U);
}

TEST(ResultBudgetTest, AFullDiskIsToldAndNothingIsLost) {
    const auto result = manyRows(50'000);
    ResultBudget budget(1000, "/nowhere/at/all");
    budget.add(result);
    EXPECT_FALSE(budget.enforce());
    expectWhole(*result);
    EXPECT_GT(result->memoryBytes(), 1000U);
}

TEST(ResultBudgetTest, ReadersAreNotDisturbedWhileRowsMove) {
    const test::TemporaryFolder folder;
    const auto result = manyRows(200'000);
    std::atomic<bool> isOver{false};
    std::thread reader([&] {
        while (!isOver) expectWhole(*result);
    });
    for (int i = 0; i < 20; ++i) ASSERT_TRUE(result->moveToDisk(folder.path(), result->memoryBytes() / 4));
    isOver = true;
    reader.join();
    EXPECT_GT(result->diskBytes(), result->memoryBytes());
}

RC_GTEST_PROP(PageBufferProperty, HoldsWhatAVectorHolds, (const std::vector<std::vector<std::int64_t>>& pieces)) {
    PageBuffer<std::int64_t> buffer;
    std::vector<std::int64_t> expected;
    for (const auto& piece : pieces) {
        for (int i = 0; i < 40; ++i) {
            buffer.append(piece.data(), piece.size());
            expected.insert(expected.end(), piece.begin(), piece.end());
        }
        buffer.push_back(7);
        expected.push_back(7);
        buffer.shrinkIfLoose();
    }
    RC_ASSERT(buffer.size() == expected.size());
    RC_ASSERT(std::equal(buffer.begin(), buffer.end(), expected.begin()));
}

}  // namespace
}  // namespace pantry::data
