#pragma once

#include <memory>
#include <optional>
#include <type_traits>
#include <utility>

#include "core/base/executor.h"
#include "core/base/uncaught.h"
#include "core/work/owner_thread.h"

namespace pantry::work {

/// The value of `work`. When it throws, what can hold an Error holds that, and everything else is a default value; the
/// exception is told in any case.
template <class Work>
auto valueOrError(Work& work) {
    using Value = std::decay_t<decltype(work())>;
    std::optional<Value> value;
    try {
        value.emplace(work());
    } catch (...) {
        base::reportUncaught("something was worked out in the background");
        if constexpr (std::is_constructible_v<Value, Error>) {
            value.emplace(base::currentException("something was worked out in the background"));
        } else {
            value.emplace();
        }
    }
    return std::move(*value);
}

/// Does `work` on another thread, then `done` with its value on the owner's thread.
template <class Work, class Done>
void inBackground(base::Work kind, const OwnerThread& owner, Work work, Done done) {
    struct Job {
        std::optional<Work> work;  // goes when it is done: what it holds may take its time to go
        Done done;
    };
    auto job = std::make_shared<Job>(Job{std::move(work), std::move(done)});
    base::Executor::of(kind).post([post = owner.post, job = std::move(job)]() mutable {
        using Value = std::decay_t<decltype((*job->work)())>;
        auto value = std::make_shared<Value>(valueOrError(*job->work));
        job->work.reset();
        post([job = std::move(job), value = std::move(value)] { job->done(std::move(*value)); });
    });
}

/// Destroys what may have to wait for its own threads, elsewhere.
template <class Pointer>
void destroyInBackground(Pointer pointer) {
    base::Executor::of(base::Work::Network).post([held = std::make_shared<Pointer>(std::move(pointer))] {
        base::guarded("something was closed", [&] { held->reset(); });
    });
}

}  // namespace pantry::work
