#pragma once

#include <atomic>
#include <memory>

namespace pantry::base {

/// A wish to stop that several threads share. Copies are the same wish.
///
/// Threads: internally synchronised.
class Cancellation {
public:
    Cancellation() : wished_(std::make_shared<std::atomic<bool>>(false)) {}

    void request() const { wished_->store(true, std::memory_order_release); }
    [[nodiscard]] bool isRequested() const { return wished_->load(std::memory_order_acquire); }

private:
    std::shared_ptr<std::atomic<bool>> wished_;
};

}  // namespace pantry::base
