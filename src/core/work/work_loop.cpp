#include "core/work/work_loop.h"

#include <algorithm>
#include <chrono>
#include <map>
#include <utility>

#include "core/base/mutex.h"

namespace pantry::work {

/// What was posted, in the order in which it is due.
class WorkLoop::Jobs {
public:
    using Clock = std::chrono::steady_clock;

    void put(std::chrono::milliseconds delay, std::function<void()> job) {
        const base::Lock lock(mutex_);
        jobs_.emplace(Clock::now() + delay, std::move(job));
        come_.notify_all();
    }

    /// The one that is due, after a short wait for one; empty when none has come.
    std::function<void()> next() {
        constexpr std::chrono::milliseconds kMaxWait{50};
        base::Lock lock(mutex_);
        const auto isDue = [this]() REQUIRES(mutex_) { return !jobs_.empty() && jobs_.begin()->first <= Clock::now(); };
        std::chrono::nanoseconds wait = kMaxWait;
        if (!jobs_.empty()) wait = std::min(wait, std::chrono::nanoseconds(jobs_.begin()->first - Clock::now()));
        if (!lock.waitFor(come_, wait, isDue)) return {};
        std::function<void()> job = std::move(jobs_.begin()->second);
        jobs_.erase(jobs_.begin());
        return job;
    }

private:
    base::Mutex mutex_;
    base::Condition come_;
    std::multimap<Clock::time_point, std::function<void()>> jobs_ GUARDED_BY(mutex_);
};

WorkLoop::WorkLoop() : jobs_(std::make_shared<Jobs>()) {}

OwnerThread WorkLoop::owner() {
    const auto postAfter = [known = std::weak_ptr(jobs_)](std::chrono::milliseconds delay, std::function<void()> job) {
        if (const auto jobs = known.lock()) jobs->put(delay, std::move(job));
    };
    return {.post = [postAfter](std::function<void()> job) { postAfter({}, std::move(job)); }, .postAfter = postAfter};
}

void WorkLoop::until(const std::function<bool()>& isSo, const std::function<void()>& eachTime) {
    while (!isSo()) {
        if (eachTime) eachTime();
        if (const auto job = jobs_->next()) job();
    }
}

}  // namespace pantry::work
