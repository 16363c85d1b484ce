// The program is killed again and again while somebody types, runs, saves and moves; nothing that was done is missing.
#include <gmock/gmock.h>
#include <signal.h>

#include <QProcess>
#include <random>
#include <sstream>

#include "app/window_fixture.h"
#include "core/shelf/shelf.h"

namespace pantry::app {
namespace {

class KilledWindowTest : public WindowTest {
protected:
    void SetUp() override {
        ::setenv("HOME", folder_.path().c_str(), 1);
        ::setenv("GIT_CONFIG_NOSYSTEM", "1", 1);
        WindowTest::SetUp();
        closeWindow();
        auto shelf = shelf::Shelf::openOwn(home().shelfFolder());
        ASSERT_TRUE(shelf->save("here/moving.sql", "SELECT 'moving';\n"));
    }
    [[nodiscard]] std::string diary() const { return (folder_ / "diary.txt").string(); }

    /// Lets the program work until it has noted so many lines more that begin so (0: however far it has come) and then
    /// as long as is said, then kills it. A busy machine needs longer for the same, so that lines are counted and not
    /// only time.
    void workAndKill(std::string_view beginning, std::size_t lines, int milliseconds) {
        const std::size_t before = diaryLines(beginning);
        QProcess child;
        child.start(QApplication::applicationFilePath(),
                    {QStringLiteral("--work"), toQt((folder_ / "home").string()), toQt(diary())});
        ASSERT_TRUE(child.waitForStarted());
        EVENTUALLY(diaryLines(beginning) >= before + lines);
        QTest::qWait(milliseconds);
        ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
        ASSERT_TRUE(child.waitForFinished());
    }

    [[nodiscard]] std::size_t diaryLines(std::string_view beginning) const {
        if (!std::filesystem::exists(diary())) return 0;
        std::istringstream in(test::contentOf(diary()));
        std::size_t count = 0;
        for (std::string line; std::getline(in, line);)
            if (!in.eof() && line.starts_with(beginning)) ++count;
        return count;
    }

    /// What the diary says was done: runs, and the last number of each saved query.
    void readDiary() {
        std::istringstream in(test::contentOf(diary()));
        for (std::string line; std::getline(in, line);) {
            if (!in.eof() && line.starts_with("ran ")) ran_.insert(line.substr(4));
            std::istringstream words(line);
            std::string verb;
            std::string path;
            std::int64_t number = 0;
            if (words >> verb >> path >> number; verb == "saved" && number > 0)
                saved_[path] = std::max(saved_[path], number);
        }
    }
    /// The number that a content has at its beginning and at its end; 0 for one that is not whole.
    static std::int64_t numberOf(const std::string& content) {
        const std::size_t title = content.find("-- title: Q ");
        const std::size_t end = content.find("-- end ");
        if (title == std::string::npos || end == std::string::npos) return 0;
        const std::int64_t number = std::atoll(content.c_str() + title + 12);
        return number == std::atoll(content.c_str() + end + 7) && content.ends_with('\n') ? number : 0;
    }
    void checkShelf() {
        auto shelf = shelf::Shelf::openOwn(home().shelfFolder());
        ASSERT_TRUE(shelf);
        ASSERT_TRUE(shelf->hasVersions()) << shelf->problem()->text();
        const auto items = shelf->list();
        ASSERT_TRUE(items) << items.error().text();
        const auto isMoving = [](const shelf::ShelfItem& one) { return one.path.ends_with("moving.sql"); };
        EXPECT_EQ(std::ranges::count_if(*items, isMoving), 1) << "it is in one place or in the other";
        for (const auto& [path, number] : saved_) {
            EXPECT_GE(numberOf(test::contentOf(shelf->fileOf(path))), number) << path;
            const auto kept = (*shelf->repository())->lastText(path);
            ASSERT_TRUE(kept) << kept.error().text();
            EXPECT_GE(numberOf(kept->value_or("")), number) << path << " as its last version";
        }
    }
    void checkLedger() {
        auto ledger = store::Ledger::open(home().ledgerFile());
        ASSERT_TRUE(ledger) << ledger.error().text();
        std::set<std::string> there;
        const auto entries = (*ledger)->find({.limit = 100'000});
        ASSERT_TRUE(entries);
        for (const store::LedgerEntry& one : *entries) there.insert(one.start.statement);
        for (const std::string& one : ran_) EXPECT_TRUE(there.contains(one)) << one;
    }

    std::set<std::string> ran_;
    std::map<std::string, std::int64_t> saved_;
};

TEST_F(KilledWindowTest, FiftyKillsLoseNothingThatWasDone) {
    std::mt19937 random(50);
    std::uniform_int_distribution<int> fromStart(0, 400);
    std::uniform_int_distribution<int> afterLines(0, 40);
    std::uniform_int_distribution<std::size_t> lines(1, 12);
    std::uniform_int_distribution<std::size_t> versions(1, 3);
    std::size_t waitedFor = 0;
    for (int i = 0; i < 50; ++i) {
        if (i % 4 == 0) {
            workAndKill("", 0, fromStart(random));
        } else if (i % 4 == 2) {
            const std::size_t count = versions(random);
            waitedFor += count;
            workAndKill("saved ", count, afterLines(random));
        } else {
            workAndKill("ran ", lines(random), afterLines(random));
        }
        readDiary();
        checkShelf();
        if (HasFatalFailure() || HasNonfatalFailure()) FAIL() << "after " << i + 1 << " kills";
    }
    checkLedger();
    EXPECT_GT(ran_.size(), 20U) << "it did something at all: more than a hundred runs were waited for";
    EXPECT_GE(diaryLines("saved "), waitedFor);
    EXPECT_GE(waitedFor, 12U) << "one of the shelf's kills a time";
    EXPECT_FALSE(saved_.empty());
    openWindow();
    ASSERT_NE(window_->currentSheet(), nullptr);
    EXPECT_THAT(editorText(), testing::HasSubstr("-- typed "));
    EXPECT_EQ(window_->sheets().size(), 1U) << "the one sheet, and no copy of it";
}

}  // namespace
}  // namespace pantry::app
