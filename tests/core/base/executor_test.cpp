#include "core/base/executor.h"

#include <atomic>
#include <future>
#include <stdexcept>
#include <string>

#include "core/base/uncaught.h"

namespace pantry::base {
namespace {

TEST(ExecutorTest, WhoWaitsForSomethingDoesNotHoldUpTheOthers) {
    Executor executor(2);
    std::promise<void> ripe;
    executor.post([&] { ripe.get_future().wait(); });
    std::promise<int> second;
    executor.post([&] { second.set_value(2); });
    EXPECT_EQ(second.get_future().get(), 2) << "the first one waits for what comes now";
    ripe.set_value();
    executor.drain();
}

TEST(ExecutorTest, DoesWhatIsLeftBeforeItGoes) {
    std::atomic<int> picked = 0;
    {
        Executor executor(1);
        for (int i = 0; i < 100; ++i) executor.post([&] { ++picked; });
    }
    EXPECT_EQ(picked, 100);
}

TEST(ExecutorTest, WhatIsLeftMayLeaveMore) {
    std::atomic<int> picked = 0;
    {
        Executor executor(3);
        executor.post([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(20));  // it closes meanwhile
            for (int i = 0; i < 5; ++i) executor.post([&] { ++picked; });
        });
    }
    EXPECT_EQ(picked, 5);
}

TEST(ExecutorTest, DrainingWaitsForWhatJobsPostThemselves) {
    Executor executor(2);
    std::atomic<int> picked = 0;
    executor.post([&] {
        ++picked;
        executor.post([&] { ++picked; });
    });
    executor.drain();
    EXPECT_EQ(picked, 2);
}

TEST(ExecutorTest, AJobThatThrowsIsToldAndTheNextOneIsDone) {
    std::atomic<int> told = 0;
    onUncaught([&](const Error&) { ++told; });
    Executor executor(1);
    std::atomic<bool> isDone = false;
    executor.post([] { throw std::runtime_error("the ladder broke"); });
    executor.post([&] { isDone = true; });
    executor.drain();
    onUncaught({});
    EXPECT_EQ(told, 1);
    EXPECT_TRUE(isDone);
}

TEST(ExecutorTest, TheProgramsOwnAreThreeSoThatWaitingForOneIsNotWaitingForAll) {
    std::promise<void> answer;
    std::shared_future<void> answered = answer.get_future().share();
    for (int i = 0; i < 200; ++i) Executor::of(Work::Network).post([answered] { answered.wait(); });
    std::promise<int> sorted;
    Executor::of(Work::Interactive).post([&] { sorted.set_value(1); });
    EXPECT_EQ(sorted.get_future().get(), 1);
    std::promise<int> written;
    Executor::of(Work::Long).post([&] { written.set_value(1); });
    EXPECT_EQ(written.get_future().get(), 1);
    answer.set_value();
    Executor::drainAll();
}

TEST(StrandTest, JobsFollowEachOtherThoughTheExecutorHasManyThreads) {
    Executor executor(4);
    std::string order;
    {
        Strand strand(executor);
        std::promise<void> done;
        for (char c = 'a'; c <= 'z'; ++c) strand.post([&order, c] { order += c; });
        strand.post([&] { done.set_value(); });
        done.get_future().wait();
    }
    EXPECT_EQ(order, "abcdefghijklmnopqrstuvwxyz");
}

TEST(StrandTest, WhatHasNotBegunIsDroppedWhenItGoes) {
    Executor executor(2);
    std::promise<void> begun;
    std::promise<void> mayEnd;
    std::atomic<bool> isFirstDone = false;
    std::atomic<bool> isSecondDone = false;
    {
        Strand strand(executor);
        strand.post([&] {
            begun.set_value();
            mayEnd.get_future().wait();
            isFirstDone = true;
        });
        begun.get_future().wait();
        strand.post([&] { isSecondDone = true; });
    }
    mayEnd.set_value();
    executor.drain();
    EXPECT_TRUE(isFirstDone);
    EXPECT_FALSE(isSecondDone);
}

TEST(StrandTest, OneStrandThatWaitsDoesNotHoldUpAnother) {
    Executor executor(2);
    std::promise<void> mayEnd;
    std::promise<int> other;
    Strand first(executor);
    Strand second(executor);
    first.post([&] { mayEnd.get_future().wait(); });
    for (int i = 0; i < 50; ++i) first.post([] {});
    second.post([&] { other.set_value(3); });
    EXPECT_EQ(other.get_future().get(), 3);
    mayEnd.set_value();
    executor.drain();
}

}  // namespace
}  // namespace pantry::base
