#pragma once

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>

#include "core/base/mutex.h"
#include "core/base/serial_worker.h"
#include "core/store/sheet_store.h"

namespace pantry::store {

/// Keeps what is typed, on a thread of its own, so that nothing else that is written can delay it. Of a sheet only the
/// last state waits: when the disk is slower than somebody types, the way to it does not get longer. What could not be
/// written stays here and is tried again.
///
/// Threads:  internally synchronised; callbacks come on the keeper's thread.
/// Lifetime: the destructor writes what waits.
class SheetKeeper {
public:
    /// `told` hears of the first failure of a row of them, and once when all is written again (then without an Error).
    SheetKeeper(std::filesystem::path folder, std::function<void(const std::optional<Error>&)> told);
    ~SheetKeeper();
    SheetKeeper(const SheetKeeper&) = delete;
    SheetKeeper& operator=(const SheetKeeper&) = delete;

    void keep(const SheetState& sheet);
    /// Puts a sheet away, behind what waits of it.
    void close(const SheetState& sheet, std::function<void(const Status&)> done);
    void reopenLast(std::function<void(Result<std::optional<SheetState>>)> done);
    /// Tries again what could not be written; cheap when there is nothing.
    void retry();
    /// Waits until everything that can be written is.
    void flush();
    /// How many sheets wait to be written, or to be tried again.
    [[nodiscard]] std::size_t waiting() const;

private:
    void writeWaiting();

    SheetStore store_;
    std::function<void(const std::optional<Error>&)> told_;
    mutable base::Mutex mutex_;
    std::map<std::string, SheetState> waiting_ GUARDED_BY(mutex_);
    bool isPosted_ GUARDED_BY(mutex_) = false;   // the thread will look at it
    bool hasFailed_ GUARDED_BY(mutex_) = false;  // which was told
    std::unique_ptr<base::SerialWorker> worker_;
};

}  // namespace pantry::store
