#pragma once

#include <exception>
#include <functional>
#include <string_view>

#include "core/base/error.h"

/// The net under every task: an exception that nobody expected ends the task and no more.
namespace pantry::base {

/// The exception in flight as an Error of kind Internal. Only within a catch block.
[[nodiscard]] Error currentException(std::string_view during);

/// Hears of exceptions that reached the end of a task; until somebody sets it, they are written to standard error.
/// Threads: called on the thread of the task.
void onUncaught(std::function<void(const Error&)> handler);

/// Tells the handler of the exception in flight. Only within a catch block.
void reportUncaught(std::string_view during) noexcept;

/// Does `work`; an exception that leaves it is told, and false is returned.
template <class Work>
bool guarded(std::string_view during, Work&& work) noexcept {
    try {
        work();
        return true;
    } catch (...) {
        reportUncaught(during);
        return false;
    }
}

}  // namespace pantry::base
