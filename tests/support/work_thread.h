#pragma once

#include <chrono>
#include <functional>

#include "core/work/work_loop.h"

namespace pantry::test {

/// The thread of a test as the owner's: what is posted to it waits until the test works it off.
class WorkThread {
public:
    [[nodiscard]] work::OwnerThread owner() { return loop_.owner(); }
    /// Works off what comes until something is so; false when it never is.
    bool until(const std::function<bool()>& isSo) {
        const auto end = std::chrono::steady_clock::now() + std::chrono::seconds(20);
        bool isThere = false;
        loop_.until([&] { return (isThere = isSo()) || std::chrono::steady_clock::now() > end; });
        return isThere;
    }

private:
    work::WorkLoop loop_;
};

}  // namespace pantry::test
