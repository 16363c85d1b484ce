#pragma once

#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

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
            const std::lock_guard lock(mutex_);
            isClosing_ = true;
            wake_.notify_all();
        }
        thread_.join();
    }
    SerialWorker(const SerialWorker&) = delete;
    SerialWorker& operator=(const SerialWorker&) = delete;

    void post(std::function<void()> job) {
        const std::lock_guard lock(mutex_);
        jobs_.push_back(std::move(job));
        wake_.notify_all();
    }

private:
    void work() {
        for (;;) {
            std::function<void()> job;
            {
                std::unique_lock lock(mutex_);
                wake_.wait(lock, [this] { return isClosing_ || !jobs_.empty(); });
                if (jobs_.empty()) return;
                job = std::move(jobs_.front());
                jobs_.pop_front();
            }
            guarded("something was done in the background", job);
        }
    }

    std::mutex mutex_;
    std::condition_variable wake_;
    std::deque<std::function<void()>> jobs_;  // guarded by mutex_
    bool isClosing_ = false;                  // guarded by mutex_
    std::thread thread_;                      // last: starts when everything above is there
};

}  // namespace pantry::base
