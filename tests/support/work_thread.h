#pragma once

#include <chrono>
#include <condition_variable>
#include <deque>
#include <functional>
#include <map>
#include <mutex>

#include "core/work/owner_thread.h"

namespace pantry::test {

/// The thread of a test as the owner's: what is posted to it waits until the test works it off.
class WorkThread {
public:
    [[nodiscard]] work::OwnerThread owner() {
        return {.post = [this](std::function<void()> job) { put(Clock::now(), std::move(job)); },
                .postAfter = [this](std::chrono::milliseconds delay,
                                    std::function<void()> job) { put(Clock::now() + delay, std::move(job)); }};
    }
    /// Works off what comes until something is so; false when it never is.
    bool until(const std::function<bool()>& isSo) {
        const auto end = Clock::now() + std::chrono::seconds(20);
        while (!isSo()) {
            std::function<void()> job;
            {
                std::unique_lock lock(mutex_);
                const auto isDue = [&] { return !jobs_.empty() && jobs_.begin()->first <= Clock::now(); };
                if (!isDue()) come_.wait_for(lock, std::chrono::milliseconds(5), isDue);
                if (isDue()) {
                    job = std::move(jobs_.begin()->second);
                    jobs_.erase(jobs_.begin());
                }
            }
            if (job) job();
            if (Clock::now() > end) return false;
        }
        return true;
    }

private:
    using Clock = std::chrono::steady_clock;
    void put(Clock::time_point when, std::function<void()> job) {
        const std::lock_guard lock(mutex_);
        jobs_.emplace(when, std::move(job));
        come_.notify_all();
    }
    std::mutex mutex_;
    std::condition_variable come_;
    std::multimap<Clock::time_point, std::function<void()>> jobs_;  // in the order in which they are due
};

}  // namespace pantry::test
