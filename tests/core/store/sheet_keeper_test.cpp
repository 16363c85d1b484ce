#include "core/store/sheet_keeper.h"

#include <atomic>
#include <chrono>
#include <thread>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

std::string textIn(const std::filesystem::path& file) { return test::contentOf(file); }

TEST(SheetKeeperTest, TheLastStateIsWrittenHoweverManyCome) {
    const test::TemporaryFolder folder;
    std::atomic<int> told{0};
    SheetKeeper keeper(folder.path(), [&](const std::optional<Error>&) { ++told; });
    // In small pieces, so that some come while others are being written.
    for (int i = 0; i <= 5000; ++i) {
        keeper.keep({.id = "one", .text = "select " + std::to_string(i)});
        if (i % 100 == 0) std::this_thread::sleep_for(std::chrono::microseconds(300));
    }
    EXPECT_LE(keeper.waiting(), 1U) << "what is slow does not pile up";
    keeper.flush();
    keeper.flush();
    EXPECT_THAT(textIn(folder / "one.json"), testing::HasSubstr("select 5000"));
    EXPECT_EQ(keeper.waiting(), 0U);
    EXPECT_EQ(told, 0) << "nothing failed, so there is nothing to tell";
}

TEST(SheetKeeperTest, WhatCouldNotBeWrittenIsKeptAndWrittenWhenThereIsRoom) {
    const test::TemporaryFolder folder;
    const auto sheets = folder / "sheets";
    test::writeFile(sheets, "a file where the folder should be: nothing can be written");
    std::atomic<int> failures{0};
    std::atomic<int> mended{0};
    SheetKeeper keeper(sheets, [&](const std::optional<Error>& error) { error ? ++failures : ++mended; });
    keeper.keep({.id = "one", .text = "first"});
    keeper.flush();
    keeper.keep({.id = "one", .text = "second"});
    keeper.keep({.id = "two", .text = "other"});
    keeper.flush();
    keeper.retry();
    keeper.flush();
    EXPECT_EQ(failures, 1) << "told once";
    EXPECT_EQ(keeper.waiting(), 2U);
    std::filesystem::remove(sheets);
    std::filesystem::create_directory(sheets);
    keeper.retry();
    keeper.flush();
    EXPECT_EQ(mended, 1);
    EXPECT_THAT(textIn(sheets / "one.json"), testing::HasSubstr("second"));
    EXPECT_THAT(textIn(sheets / "two.json"), testing::HasSubstr("other"));
}

TEST(SheetKeeperTest, AClosedSheetDoesNotComeBackByItself) {
    const test::TemporaryFolder folder;
    SheetKeeper keeper(folder.path(), [](const std::optional<Error>&) {});
    keeper.keep({.id = "one", .text = "select 1"});
    keeper.close({.id = "one", .text = "select 2"}, [](const Status& status) { EXPECT_TRUE(status); });
    std::optional<SheetState> reopened;
    keeper.reopenLast([&](Result<std::optional<SheetState>> sheet) { reopened = *sheet; });
    keeper.flush();
    ASSERT_TRUE(reopened);
    EXPECT_EQ(reopened->text, "select 2");
}

}  // namespace
}  // namespace pantry::store
