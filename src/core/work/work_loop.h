#pragma once

#include <functional>
#include <memory>

#include "core/work/owner_thread.h"

namespace pantry::work {

/// The owner's thread of a program without an event loop: what is posted to it waits until it is worked off.
///
/// Threads: made and worked off on one; posting is for any, and in vain once the loop is gone.
class WorkLoop {
public:
    WorkLoop();
    [[nodiscard]] OwnerThread owner();
    /// Works off what comes until something is so. `eachTime`: called between jobs and at least twenty times a second,
    /// for what comes from elsewhere, such as a signal.
    void until(const std::function<bool()>& isSo, const std::function<void()>& eachTime = {});

private:
    class Jobs;
    std::shared_ptr<Jobs> jobs_;  // those that post know it only as long as it is there
};

}  // namespace pantry::work
