#pragma once

#include <algorithm>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "core/db/session.h"

namespace pantry::test {

/// Records what a run tells, and waits for its states.
class RunRecorder final : public db::RunObserver {
public:
    void started(base::Moment) override { note("started"); }
    void columns(data::ResultSetPtr result) override {
        const std::lock_guard lock(mutex_);
        result_ = std::move(result);
        results_.push_back(result_);
        events_.emplace_back("columns");
        wake_.notify_all();
    }
    void rows(std::size_t count) override {
        const std::lock_guard lock(mutex_);
        rows_ = count;
        wake_.notify_all();
    }
    void notice(const db::Notice& notice) override {
        const std::lock_guard lock(mutex_);
        notices_.push_back(notice.severity + ": " + notice.message);
        wake_.notify_all();
    }
    void paused(std::size_t) override { note("paused"); }
    void finished(const db::RunSummary& summary) override {
        const std::lock_guard lock(mutex_);
        summary_ = summary;
        events_.emplace_back("finished");
        wake_.notify_all();
    }
    void failed(const Error& error, const db::RunSummary& summary) override {
        const std::lock_guard lock(mutex_);
        summary_ = summary;
        error_ = error;
        events_.emplace_back("failed");
        wake_.notify_all();
    }

    /// Until the event was told the n-th time.
    void waitFor(const std::string& event, int times = 1) {
        std::unique_lock lock(mutex_);
        wake_.wait(lock, [&] { return isOver() || std::count(events_.begin(), events_.end(), event) >= times; });
    }
    void waitForEnd() {
        std::unique_lock lock(mutex_);
        wake_.wait(lock, [&] { return isOver(); });
    }
    void waitForRows(std::size_t count) {
        std::unique_lock lock(mutex_);
        wake_.wait(lock, [&] { return isOver() || rows_ >= count; });
    }

    std::vector<std::string> events() {
        const std::lock_guard lock(mutex_);
        return events_;
    }
    data::ResultSetPtr result() {
        const std::lock_guard lock(mutex_);
        return result_;
    }
    std::vector<data::ResultSetPtr> results() {
        const std::lock_guard lock(mutex_);
        return results_;
    }
    std::vector<std::string> notices() {
        const std::lock_guard lock(mutex_);
        return notices_;
    }
    std::optional<Error> error() {
        const std::lock_guard lock(mutex_);
        return error_;
    }
    db::RunSummary summary() {
        const std::lock_guard lock(mutex_);
        return summary_;
    }

private:
    /// What is waited for cannot come any more.
    [[nodiscard]] bool isOver() const {
        return !events_.empty() && (events_.back() == "finished" || events_.back() == "failed");
    }
    void note(const std::string& event) {
        const std::lock_guard lock(mutex_);
        events_.push_back(event);
        wake_.notify_all();
    }

    std::mutex mutex_;
    std::condition_variable wake_;
    std::vector<std::string> events_;
    data::ResultSetPtr result_;
    std::vector<data::ResultSetPtr> results_;
    std::vector<std::string> notices_;
    std::size_t rows_ = 0;
    std::optional<Error> error_;
    db::RunSummary summary_;
};

}  // namespace pantry::test
