#pragma once

#include <deque>
#include <memory>
#include <thread>

#include "core/base/mutex.h"
#include "core/db/session.h"

namespace pantry::db {

/// Lets a consumer work beside the reading of rows: they wait for each other only when one is far ahead.
///
/// Threads: one at a time, except that the consumer is called on a thread of this object's own.
class ConsumerThread {
public:
    explicit ConsumerThread(std::shared_ptr<ChunkConsumer> consumer);
    /// Drops what the consumer has not taken yet.
    ~ConsumerThread();
    ConsumerThread(const ConsumerThread&) = delete;
    ConsumerThread& operator=(const ConsumerThread&) = delete;

    /// A result begins. Waits until the rows before it are taken.
    Status begin(const std::vector<data::Column>& columns);
    /// Hands rows over. Errors: what the consumer said of earlier rows.
    Status take(data::ChunkPtr chunk);
    /// A chunk that the consumer is done with, each at most once; nullptr when there is none.
    [[nodiscard]] data::ChunkPtr spent();
    /// Waits until all rows are taken.
    Status finish();

private:
    void work();

    static constexpr std::size_t kMaxWaiting = 10;  // chunks of at most some megabytes each

    std::shared_ptr<ChunkConsumer> consumer_;
    base::Mutex mutex_;
    base::Condition changed_;
    std::deque<data::ChunkPtr> waiting_ GUARDED_BY(mutex_);
    data::ChunkPtr spent_ GUARDED_BY(mutex_);  // the last one that the consumer is done with
    bool isBusy_ GUARDED_BY(mutex_) = false;
    bool isClosing_ GUARDED_BY(mutex_) = false;
    Status status_ GUARDED_BY(mutex_);
    std::thread thread_;  // last: starts when everything above is there
};

}  // namespace pantry::db
