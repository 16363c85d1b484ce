#pragma once

#include <chrono>
#include <condition_variable>
#include <mutex>

// What clang can check about locks (clang.llvm.org/docs/ThreadSafetyAnalysis.html); nothing for other compilers.
#if defined(__clang__)
#define PANTRY_THREAD_ATTRIBUTE(x) __attribute__((x))
#else
#define PANTRY_THREAD_ATTRIBUTE(x)
#endif
#define CAPABILITY(name) PANTRY_THREAD_ATTRIBUTE(capability(name))
#define SCOPED_CAPABILITY PANTRY_THREAD_ATTRIBUTE(scoped_lockable)
#define GUARDED_BY(mutex) PANTRY_THREAD_ATTRIBUTE(guarded_by(mutex))
#define REQUIRES(...) PANTRY_THREAD_ATTRIBUTE(requires_capability(__VA_ARGS__))
#define EXCLUDES(...) PANTRY_THREAD_ATTRIBUTE(locks_excluded(__VA_ARGS__))
#define ACQUIRE(...) PANTRY_THREAD_ATTRIBUTE(acquire_capability(__VA_ARGS__))
#define RELEASE(...) PANTRY_THREAD_ATTRIBUTE(release_capability(__VA_ARGS__))
#define NO_THREAD_SAFETY_ANALYSIS PANTRY_THREAD_ATTRIBUTE(no_thread_safety_analysis)

namespace pantry::base {

class Lock;

/// std::mutex as the analysis knows it: the standard library's own has no annotations. Taken by a Lock.
class CAPABILITY("mutex") Mutex {
public:
    Mutex() = default;

private:
    friend class Lock;
    std::mutex mutex_;
};

using Condition = std::condition_variable;

/// Holds a Mutex as long as it lives, but for what unlock() leaves out.
class SCOPED_CAPABILITY Lock {
public:
    explicit Lock(Mutex& mutex) ACQUIRE(mutex) : lock_(mutex.mutex_) {}
    ~Lock() RELEASE() {}
    Lock(const Lock&) = delete;
    Lock& operator=(const Lock&) = delete;

    void lock() ACQUIRE() { lock_.lock(); }
    void unlock() RELEASE() { lock_.unlock(); }

    /// Waits until `holds`, which is asked with the mutex held; write it as [this]() REQUIRES(mutex_) { … }.
    template <class Predicate>
    void wait(Condition& condition, Predicate holds) {
        condition.wait(lock_, std::move(holds));
    }
    /// The same, for no longer than a while; whether it holds.
    template <class Rep, class Period, class Predicate>
    bool waitFor(Condition& condition, std::chrono::duration<Rep, Period> most, Predicate holds) {
        return condition.wait_for(lock_, most, std::move(holds));
    }

private:
    std::unique_lock<std::mutex> lock_;
};

}  // namespace pantry::base
