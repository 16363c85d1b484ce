#include "core/base/executor.h"

#include <algorithm>
#include <utility>

#include "core/base/uncaught.h"

namespace pantry::base {

Executor::~Executor() {
    std::vector<std::thread> threads;
    {
        const Lock lock(mutex_);
        isClosing_ = true;
        wake_.notify_all();
        threads.swap(threads_);
    }
    for (std::thread& thread : threads) thread.join();
}

void Executor::post(std::function<void()> job) {
    const Lock lock(mutex_);
    jobs_.push_back(std::move(job));
    // While it closes, the thread that posts this is one of those that do what is left.
    if (jobs_.size() > idle_ && threads_.size() < mostThreads_ && !isClosing_) {
        threads_.emplace_back([this] { work(); });
    }
    wake_.notify_one();
}

void Executor::drain() {
    Lock lock(mutex_);
    lock.wait(rested_, [this]() REQUIRES(mutex_) { return jobs_.empty() && idle_ == threads_.size(); });
}

void Executor::work() {
    Lock lock(mutex_);
    for (;;) {
        ++idle_;
        if (jobs_.empty()) rested_.notify_all();
        lock.wait(wake_, [this]() REQUIRES(mutex_) { return isClosing_ || !jobs_.empty(); });
        --idle_;
        if (jobs_.empty()) return;
        std::function<void()> job = std::move(jobs_.front());
        jobs_.pop_front();
        lock.unlock();
        guarded("something was worked out in the background", job);
        job = nullptr;  // what it holds may take its time to go
        lock.lock();
    }
}

Executor& Executor::of(Work work) {
    // Waiting costs nothing but the thread; what computes has no use for more threads than there are processors.
    static const std::size_t computing = std::max(2U, std::thread::hardware_concurrency());
    constexpr std::size_t kWaiting = 16;
    static Executor interactive(computing);
    static Executor longer(computing);
    static Executor network(kWaiting);
    switch (work) {
        case Work::Interactive: return interactive;
        case Work::Long: return longer;
        case Work::Network: break;
    }
    return network;
}

void Executor::drainAll() {
    for (const Work work : {Work::Network, Work::Long, Work::Interactive}) of(work).drain();
}

Strand::~Strand() {
    std::deque<std::function<void()>> dropped;
    const Lock lock(state_->mutex);
    dropped.swap(state_->jobs);
}

void Strand::post(std::function<void()> job) {
    {
        const Lock lock(state_->mutex);
        state_->jobs.push_back(std::move(job));
        if (std::exchange(state_->isActive, true)) return;
    }
    state_->executor.post([state = state_] { goOn(state); });
}

/// Does one, and takes its turn again for the next: a long queue does not keep a thread for itself.
void Strand::goOn(const std::shared_ptr<State>& state) {
    std::function<void()> job;
    {
        const Lock lock(state->mutex);
        if (state->jobs.empty()) {
            state->isActive = false;
            return;
        }
        job = std::move(state->jobs.front());
        state->jobs.pop_front();
    }
    guarded("something was worked out in the background", job);
    job = nullptr;
    state->executor.post([state] { goOn(state); });
}

}  // namespace pantry::base
