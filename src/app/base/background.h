#pragma once

#include <QCoreApplication>
#include <QMetaObject>
#include <QObject>
#include <QPointer>
#include <functional>
#include <utility>

#include "core/base/executor.h"
#include "core/work/background.h"

namespace pantry::app {

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

using work::destroyInBackground;

/// What is left out once `context` is gone: for what core tells on the window's thread.
template <class Told>
auto whileThere(QObject* context, Told told) {
    return [guard = QPointer<QObject>(context), told = std::move(told)](auto&&... with) {
        if (guard) told(std::forward<decltype(with)>(with)...);
    };
}

/// Does `work` on another thread, then `done` with its value on the window's thread, unless `context` is gone by then.
template <class Work, class Done>
void inBackground(base::Work kind, QObject* context, Work work, Done done) {
    const work::OwnerThread window{.post = [guard = QPointer<QObject>(context)](
                                               std::function<void()> job) { onWindowThread(guard, std::move(job)); },
                                   .postAfter = {}};
    work::inBackground(kind, window, std::move(work), std::move(done));
}

/// The same for what is short, and somebody waits for.
template <class Work, class Done>
void inBackground(QObject* context, Work work, Done done) {
    inBackground(base::Work::Interactive, context, std::move(work), std::move(done));
}

}  // namespace pantry::app
