#include "core/store/ledger.h"

#include <sys/wait.h>
#include <unistd.h>

#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using namespace std::chrono_literals;
using test::TemporaryFolder;

class LedgerTest : public testing::Test {
protected:
    LedgerTest() : ledger_(Ledger::open(path()).value()) {}
    [[nodiscard]] std::filesystem::path path() const { return folder_ / "ledger.db"; }

    std::int64_t run(const std::string& statement, RunEnd end = {}, const std::string& connection = "c1") {
        const auto id =
            ledger_
                ->start({.connectionId = connection, .connectionName = "Kitchen", .statement = statement}, base::now())
                .value();
        EXPECT_TRUE(ledger_->end(id, end));
        return id;
    }
    std::vector<std::string> found(const std::string& search) {
        std::vector<std::string> out;
        const auto entries = ledger_->find(parseLedgerSearch(search, base::now())).value();
        for (const auto& e : entries) out.push_back(e.start.statement);
        return out;
    }

    TemporaryFolder folder_;
    std::unique_ptr<Ledger> ledger_;
};

TEST_F(LedgerTest, KeepsRunsNewestFirst) {
    run("select 1", {.duration = 5ms, .rows = 24});
    run("select 2", {.status = RunStatus::Failed, .error = "No such table."});

    const auto entries = ledger_->find({}).value();

    ASSERT_EQ(entries.size(), 2U);
    EXPECT_EQ(entries[0].start.statement, "select 2");
    EXPECT_EQ(entries[0].end.status, RunStatus::Failed);
    EXPECT_EQ(entries[0].end.error, "No such table.");
    EXPECT_EQ(entries[1].end.rows, 24);
    EXPECT_EQ(entries[1].end.duration, 5ms);
}

TEST_F(LedgerTest, FindsByWordsAndByWhatHappened) {
    run("select * from inspection", {.duration = 3s, .rows = 5000});
    run("select * from plot", {.rows = 24});
    run("delete from plot", {.status = RunStatus::Failed, .error = "locked"});

    EXPECT_THAT(found("spect"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("plot select"), testing::ElementsAre("select * from plot"));
    EXPECT_THAT(found("failed"), testing::ElementsAre("delete from plot"));
    EXPECT_THAT(found("slow"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("rows>1000"), testing::ElementsAre("select * from inspection"));
    EXPECT_THAT(found("today pl"), testing::ElementsAre("delete from plot", "select * from plot"));
    EXPECT_THAT(found("100%"), testing::IsEmpty());
    EXPECT_THAT(found("\"quoted"), testing::IsEmpty());
}

TEST_F(LedgerTest, AsksForOneConnection) {
    run("select 1", {}, "c1");
    run("select 2", {}, "c2");
    EXPECT_EQ(ledger_->find({.connectionId = "c2"})->size(), 1U);
    EXPECT_EQ(ledger_->usage()->size(), 2U);
}

TEST_F(LedgerTest, SurvivesAProgramThatWasKilled) {
    const pid_t child = ::fork();
    if (child == 0) {  // starts a run and is gone before its end
        const auto own = Ledger::open(path());
        const auto id = (*own)->start({.connectionId = "c", .connectionName = "Kitchen", .statement = "select forever"},
                                      base::now());
        ::kill(::getpid(), SIGKILL);
        ::_exit(id ? 0 : 1);
    }
    int state = 0;
    ::waitpid(child, &state, 0);
    ASSERT_TRUE(WIFSIGNALED(state));

    const auto entries = ledger_->find({}).value();
    ASSERT_EQ(entries.size(), 1U);
    EXPECT_EQ(entries[0].end.status, RunStatus::Interrupted);
    EXPECT_EQ(Ledger::open(path()).value()->find({.onlyFailed = true})->size(), 1U);
}

TEST_F(LedgerTest, ARunningRunOfALivingProgramIsRunning) {
    const auto id = ledger_->start({.connectionName = "Kitchen", .statement = "select 1"}, base::now());
    ASSERT_TRUE(id);
    EXPECT_EQ(Ledger::open(path()).value()->find({})->at(0).end.status, RunStatus::Running);
}

TEST_F(LedgerTest, RemovesAnEntryFromTheSearchToo) {
    const auto id = run("select secret_thing");
    ASSERT_TRUE(ledger_->remove(id));
    EXPECT_THAT(found("secret_thing"), testing::IsEmpty());
    EXPECT_TRUE(ledger_->find({})->empty());
}

TEST_F(LedgerTest, ALedgerOfANewerVersionIsNotTouched) {
    ledger_.reset();
    test::runScript(path(), "PRAGMA user_version = 99");
    const auto opened = Ledger::open(path());
    ASSERT_FALSE(opened);
    EXPECT_EQ(opened.error().kind, ErrorKind::TooNew);
}

TEST_F(LedgerTest, LedgersOfEveryVersionAreReadAndWrittenOn) {
    std::size_t versions = 0;
    for (const auto& file : std::filesystem::directory_iterator(LEDGERS_FOLDER)) {
        ++versions;
        const auto path = folder_ / (file.path().stem().string() + ".db");
        test::runScript(path, test::contentOf(file.path()));
        const auto ledger = Ledger::open(path);
        ASSERT_TRUE(ledger) << ledger.error().text();
        const auto entries = (*ledger)->find({}).value();
        ASSERT_EQ(entries.size(), 2U) << file.path();
        EXPECT_EQ(entries[0].end.error, "No such column: jasr");
        EXPECT_EQ(entries[1].end.rows, 24);
        EXPECT_EQ(entries[1].start.sheet, "Jars");
        const bool hasParameters = file.path().stem() != "version_1";
        EXPECT_EQ(entries[1].start.parameters, hasParameters ? "least = 200" : "");
        ASSERT_TRUE(
            (*ledger)->start({.connectionId = "c1", .statement = "SELECT 3", .parameters = "n = 3"}, base::now()));
        EXPECT_EQ((*ledger)->find({})->at(0).start.parameters, "n = 3");
        EXPECT_EQ((*ledger)->find(parseLedgerSearch("batch", base::now()))->size(), 2U);
        EXPECT_EQ((*ledger)->find({})->size(), 3U);
    }
    EXPECT_EQ(versions, 2U) << "a version more needs a file more";
}

TEST_F(LedgerTest, AFileThatIsNoLedgerIsNotTouched) {
    test::writeFile(folder_ / "other.db", std::string(9000, 'x'));
    EXPECT_EQ(Ledger::open(folder_ / "other.db").error().kind, ErrorKind::Damaged);
    EXPECT_EQ(test::contentOf(folder_ / "other.db"), std::string(9000, 'x'));
}

TEST_F(LedgerTest, TwoProgramsWriteIntoOne) {
    auto other = Ledger::open(path()).value();
    for (int i = 0; i < 50; ++i) {
        run("select " + std::to_string(i));
        ASSERT_TRUE(other->start({.connectionName = "x", .statement = "other"}, base::now()));
    }
    EXPECT_EQ(ledger_->find({})->size(), 100U);
}

}  // namespace
}  // namespace pantry::store
