#pragma once

#include <functional>
#include <memory>
#include <utility>

#include "core/base/result.h"
#include "core/base/serial_worker.h"
#include "core/store/home.h"
#include "core/work/owner_thread.h"

namespace pantry::work {

/// What everything in one program has around it: where its things are kept, the thread that it belongs to, who hears
/// of trouble, and a thread that writes small files in the order in which they were changed.
///
/// Lifetime: outlives what is given it.
class Surroundings {
public:
    /// `raise` hears of what somebody must know, such as a file that could not be written; on any thread.
    Surroundings(store::Home home, OwnerThread owner, std::function<void(const Error&)> raise)
        : home_(std::move(home)), owner_(std::move(owner)), raise_(std::move(raise)) {}

    [[nodiscard]] const store::Home& home() const { return home_; }
    [[nodiscard]] const OwnerThread& owner() const { return owner_; }
    void raise(const Error& error) const { raise_(error); }

    /// Writes something behind what is still to be written; what fails is told. Any thread.
    void write(std::function<Status()> writing) {
        files_->post([this, writing = std::move(writing)] {
            if (const Status status = writing(); !status) raise(status.error());
        });
    }
    /// Does something behind what is still to be written.
    void behindWrites(std::function<void()> job) { files_->post(std::move(job)); }
    /// Waits until everything is written.
    void flush() { files_ = std::make_unique<base::SerialWorker>(); }

    /// What was changed here and may not be in the files yet: what was read from them before is not newer.
    [[nodiscard]] int changes() const { return changes_; }
    void noteChange() { ++changes_; }

private:
    store::Home home_;
    OwnerThread owner_;
    std::function<void(const Error&)> raise_;
    std::unique_ptr<base::SerialWorker> files_ = std::make_unique<base::SerialWorker>();
    int changes_ = 0;
};

}  // namespace pantry::work
