#pragma once

#include <QObject>
#include <memory>
#include <optional>
#include <vector>

#include "core/base/mutex.h"
#include "core/db/session.h"

namespace pantry::app {

/// Carries what a run tells from its session's thread to the window's: events are gathered, and a queued call is the
/// bell. The first rows ring within a frame; while nothing but more rows arrive it rings ten times a second, since each
/// time words, marks and the grid are made anew, and nobody reads faster.
///
/// Threads: the observer's functions on any thread; signals on the window's.
class RunBridge : public QObject, public db::RunObserver {
    Q_OBJECT

public:
    /// Deletes itself on the window's thread, whoever lets go last.
    static std::shared_ptr<RunBridge> make();

    void started(base::Moment when) override;
    void columns(data::ResultSetPtr result) override;
    void rows(std::size_t rowCount) override;
    void notice(const db::Notice& notice) override;
    void paused(std::size_t rowCount) override;
    void finished(const db::RunSummary& summary) override;
    void failed(const Error& error, const db::RunSummary& summary) override;

Q_SIGNALS:
    void runStarted();
    void columnsArrived(const data::ResultSetPtr& result);
    void rowsArrived(qulonglong rowCount);
    void noticesArrived(const std::vector<db::Notice>& notices);
    void pageArrived(qulonglong rowCount);
    void runFinished(const db::RunSummary& summary);
    void runFailed(const Error& error, const db::RunSummary& summary);

private:
    RunBridge() = default;
    void ring(int delayMs);
    void deliver();

    struct Mail {
        bool hasStarted = false;
        std::vector<data::ResultSetPtr> results;
        std::vector<db::Notice> notices;
        std::optional<std::size_t> rows;
        bool isPaused = false;
        std::optional<db::RunSummary> summary;
        std::optional<Error> error;
    };
    base::Mutex mutex_;
    Mail mail_ GUARDED_BY(mutex_);
    bool isRung_ GUARDED_BY(mutex_) = false;
    bool isRungAtOnce_ GUARDED_BY(mutex_) = false;
    bool hasRows_ GUARDED_BY(mutex_) = false;  // some were told before
};

}  // namespace pantry::app
