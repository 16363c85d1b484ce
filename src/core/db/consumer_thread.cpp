#include "core/db/consumer_thread.h"

#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <utility>

#include "core/base/mutex.h"
#include "core/base/uncaught.h"

namespace pantry::db {
namespace {

constexpr int kNicer = 5;

/// Where processors are few, reading comes first: what waits here is kept, but a server whose rows nobody takes stands
/// still. On Linux a thread has a niceness of its own.
void yieldToReading() {
    const auto thread = static_cast<id_t>(::syscall(SYS_gettid));
    (void)::setpriority(PRIO_PROCESS, thread, ::getpriority(PRIO_PROCESS, thread) + kNicer);
}

/// A consumer that throws has failed like one that says so.
Status takeGuarded(ChunkConsumer& consumer, const data::Chunk& chunk) {
    try {
        return consumer.take(chunk);
    } catch (...) {
        return base::currentException("rows were written");
    }
}

}  // namespace

ConsumerThread::ConsumerThread(std::shared_ptr<ChunkConsumer> consumer)
    : consumer_(std::move(consumer)), thread_([this] { work(); }) {}

ConsumerThread::~ConsumerThread() {
    {
        const base::Lock lock(mutex_);
        isClosing_ = true;
        waiting_.clear();
        changed_.notify_all();
    }
    thread_.join();
}

Status ConsumerThread::begin(const std::vector<data::Column>& columns) {
    if (Status status = finish(); !status) return status;
    return consumer_->begin(columns);
}

Status ConsumerThread::take(data::ChunkPtr chunk) {
    base::Lock lock(mutex_);
    lock.wait(changed_, [this]() REQUIRES(mutex_) { return !status_ || waiting_.size() < kMaxWaiting; });
    if (!status_) return status_;
    waiting_.push_back(std::move(chunk));
    changed_.notify_all();
    return {};
}

data::ChunkPtr ConsumerThread::spent() {
    const base::Lock lock(mutex_);
    return std::exchange(spent_, nullptr);
}

Status ConsumerThread::finish() {
    base::Lock lock(mutex_);
    lock.wait(changed_, [this]() REQUIRES(mutex_) { return !status_ || (waiting_.empty() && !isBusy_); });
    return status_;
}

void ConsumerThread::work() {
    yieldToReading();
    base::Lock lock(mutex_);
    for (;;) {
        lock.wait(changed_, [this]() REQUIRES(mutex_) { return isClosing_ || !waiting_.empty(); });
        if (isClosing_) return;
        data::ChunkPtr chunk = std::move(waiting_.front());
        waiting_.pop_front();
        isBusy_ = true;
        changed_.notify_all();
        lock.unlock();
        Status taken = takeGuarded(*consumer_, *chunk);
        lock.lock();
        spent_ = std::move(chunk);
        isBusy_ = false;
        if (!taken) {
            status_ = std::move(taken);
            waiting_.clear();
        }
        changed_.notify_all();
    }
}

}  // namespace pantry::db
