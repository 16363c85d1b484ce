#include "core/base/deep_stack.h"

#include <pthread.h>

#include <cstddef>

namespace pantry::base {
namespace {

/// Address space rather than memory: pages that are never reached cost nothing.
constexpr std::size_t kStackBytes = std::size_t{512} << 20;

void* run(void* work) {
    (*static_cast<const std::function<void()>*>(work))();
    return nullptr;
}

}  // namespace

bool onDeepStack(const std::function<void()>& work) {
    pthread_attr_t attributes;
    if (pthread_attr_init(&attributes) != 0) return false;
    pthread_t thread{};
    const bool started =
        pthread_attr_setstacksize(&attributes, kStackBytes) == 0 &&
        pthread_create(&thread, &attributes, run, const_cast<std::function<void()>*>(&work)) == 0;
    pthread_attr_destroy(&attributes);
    if (!started) return false;
    pthread_join(thread, nullptr);
    return true;
}

}  // namespace pantry::base
