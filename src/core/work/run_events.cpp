#include "core/work/run_events.h"

#include <chrono>
#include <optional>
#include <utility>

#include "core/base/mutex.h"

namespace pantry::work {
namespace {

using std::chrono::milliseconds;
constexpr milliseconds kWithoutDelay{0};
constexpr milliseconds kFrame{16};
constexpr milliseconds kMoreRows{100};

/// What has come and was not told yet.
struct Mail {
    bool hasStarted = false;
    std::vector<data::ResultSetPtr> results;
    std::vector<db::Notice> notices;
    std::optional<std::size_t> rows;
    bool isPaused = false;
    std::optional<db::RunSummary> summary;
    std::optional<Error> error;
};

/// Outlives the observer as long as something of it is still to be told.
class MailBox : public std::enable_shared_from_this<MailBox> {
public:
    MailBox(OwnerThread owner, const There& there, RunNews news)
        : owner_(std::move(owner)), there_(there), news_(std::move(news)) {}

    /// Puts something in; it is told after some time at the latest.
    template <class Put>
    void add(Put put) {
        const base::Lock lock(mutex_);
        const milliseconds delay = put(mail_, hasRows_);
        ring(delay);
    }

private:
    /// What is told at once takes along what still waits for its time; the later job then finds nothing, or what came
    /// after.
    void ring(milliseconds delay) REQUIRES(mutex_) {
        const bool isWaitedFor = delay == kWithoutDelay ? isRungAtOnce_ : isRung_;
        if (isWaitedFor) return;
        isRung_ = true;
        isRungAtOnce_ = isRungAtOnce_ || delay == kWithoutDelay;
        auto job = there_([box = shared_from_this()] { box->deliver(); });
        if (delay == kWithoutDelay) return owner_.post(std::move(job));
        owner_.postAfter(delay, std::move(job));
    }

    void deliver() {
        Mail mail;
        {
            const base::Lock lock(mutex_);
            mail = std::exchange(mail_, {});
            isRung_ = false;
            isRungAtOnce_ = false;
        }
        if (mail.hasStarted && news_.started) news_.started();
        for (const data::ResultSetPtr& result : mail.results) {
            if (news_.columns) news_.columns(result);
        }
        if (!mail.notices.empty() && news_.notices) news_.notices(mail.notices);
        if (const auto& told = mail.isPaused ? news_.paused : news_.rows; mail.rows && told) told(*mail.rows);
        if (mail.error && news_.failed) news_.failed(*mail.error, *mail.summary);
        if (!mail.error && mail.summary && news_.finished) news_.finished(*mail.summary);
    }

    OwnerThread owner_;
    There there_;
    RunNews news_;
    base::Mutex mutex_;
    Mail mail_ GUARDED_BY(mutex_);
    bool isRung_ GUARDED_BY(mutex_) = false;
    bool isRungAtOnce_ GUARDED_BY(mutex_) = false;
    bool hasRows_ GUARDED_BY(mutex_) = false;  // some were told before
};

class Events final : public db::RunObserver {
public:
    explicit Events(std::shared_ptr<MailBox> box) : box_(std::move(box)) {}

    void started(base::Moment) override {
        box_->add([](Mail& mail, bool&) {
            mail.hasStarted = true;
            return kWithoutDelay;
        });
    }
    void columns(data::ResultSetPtr result) override {
        box_->add([&](Mail& mail, bool&) {
            mail.results.push_back(std::move(result));
            return kWithoutDelay;
        });
    }
    void notice(const db::Notice& notice) override {
        box_->add([&](Mail& mail, bool&) {
            mail.notices.push_back(notice);
            return kFrame;
        });
    }
    void rows(std::size_t count) override {
        box_->add([&](Mail& mail, bool& hasRows) {
            mail.rows = count;
            return std::exchange(hasRows, true) ? kMoreRows : kFrame;
        });
    }
    void paused(std::size_t count) override {
        box_->add([&](Mail& mail, bool&) {
            mail.rows = count;
            mail.isPaused = true;
            return kWithoutDelay;
        });
    }
    void finished(const db::RunSummary& summary) override {
        box_->add([&](Mail& mail, bool&) {
            mail.summary = summary;
            return kWithoutDelay;
        });
    }
    void failed(const Error& error, const db::RunSummary& summary) override {
        box_->add([&](Mail& mail, bool&) {
            mail.summary = summary;
            mail.error = error;
            return kWithoutDelay;
        });
    }

private:
    std::shared_ptr<MailBox> box_;
};

}  // namespace

std::shared_ptr<db::RunObserver> runEvents(const OwnerThread& owner, const There& there, RunNews news) {
    return std::make_shared<Events>(std::make_shared<MailBox>(owner, there, std::move(news)));
}

}  // namespace pantry::work
