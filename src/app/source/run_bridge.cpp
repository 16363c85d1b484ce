#include "app/source/run_bridge.h"

#include <QTimer>

#include "core/base/mutex.h"

namespace pantry::app {
namespace {

constexpr int kAtOnce = 0;
constexpr int kFrameMs = 16;
constexpr int kMoreRowsMs = 100;

}  // namespace

std::shared_ptr<RunBridge> RunBridge::make() {
    return {new RunBridge, [](RunBridge* bridge) {
                // What came last may still wait for its frame.
                QMetaObject::invokeMethod(
                    bridge,
                    [bridge] {
                        bridge->deliver();
                        bridge->deleteLater();
                    },
                    Qt::QueuedConnection);
            }};
}

/// What is told at once takes along what still waits for its time; the timer then finds nothing, or what came after.
void RunBridge::ring(int delayMs) {
    const bool isWaitedFor = delayMs == kAtOnce ? isRungAtOnce_ : isRung_;  // the mutex is held
    if (isWaitedFor) return;
    isRung_ = true;
    isRungAtOnce_ = isRungAtOnce_ || delayMs == kAtOnce;
    QMetaObject::invokeMethod(
        this,
        [this, delayMs] {
            if (delayMs == kAtOnce) return deliver();
            QTimer::singleShot(delayMs, this, &RunBridge::deliver);
        },
        Qt::QueuedConnection);
}

void RunBridge::started(base::Moment) {
    const base::Lock lock(mutex_);
    mail_.hasStarted = true;
    ring(kAtOnce);
}

void RunBridge::columns(data::ResultSetPtr result) {
    const base::Lock lock(mutex_);
    mail_.results.push_back(std::move(result));
    ring(kAtOnce);
}

void RunBridge::notice(const db::Notice& notice) {
    const base::Lock lock(mutex_);
    mail_.notices.push_back(notice);
    ring(kFrameMs);
}

void RunBridge::rows(std::size_t rowCount) {
    const base::Lock lock(mutex_);
    mail_.rows = rowCount;
    ring(hasRows_ ? kMoreRowsMs : kFrameMs);
    hasRows_ = true;
}

void RunBridge::paused(std::size_t rowCount) {
    const base::Lock lock(mutex_);
    mail_.rows = rowCount;
    mail_.isPaused = true;
    ring(kAtOnce);
}

void RunBridge::finished(const db::RunSummary& summary) {
    const base::Lock lock(mutex_);
    mail_.summary = summary;
    ring(kAtOnce);
}

void RunBridge::failed(const Error& error, const db::RunSummary& summary) {
    const base::Lock lock(mutex_);
    mail_.summary = summary;
    mail_.error = error;
    ring(kAtOnce);
}

void RunBridge::deliver() {
    Mail mail;
    {
        const base::Lock lock(mutex_);
        mail = std::move(mail_);
        mail_ = {};
        isRung_ = false;
        isRungAtOnce_ = false;
    }
    if (mail.hasStarted) Q_EMIT runStarted();
    for (const data::ResultSetPtr& result : mail.results) Q_EMIT columnsArrived(result);
    if (!mail.notices.empty()) Q_EMIT noticesArrived(mail.notices);
    if (mail.isPaused) {
        Q_EMIT pageArrived(*mail.rows);
    } else if (mail.rows) {
        Q_EMIT rowsArrived(*mail.rows);
    }
    if (mail.error) {
        Q_EMIT runFailed(*mail.error, *mail.summary);
    } else if (mail.summary) {
        Q_EMIT runFinished(*mail.summary);
    }
}

}  // namespace pantry::app
