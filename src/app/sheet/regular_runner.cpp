#include "app/sheet/regular_runner.h"

#include <utility>

#include "app/base/text.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

RegularRunner::RegularRunner(Sheet& sheet) : QObject(&sheet), sheet_(sheet) {
    constexpr int kLookEveryMs = 500;
    timer_.setInterval(kLookEveryMs);
    connect(&timer_, &QTimer::timeout, this, &RegularRunner::look);
    connect(&sheet, &Sheet::cardRemoved, this, [this](const Card* card) {
        if (card->runPtr() == run_) end();
    });
    connect(&sheet, &Sheet::connectionChanged, this, [this] {
        if (run_ != nullptr && !sheet_.runs().isFromHere(*run_)) end();
    });
}

void RegularRunner::begin(const work::RunPtr& run) {
    run_ = run;
    earlier_ = {};
    begin();
}

void RegularRunner::begin() {
    refusal_ = work::RegularRun::whyNot(run_->statement(), sheet_.profile(), isLiveAllowed_);
    if (refusal_) {
        plan_.end();
    } else {
        plan_.begin(plan_.minutes(), base::now());
        timer_.start();
    }
    Q_EMIT changed();
}

void RegularRunner::end() {
    plan_.end();
    timer_.stop();
    run_ = nullptr;
    refusal_.reset();
    earlier_ = {};
    Q_EMIT changed();
}

void RegularRunner::setMinutes(int minutes) {
    if (minutes == plan_.minutes()) return;
    plan_.begin(minutes, base::now());
    if (!isChosen() || refusal_) plan_.end();
    Q_EMIT changed();
}

void RegularRunner::allowLive() {
    isLiveAllowed_ = true;
    if (isChosen()) begin();
}

void RegularRunner::look() {
    if (plan_.isDue(base::now())) runNow();
}

/// While something runs or is held back it waits; then it runs late.
void RegularRunner::runNow() {
    if (!plan_.isOn() || sheet_.isRunning() || sheet_.runs().held()) return;
    // Whether it may was looked at when it began; the connection may be another one by now.
    refusal_ = work::RegularRun::whyNot(run_->statement(), sheet_.profile(), isLiveAllowed_);
    if (refusal_) {
        plan_.end();
        return Q_EMIT changed();
    }
    if (run_->state() == work::RunState::Done) earlier_ = {run_->result(), run_->startedAt()};
    plan_.noteRun(base::now());
    sheet_.runs().rerun(run_);
    Q_EMIT changed();
}

work::EarlierResult RegularRunner::takeEarlier(const work::RunPtr& run) {
    return run == run_ ? std::exchange(earlier_, {}) : work::EarlierResult();
}

void RegularRunner::noteFailed(const work::Run& run) {
    if (&run == run_.get() && run.state() == work::RunState::Failed)
        Q_EMIT found(toQt(run.title()), tr("failed: %1").arg(toQt(run.outcomeText())));
}

void RegularRunner::noteChange(const work::RunPtr& run, const work::ResultChange& change) {
    if (run == run_ && !change.isNone()) Q_EMIT found(toQt(run->title()), toQt(change.text));
}

}  // namespace pantry::app

#include "moc_regular_runner.cpp"
