// What a server says may be anything: it breaks off anywhere, or its bytes are changed on the way. The program lives,
// and every run ends.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cstdlib>
#include <future>
#include <mutex>
#include <thread>

#include "core/base/uncaught.h"
#include "core/db/engine_bench.h"
#include "support/faulty_proxy.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using test::FaultyProxy;

/// How many changed lines are tried; scripts/deep-check asks for many more.
unsigned seeds() {
    const char* wanted = std::getenv("PANTRY_SEEDS");
    return wanted == nullptr ? 60 : static_cast<unsigned>(std::atoi(wanted));
}

class HostileServersTest : public testing::TestWithParam<Engine> {
protected:
    void SetUp() override {
        const bool isPostgres = GetParam() == Engine::Postgres;
        ASSERT_EQ(isPostgres ? test::sharedPostgres().startup() : test::sharedMariaDb().startup(), "");
        const auto real = isPostgres ? test::sharedPostgres().folder() / ".s.PGSQL.5432"
                                     : std::filesystem::path(test::sharedMariaDb().socket());
        const auto place = isPostgres ? folder_ / ".s.PGSQL.5432" : folder_ / "socket";
        proxy_ = std::make_unique<FaultyProxy>(place, real);
        profile_ = isPostgres ? test::profileFor(test::sharedPostgres()) : test::profileFor(test::sharedMariaDb());
        profile_.host = isPostgres ? folder_.path().string() : place.string();
        profile_.options["connect-seconds"] = "2";
        profile_.options["tls"] = "off";
    }

    /// Connects, reads, and looks at the catalog, all of which may fail.
    void useIt() {
        Session session(profile_, std::nullopt);
        for (const char* sql : {"SELECT 1 AS one, 'text' AS two, NULL AS three", "SELECT nonsense",
                                "SELECT table_name FROM information_schema.tables"}) {
            auto recorder = std::make_shared<test::RunRecorder>();
            const RunHandle handle =
                session.execute({.statement = sql, .pageRows = std::nullopt, .guard = onlyReading()}, recorder);
            waitOrStop(handle, *recorder);
        }
    }

    /// A server that says nothing more is left after a while, as a person would leave it.
    static void waitOrStop(const RunHandle& handle, test::RunRecorder& recorder) {
        std::atomic<bool> isOver{false};
        std::thread impatient([&] {
            for (int i = 0; i < 150 && !isOver; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(10));
            if (!isOver) handle.cancel();
        });
        recorder.waitForEnd();
        isOver = true;
        impatient.join();
    }

    test::TemporaryFolder folder_;
    ConnectionProfile profile_;
    std::unique_ptr<FaultyProxy> proxy_;
};

TEST_P(HostileServersTest, ATestOfAConnectionSurvivesALineThatBreaksAnywhere) {
    const auto driver = driverFor(GetParam());
    ASSERT_TRUE(driver);
    for (std::size_t bytes = 0; bytes < 900; bytes += 12) {
        proxy_->setHarm({.mostBytes = bytes});
        const auto stages = (*driver)->test(profile_, std::nullopt, {});
        ASSERT_FALSE(stages.empty());
        EXPECT_TRUE(stages.back().error || bytes > 400) << bytes << ": " << stages.back().name;
        EXPECT_FALSE(stages.back().error && stages.back().error->message.empty());
    }
}

TEST_P(HostileServersTest, RunsEndWhateverBytesAreChanged) {
    std::mutex mutex;
    std::vector<std::string> thrown;
    base::onUncaught([&](const Error& error) {
        const std::lock_guard lock(mutex);
        thrown.push_back(error.text());
    });
    for (unsigned seed = 1; seed <= seeds(); ++seed) {
        proxy_->setHarm(
            {.seed = seed, .oneIn = seed % 3 == 0 ? 40 : 400, .quietMs = 40, .spared = seed % 2 == 0 ? 0U : 120U});
        useIt();
    }
    base::onUncaught({});
    EXPECT_THAT(thrown, testing::IsEmpty()) << "no exception is how a strange answer is told";
    proxy_->setHarm({});
    EXPECT_THAT(test::Line(profile_).rows("SELECT 1"), testing::ElementsAre("1"));
}

/// Throws where a disk or memory could.
class ThrowingConsumer final : public ChunkConsumer {
public:
    Status begin(const std::vector<data::Column>&) override {
        if (inBegin) throw std::runtime_error("no room");
        return {};
    }
    Status take(const data::Chunk&) override { throw std::bad_alloc(); }
    bool inBegin = false;
};

TEST_P(HostileServersTest, AnExceptionEndsItsRunAndNoMore) {
    base::onUncaught([](const Error&) {});
    Session session(profile_, std::nullopt);
    for (const bool inBegin : {false, true}) {
        auto consumer = std::make_shared<ThrowingConsumer>();
        consumer->inBegin = inBegin;
        auto recorder = std::make_shared<test::RunRecorder>();
        session.execute({.statement = "SELECT 1", .pageRows = std::nullopt, .consumer = consumer}, recorder);
        recorder->waitForEnd();
        ASSERT_TRUE(recorder->error());
        EXPECT_EQ(recorder->error()->kind, ErrorKind::Internal);
    }
    std::promise<void> isRead;
    session.loadCatalog({.progress = [](std::string_view, std::size_t, std::size_t) { throw std::runtime_error("x"); }},
                        [&](const Result<catalog::CatalogPtr>& catalog) {
                            EXPECT_FALSE(catalog);
                            isRead.set_value();
                        });
    isRead.get_future().wait();
    auto recorder = std::make_shared<test::RunRecorder>();
    session.execute({.statement = "SELECT 7"}, recorder);
    recorder->waitForEnd();
    EXPECT_FALSE(recorder->error()) << recorder->error()->text();
    base::onUncaught({});
}

/// Engines whose statements may have several results.
class SeveralResultsTest : public HostileServersTest {};

TEST_P(SeveralResultsTest, ResultsAndNoticesBeyondALimitAreCountedAndNotKept) {
    test::Line line(profile_);
    line.run("CREATE DATABASE IF NOT EXISTS many");
    line.run("DROP PROCEDURE IF EXISTS many.results");
    const auto made = line.run(
        "CREATE PROCEDURE many.results() BEGIN DECLARE i int DEFAULT 0; WHILE i < 3000 DO SELECT i; "
        "SET i = i + 1; END WHILE; END");
    ASSERT_FALSE(made->error()) << made->error()->text();
    const auto run = line.run("CALL many.results()");
    EXPECT_FALSE(run->error());
    EXPECT_EQ(run->results().size(), kMaxResults);
    EXPECT_EQ(run->summary().resultsLeftOut, 3000 - kMaxResults);
    EXPECT_THAT(line.rows("SELECT 1"), testing::ElementsAre("1"));
    line.run("DROP DATABASE many");
}

INSTANTIATE_TEST_SUITE_P(Engines, HostileServersTest, testing::Values(Engine::Postgres, Engine::MariaDb),
                         [](const auto& engine) { return std::string(engineWord(engine.param)); });

INSTANTIATE_TEST_SUITE_P(Engines, SeveralResultsTest, testing::Values(Engine::MariaDb),
                         [](const auto& engine) { return std::string(engineWord(engine.param)); });

}  // namespace
}  // namespace pantry::db
