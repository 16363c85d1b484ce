#include "core/work/run_queue.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace pantry::work {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

/// Sends nothing anywhere: remembers, and lets the test say how each one ends.
class RunQueueTest : public testing::Test, public RunQueueClient {
protected:
    std::optional<db::HeldBack> whyHeld(const sql::Statement& statement) const override {
        if (!statement.text().starts_with("DROP")) return std::nullopt;
        return db::HeldBack{.reason = "DROP removes it."};
    }
    bool send(const QueuedStatement& next, Consent consent) override {
        if (!isConnected) return false;
        sent.push_back(next.statement.text());
        consents.push_back(consent);
        if (failsAtOnce) {
            queue.noteFailed(next.batch, {});
            return true;
        }
        going.push_back(next);
        return true;
    }
    std::size_t underWay() const override { return going.size(); }
    std::string connectionName() const override { return "Orchard"; }
    void noteHeldChanged() override { ++heldChanges; }
    void noteLeftOut(std::size_t statements) override { leftOut += statements; }

    /// The oldest of those under way ends well.
    void finish() {
        going.erase(going.begin());
        queue.goOn();
    }
    /// The oldest fails.
    void fail() {
        const QueuedStatement failed = going.front();
        going.erase(going.begin());
        queue.noteFailed(failed.batch, "Statement 1 failed.");
    }
    static std::vector<sql::Statement> statements(std::initializer_list<const char*> texts) {
        return {texts.begin(), texts.end()};
    }

    RunQueue queue{*this};
    bool isConnected = true;
    bool failsAtOnce = false;
    std::vector<std::string> sent;
    std::vector<Consent> consents;
    std::vector<QueuedStatement> going;
    int heldChanges = 0;
    std::size_t leftOut = 0;
};

TEST_F(RunQueueTest, WhatIsAddedIsSentInItsOrder) {
    queue.add(statements({"SELECT 1", "SELECT 2"}));
    queue.add(statements({"SELECT 3"}));
    EXPECT_THAT(sent, ElementsAre("SELECT 1", "SELECT 2", "SELECT 3"));
    EXPECT_EQ(going[0].batch, going[1].batch);
    EXPECT_NE(going[0].batch, going[2].batch);
    EXPECT_TRUE(queue.isEmpty());
}

TEST_F(RunQueueTest, OnlySoManyAreUnderWayAtATime) {
    std::vector<sql::Statement> many(40, sql::Statement("SELECT 1"));
    queue.add(many);
    EXPECT_EQ(sent.size(), 32U);
    finish();
    finish();
    EXPECT_EQ(sent.size(), 34U);
    queue.stop();
    finish();
    EXPECT_EQ(sent.size(), 34U);
}

TEST_F(RunQueueTest, WhatIsHeldBackWaitsForTheConnectionsName) {
    queue.add(statements({"SELECT 1", "DROP TABLE basket", "SELECT 2"}));
    ASSERT_TRUE(queue.held());
    EXPECT_EQ(queue.held()->statement.text(), "DROP TABLE basket");
    EXPECT_EQ(queue.held()->after, 1U);
    EXPECT_THAT(sent, ElementsAre("SELECT 1"));
    const Status wrong = queue.confirm("Orchard live");
    ASSERT_FALSE(wrong);
    EXPECT_THAT(wrong.error().message, testing::HasSubstr("Orchard"));
    EXPECT_TRUE(queue.held()) << "it waits on";
    EXPECT_TRUE(queue.confirm("Orchard"));
    EXPECT_THAT(sent, ElementsAre("SELECT 1", "DROP TABLE basket", "SELECT 2"));
    EXPECT_THAT(consents, ElementsAre(Consent::None, Consent::Confirmed, Consent::None));
}

TEST_F(RunQueueTest, OneConfirmationIsForOneStatement) {
    queue.add(statements({"DROP TABLE a", "DROP TABLE b"}));
    ASSERT_TRUE(queue.confirm("Orchard"));
    ASSERT_TRUE(queue.held());
    EXPECT_EQ(queue.held()->statement.text(), "DROP TABLE b");
    queue.dismiss();
    EXPECT_THAT(sent, ElementsAre("DROP TABLE a"));
    EXPECT_TRUE(queue.isEmpty());
}

TEST_F(RunQueueTest, WhatComesNextTakesThePlaceOfWhatIsHeldBack) {
    queue.add(statements({"DROP TABLE a", "SELECT 1"}));
    queue.add(statements({"SELECT 2"}));
    EXPECT_FALSE(queue.held());
    EXPECT_THAT(sent, ElementsAre("SELECT 2"));
}

TEST_F(RunQueueTest, ThoseBehindAFailureAreGivenUp) {
    queue.setOnError(OnError::Stop);
    std::vector<sql::Statement> many(35, sql::Statement("SELECT 1"));
    queue.add(many);
    fail();
    EXPECT_EQ(leftOut, 34U) << "3 that waited and 31 in the session";
    EXPECT_TRUE(queue.isEmpty());
    EXPECT_NE(queue.batchToSend(going.front()), nullptr) << "the session gives up those that it has";
}

TEST_F(RunQueueTest, OrTheyRunAllTheSame) {
    queue.setOnError(OnError::GoOn);
    queue.add(statements({"SELECT 1", "SELECT 2"}));
    EXPECT_EQ(queue.batchToSend(going.front()), nullptr);
    fail();
    EXPECT_EQ(leftOut, 0U);
    EXPECT_EQ(going.size(), 1U);
}

TEST_F(RunQueueTest, OrSomebodyIsAsked) {
    queue.setOnError(OnError::Ask);
    queue.add(statements({"SELECT 1", "DROP TABLE a", "SELECT 2"}));
    EXPECT_THAT(sent, ElementsAre("SELECT 1")) << "one at a time";
    fail();
    ASSERT_TRUE(queue.held());
    EXPECT_EQ(queue.held()->afterWhat, "Statement 1 failed.");
    EXPECT_EQ(queue.held()->why.reason, "DROP removes it.") << "one look is enough for both";
    EXPECT_FALSE(queue.confirm("")) << "its own guard still asks for the name";
    ASSERT_TRUE(queue.confirm("Orchard"));
    EXPECT_THAT(sent, ElementsAre("SELECT 1", "DROP TABLE a"));
    fail();
    ASSERT_TRUE(queue.held());
    EXPECT_TRUE(queue.held()->isOnlyAsked());
    EXPECT_TRUE(queue.confirm("")) << "nothing need be confirmed";
    EXPECT_EQ(sent.back(), "SELECT 2");
}

TEST_F(RunQueueTest, WhatTheSessionHoldsBackWaitsInFrontOfThoseItDidNotRun) {
    queue.add(statements({"CALL pick()", "SELECT 1", "SELECT 2"}));
    const std::vector<QueuedStatement> returned = std::exchange(going, {});
    queue.noteHeld(returned[0], {.reason = "Nobody knows what pick does."});
    queue.noteNotRun(returned[1]);
    queue.noteNotRun(returned[2]);
    ASSERT_TRUE(queue.held());
    EXPECT_EQ(queue.held()->after, 2U);
    sent.clear();
    ASSERT_TRUE(queue.confirm("Orchard"));
    EXPECT_THAT(sent, ElementsAre("CALL pick()", "SELECT 1", "SELECT 2"));
    EXPECT_NE(going.front().batch, returned.front().batch) << "the old one has ended";
    EXPECT_EQ(going.front().batch, going.back().batch);
}

TEST_F(RunQueueTest, StopKeepsWhatIsHeldBack) {
    queue.add(statements({"DROP TABLE a", "SELECT 1"}));
    queue.stop();
    EXPECT_TRUE(queue.held());
    EXPECT_FALSE(queue.isWaiting("SELECT 1")) << "it waits for a confirmation, not for its turn";
}

TEST_F(RunQueueTest, PressingTwiceIsKnownFromWhatWaits) {
    queue.setOnError(OnError::Ask);
    queue.add(statements({"SELECT 1", "SELECT 2"}));
    EXPECT_TRUE(queue.isWaiting("SELECT 2"));
    EXPECT_FALSE(queue.isWaiting("SELECT 3"));
}

TEST_F(RunQueueTest, WhatFailsWhileItIsSentDoesNotBuildUpCalls) {
    queue.setOnError(OnError::GoOn);
    failsAtOnce = true;
    queue.add(std::vector<sql::Statement>(100'000, sql::Statement("SELECT 1")));
    EXPECT_EQ(sent.size(), 100'000U);
}

TEST_F(RunQueueTest, WithoutAConnectionNothingWaits) {
    isConnected = false;
    queue.add(statements({"SELECT 1", "SELECT 2"}));
    EXPECT_TRUE(queue.isEmpty());
    EXPECT_THAT(sent, IsEmpty());
}

}  // namespace
}  // namespace pantry::work
