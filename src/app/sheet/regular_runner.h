#pragma once

#include <QObject>
#include <QTimer>

#include "core/work/kept_runs.h"
#include "core/work/regular_run.h"

namespace pantry::app {

class Sheet;

/// Runs one result of a sheet again every so many minutes: its rows are replaced, and what is other is told.
///
/// Threads: the window's thread.
class RegularRunner : public QObject {
    Q_OBJECT

public:
    /// Lifetime: the sheet owns it.
    explicit RegularRunner(Sheet& sheet);

    /// From now on, for this run; another one that ran by itself does so no more. Where it may not, it stays off and
    /// refusal() tells why.
    void begin(const work::RunPtr& run);
    void end();
    void setMinutes(int minutes);
    /// Somebody allows it on a connection to live data, for this sheet and until the program ends.
    void allowLive();
    /// Does not wait for its time.
    void runNow();

    /// Whether a run was chosen, though it may have to wait for a permission.
    [[nodiscard]] bool isChosen() const { return run_ != nullptr; }
    [[nodiscard]] bool isOn() const { return plan_.isOn(); }
    [[nodiscard]] const work::RegularRun& plan() const { return plan_; }
    [[nodiscard]] const work::RunPtr& run() const { return run_; }
    [[nodiscard]] const std::optional<Error>& refusal() const { return refusal_; }
    /// What this run's rows were before it began again; nothing for another run. Once.
    [[nodiscard]] work::EarlierResult takeEarlier(const work::RunPtr& run);
    /// A run has failed; told, if it is the one that runs by itself.
    void noteFailed(const work::Run& run);
    /// It has ended, and this is other than before.
    void noteChange(const work::RunPtr& run, const work::ResultChange& change);

Q_SIGNALS:
    void changed();
    /// Rows are other ones: what, and of which result.
    void found(const QString& title, const QString& text);

private:
    void begin();
    void look();

    Sheet& sheet_;
    work::RegularRun plan_;
    work::RunPtr run_;
    std::optional<Error> refusal_;
    bool isLiveAllowed_ = false;
    work::EarlierResult earlier_;
    QTimer timer_;
};

}  // namespace pantry::app
