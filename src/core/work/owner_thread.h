#pragma once

#include <chrono>
#include <functional>
#include <memory>
#include <utility>

namespace pantry::work {

/// The one thread that the objects of this room belong to: they are used on it, and what they hear from other threads
/// they hear there. A window gives its event loop, a program without one a queue that it works off.
///
/// Threads: both functions may be called on any.
struct OwnerThread {
    /// Does a job on the owner's thread, later.
    std::function<void(std::function<void()> job)> post;
    /// The same, not before some time has passed.
    std::function<void(std::chrono::milliseconds delay, std::function<void()> job)> postAfter;
};

/// Makes jobs that are left out once somebody is gone.
///
/// Threads: jobs are made on any, and done on the owner's.
class There {
public:
    explicit There(const std::shared_ptr<const char>& alive) : alive_(alive) {}
    template <class Job>
    [[nodiscard]] auto operator()(Job job) const {
        return [alive = alive_, job = std::move(job)](auto&&... with) mutable {
            if (!alive.expired()) job(std::forward<decltype(with)>(with)...);
        };
    }

private:
    std::weak_ptr<const char> alive_;
};

/// A member of somebody whose jobs are to be left out once they are gone.
///
/// Threads: destroyed on the owner's.
class WhileThere {
public:
    WhileThere() = default;
    WhileThere(const WhileThere&) = delete;
    WhileThere& operator=(const WhileThere&) = delete;

    /// For jobs that are made where their owner may be gone already.
    [[nodiscard]] There there() const { return There(alive_); }
    template <class Job>
    [[nodiscard]] auto operator()(Job job) const {
        return there()(std::move(job));
    }

private:
    std::shared_ptr<const char> alive_ = std::make_shared<char>('\0');
};

}  // namespace pantry::work
