#pragma once

#include <deque>
#include <functional>
#include <thread>

#include "core/base/mutex.h"
#include "core/base/uncaught.h"

namespace pantry::base {

/// A thread that does what it is given, one thing after another. An exception ends what threw it, and is told; see
/// onUncaught().
///
/// Threads: internally synchronised.
class SerialWorker {
public:
    SerialWorker() : thread_([this] { work(); }) {}

    /// Does what is left, then joins the thread.
    ~SerialWorker() {
        {
            const Lock lock(mutex_);
            isClosing_ = true;
            wake_.notify_all();
        }
        thread_.join();
    }
    SerialWorker(const SerialWorker&) = delete;
    SerialWorker& operator=(const SerialWorker&) = delete;

    void post(std::function<void()> job) {
        const Lock lock(mutex_);
        jobs_.push_back(std::move(job));
        wake_.notify_all();
    }

private:
    void work() {
        for (;;) {
            std::function<void()> job;
            {
                Lock lock(mutex_);
                lock.wait(wake_, [this]() REQUIRES(mutex_) { return isClosing_ || !jobs_.empty(); });
                if (jobs_.empty()) return;
                job = std::move(jobs_.front());
                jobs_.pop_front();
            }
            guarded("something was done in the background", job);
        }
    }

    Mutex mutex_;
    Condition wake_;
    std::deque<std::function<void()>> jobs_ GUARDED_BY(mutex_);
    bool isClosing_ GUARDED_BY(mutex_) = false;
    std::thread thread_;  // last: starts when everything above is there
};

}  // namespace pantry::base
