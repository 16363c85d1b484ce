#include "core/base/deep_stack.h"

#include <pthread.h>

#include <cstddef>
#include <exception>

namespace pantry::base {
namespace {

/// Address space rather than memory: pages that are never reached cost nothing.
constexpr std::size_t kStackBytes = std::size_t{512} << 20;

struct Task {
    const std::function<void()>& work;
    std::exception_ptr thrown = nullptr;
};

void* run(void* data) {
    Task& task = *static_cast<Task*>(data);
    try {
        task.work();
    } catch (...) {
        task.thrown = std::current_exception();  // for the thread that waits
    }
    return nullptr;
}

}  // namespace

bool onDeepStack(const std::function<void()>& work) {
    pthread_attr_t attributes;
    if (pthread_attr_init(&attributes) != 0) return false;
    pthread_t thread{};
    Task task{.work = work};
    const bool started = pthread_attr_setstacksize(&attributes, kStackBytes) == 0 &&
                         pthread_create(&thread, &attributes, run, &task) == 0;
    pthread_attr_destroy(&attributes);
    if (!started) return false;
    pthread_join(thread, nullptr);
    if (task.thrown) std::rethrow_exception(task.thrown);
    return true;
}

}  // namespace pantry::base
