#pragma once

#include <QCoreApplication>
#include <QMetaObject>
#include <QObject>
#include <QPointer>
#include <memory>
#include <optional>
#include <type_traits>
#include <utility>

#include "core/base/executor.h"
#include "core/base/result.h"
#include "core/base/uncaught.h"

namespace pantry::app {

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

/// Does `work` on another thread, then `done` with its value on the window's thread, unless `context` is gone by then.
template <class Work, class Done>
void inBackground(base::Work kind, QObject* context, Work work, Done done) {
    struct Job {
        std::optional<Work> work;  // goes when it is done: what it holds may take its time to go
        Done done;
    };
    auto job = std::make_shared<Job>(std::move(work), std::move(done));
    base::Executor::of(kind).post([guard = QPointer<QObject>(context), job = std::move(job)]() mutable {
        auto value = valueOrError(*job->work);
        job->work.reset();
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [guard, job = std::move(job), value = std::move(value)]() mutable {
                if (guard) job->done(std::move(value));
            },
            Qt::QueuedConnection);
    });
}

/// The same for what is short, and somebody waits for.
template <class Work, class Done>
void inBackground(QObject* context, Work work, Done done) {
    inBackground(base::Work::Interactive, context, std::move(work), std::move(done));
}

/// Calls `done` on the window's thread, from any thread, unless `context` is gone by then.
template <class Done>
void onWindowThread(QPointer<QObject> context, Done done) {
    QMetaObject::invokeMethod(
        QCoreApplication::instance(),
        [context, done = std::move(done)]() mutable {
            if (context) done();
        },
        Qt::QueuedConnection);
}

/// Destroys what may have to wait for its own threads, elsewhere than on the window's thread.
template <class Pointer>
void destroyInBackground(Pointer pointer) {
    base::Executor::of(base::Work::Network).post([held = std::make_shared<Pointer>(std::move(pointer))] {
        base::guarded("something was closed", [&] { held->reset(); });
    });
}

}  // namespace pantry::app
