#include "core/db/session.h"

#include <algorithm>
#include <condition_variable>

namespace pantry::db {
namespace {

using Clock = std::chrono::steady_clock;
using std::chrono::duration_cast;
using std::chrono::microseconds;

constexpr std::size_t kUnlimited = static_cast<std::size_t>(-1);
constexpr auto kHandOverEvery = std::chrono::milliseconds(40);  // a slow result still shows as it comes
constexpr std::size_t kFirstRows = 100;                         // the first hand-over, so that a grid fills at once

}  // namespace

/// What caller and session share about one run.
struct RunHandle::State {
    base::Cancellation cancellation;
    std::mutex mutex;
    std::condition_variable wake;
    std::size_t wanted = 0;      // rows in all, guarded by mutex
    bool isPaused = false;       // guarded by mutex
    bool isEnded = false;        // guarded by mutex: no more rows are wanted
    bool mustYield = false;      // guarded by mutex: another run waits, so end instead of pausing
    EngineLink* link = nullptr;  // guarded by mutex: where it runs now

    void cancel() {
        const std::lock_guard lock(mutex);
        cancellation.request();
        isEnded = true;
        if (link != nullptr) link->cancel();
        wake.notify_all();
    }
    void want(std::size_t rows) {
        const std::lock_guard lock(mutex);
        wanted = rows == kUnlimited ? kUnlimited : wanted + rows;
        wake.notify_all();
    }
    void endIfPaused() {
        const std::lock_guard lock(mutex);
        if (!isPaused) return;
        isEnded = true;
        wake.notify_all();
    }
};

void RunHandle::cancel() const {
    if (state_) state_->cancel();
}
void RunHandle::fetchMore(std::size_t rows) const {
    if (state_) state_->want(rows);
}
void RunHandle::fetchAll() const {
    if (state_) state_->want(kUnlimited);
}
void RunHandle::endIfPaused() const {
    if (state_) state_->endIfPaused();
}

/// Between driver and observer: counts, pauses, keeps the time.
class Session::Sink final : public RowSink {
public:
    Sink(RunHandle::State& state, const RunRequest& request, RunObserver& observer)
        : state_(state), request_(request), observer_(observer) {}

    void columns(std::vector<data::Column> columns) override {
        noteFirst();
        if (request_.consumer) {
            failure_ = request_.consumer->begin(columns);
            if (!failure_) state_.cancellation.request();
            return;
        }
        result_ = std::make_shared<data::ResultSet>(std::move(columns));
        observer_.columns(result_);
    }

    bool rows(data::ChunkPtr chunk, bool isLast) override {
        noteFirst();
        rowCount_ += chunk->rowCount();
        lastHandOver_ = Clock::now();
        if (request_.consumer) {
            failure_ = request_.consumer->take(*chunk);
            observer_.rows(rowCount_);
            return failure_.has_value();
        }
        result_->append(std::move(chunk));
        observer_.rows(rowCount_);
        return isLast || waitForDemand();
    }

    std::size_t rowsWanted() const override {
        if (request_.consumer) return kUnlimited;
        const std::lock_guard lock(state_.mutex);
        const std::size_t page = state_.wanted == kUnlimited ? kUnlimited : state_.wanted - rowCount_;
        return rowCount_ == 0 ? std::min(page, kFirstRows) : page;
    }

    bool isHandOverDue() const override { return Clock::now() - lastHandOver_ > kHandOverEvery; }

    void fill(RunSummary& summary) const {
        const auto end = Clock::now();
        summary.rowCount = rowCount_;
        summary.serverTime = duration_cast<microseconds>(first_.value_or(end) - start_);
        summary.totalTime = duration_cast<microseconds>(end - start_ - pausedFor_);
    }
    [[nodiscard]] const Status& failure() const { return failure_; }

private:
    void noteFirst() {
        if (!first_) first_ = Clock::now();
    }

    bool waitForDemand() {
        std::unique_lock lock(state_.mutex);
        if (state_.isEnded) return false;
        if (rowCount_ < state_.wanted) return true;
        if (state_.mustYield) return false;
        state_.isPaused = true;
        lock.unlock();
        observer_.paused(rowCount_);
        lock.lock();
        const auto start = Clock::now();
        state_.wake.wait(lock, [&] { return state_.isEnded || rowCount_ < state_.wanted; });
        pausedFor_ += Clock::now() - start;
        state_.isPaused = false;
        return !state_.isEnded;
    }

    RunHandle::State& state_;
    const RunRequest& request_;
    RunObserver& observer_;
    std::shared_ptr<data::ResultSet> result_;
    std::size_t rowCount_ = 0;
    Clock::time_point start_ = Clock::now();
    Clock::time_point lastHandOver_ = start_;
    std::optional<Clock::time_point> first_;
    Clock::duration pausedFor_{};
    Status failure_;
};

Session::Session(ConnectionProfile profile, std::optional<std::string> password)
    : profile_(std::move(profile)), password_(std::move(password)) {}

Session::~Session() {
    closing_.request();
    const std::lock_guard lock(mutex_);
    for (const auto& run : runs_) run->cancel();
}

RunHandle Session::execute(RunRequest request, std::shared_ptr<RunObserver> observer) {
    auto state = std::make_shared<RunHandle::State>();
    state->wanted = request.pageRows.value_or(kUnlimited);
    {
        const std::lock_guard lock(mutex_);
        for (const auto& earlier : runs_) {
            const std::lock_guard runLock(earlier->mutex);
            earlier->mustYield = true;
            if (earlier->isPaused) earlier->isEnded = true;
            earlier->wake.notify_all();
        }
        runs_.push_back(state);
    }
    worker_.post([this, state, request = std::move(request), observer] {
        if (closing_.isRequested()) state->cancellation.request();
        run(state, request, *observer);
        const std::lock_guard lock(mutex_);
        std::erase(runs_, state);
    });
    return RunHandle(state);
}

void Session::loadCatalog(std::function<void(Result<CatalogPtr>)> callback) {
    worker_.post([this, callback = std::move(callback)] {
        auto opened = link(closing_);
        callback(opened ? (*opened)->loadCatalog(closing_) : Result<CatalogPtr>(opened.error()));
    });
}

Result<EngineLink*> Session::link(const base::Cancellation& cancellation) {
    if (link_) return link_.get();
    if (cancellation.isRequested()) return Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
    auto driver = driverFor(profile_.engine);
    if (!driver) return driver.error();
    auto opened = (*driver)->open(profile_, password_, cancellation);
    if (!opened) return opened.error();
    link_ = std::move(*opened);
    return link_.get();
}

void Session::run(const std::shared_ptr<RunHandle::State>& state, const RunRequest& request, RunObserver& observer) {
    RunSummary summary{.startedAt = base::now()};
    if (request.batch && request.batch->isBroken) {
        return observer.failed({.kind = ErrorKind::Cancelled, .message = "Not run: a statement before it failed."},
                               summary);
    }
    const auto fail = [&](const Error& error) {
        if (request.batch) request.batch->isBroken = true;
        observer.failed(error, summary);
    };
    observer.started(summary.startedAt);
    auto opened = link(state->cancellation);
    if (!opened) return fail(opened.error());
    summary.serverVersion = (*opened)->serverVersion();
    {
        const std::lock_guard lock(state->mutex);
        state->link = *opened;
    }
    Sink sink(*state, request, observer);
    auto result = state->cancellation.isRequested()
                      ? Result<StatementResult>(Error{.kind = ErrorKind::Cancelled, .message = "Stopped."})
                      : (*opened)->run(request.statement, request.parameters, sink, state->cancellation);
    {
        const std::lock_guard lock(state->mutex);
        state->link = nullptr;
    }
    sink.fill(summary);
    if (!sink.failure()) return fail(sink.failure().error());
    const bool wasStopped = result && !result->isComplete && state->cancellation.isRequested();
    if (wasStopped) result = Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
    if (!result) return fail(result.error());
    summary.result = std::move(*result);
    observer.finished(summary);
}

}  // namespace pantry::db
