#pragma once

#include <cstddef>
#include <deque>
#include <functional>
#include <memory>
#include <thread>
#include <vector>

#include "core/base/mutex.h"

namespace pantry::base {

/// What a job may have to wait for decides which threads do it: nothing that waits for a network or writes a large file
/// ever holds up what somebody is looking at.
enum class Work {
    Interactive,  ///< short, and somebody watches: sorting, searching, completion, colours
    Long,         ///< seconds or more on this machine: exports, profiles, files
    Network,      ///< as long as others take to answer: connection tests, look-ups, closing connections
};

/// Threads that do what they are given, in the order in which it came, several at once. A thread starts when there is
/// something for it to do. An exception ends the job that threw it, and is told; see onUncaught().
///
/// Threads: internally synchronised.
class Executor {
public:
    explicit Executor(std::size_t mostThreads) : mostThreads_(mostThreads) {}
    /// Does what is left, then joins.
    ~Executor();
    Executor(const Executor&) = delete;
    Executor& operator=(const Executor&) = delete;

    void post(std::function<void()> job);
    /// Waits until nothing is left to do. Never from one of its own jobs.
    void drain();

    /// The program's own, one for each kind of work.
    [[nodiscard]] static Executor& of(Work work);
    /// Waits until all three have nothing left to do.
    static void drainAll();

private:
    void work();

    const std::size_t mostThreads_;
    Mutex mutex_;
    Condition wake_;
    Condition rested_;
    std::deque<std::function<void()>> jobs_ GUARDED_BY(mutex_);
    std::vector<std::thread> threads_ GUARDED_BY(mutex_);
    std::size_t idle_ GUARDED_BY(mutex_) = 0;
    bool isClosing_ GUARDED_BY(mutex_) = false;
};

/// Jobs of an executor that are done one after another, such as all that is asked about one text. When it goes, what
/// has not begun is dropped; what has begun goes on without it.
///
/// Threads: internally synchronised.
class Strand {
public:
    explicit Strand(Executor& executor) : state_(std::make_shared<State>(executor)) {}
    ~Strand();
    Strand(const Strand&) = delete;
    Strand& operator=(const Strand&) = delete;

    void post(std::function<void()> job);

private:
    struct State {
        explicit State(Executor& on) : executor(on) {}
        Executor& executor;
        Mutex mutex;
        std::deque<std::function<void()>> jobs GUARDED_BY(mutex);
        bool isActive GUARDED_BY(mutex) = false;
    };
    static void goOn(const std::shared_ptr<State>& state);

    std::shared_ptr<State> state_;
};

}  // namespace pantry::base
