#include "app/sheet/run_bridge.h"

#include <QTimer>

namespace pantry::app {
namespace {

constexpr int kFrameMs = 16;

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

void RunBridge::ring(bool isUrgent) {
    if (isRung_) return;  // the mutex is held
    isRung_ = true;
    QMetaObject::invokeMethod(
        this,
        [this, isUrgent] {
            if (isUrgent) return deliver();
            QTimer::singleShot(kFrameMs, this, &RunBridge::deliver);
        },
        Qt::QueuedConnection);
}

void RunBridge::started(base::Moment) {
    const std::lock_guard lock(mutex_);
    mail_.hasStarted = true;
    ring(true);
}

void RunBridge::columns(data::ResultSetPtr result) {
    const std::lock_guard lock(mutex_);
    mail_.results.push_back(std::move(result));
    ring(true);
}

void RunBridge::notice(const db::Notice& notice) {
    const std::lock_guard lock(mutex_);
    mail_.notices.push_back(notice);
    ring(false);
}

void RunBridge::rows(std::size_t rowCount) {
    const std::lock_guard lock(mutex_);
    mail_.rows = rowCount;
    ring(false);
}

void RunBridge::paused(std::size_t rowCount) {
    const std::lock_guard lock(mutex_);
    mail_.rows = rowCount;
    mail_.isPaused = true;
    ring(true);
}

void RunBridge::finished(const db::RunSummary& summary) {
    const std::lock_guard lock(mutex_);
    mail_.summary = summary;
    ring(true);
}

void RunBridge::failed(const Error& error, const db::RunSummary& summary) {
    const std::lock_guard lock(mutex_);
    mail_.summary = summary;
    mail_.error = error;
    ring(true);
}

void RunBridge::deliver() {
    Mail mail;
    {
        const std::lock_guard lock(mutex_);
        mail = std::move(mail_);
        mail_ = {};
        isRung_ = false;
    }
    if (mail.hasStarted) Q_EMIT runStarted();
    for (const data::ResultSetPtr& result : mail.results) Q_EMIT columnsArrived(result);
    for (const db::Notice& notice : mail.notices) Q_EMIT noticeArrived(notice);
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
