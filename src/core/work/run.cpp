#include "core/work/run.h"

#include <fmt/format.h>

#include <utility>

#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::work {

Run::Run(sql::Statement statement, int number)
    : number_(number), statement_(std::move(statement)), title_(statement_.title()) {}

void Run::tell(RunChange change) {
    if (listener_) listener_(change);
}

std::chrono::microseconds Run::sinceStart() const {
    return std::chrono::duration_cast<std::chrono::microseconds>(base::now() - startedAt_);
}

void Run::setPlace(const Origin& origin, const std::string& place) {
    origin_ = origin;
    place_ = place;
}

void Run::setTitle(const std::string& title) {
    title_ = title;
    tell(RunChange::Looks);
}

void Run::setPinned(bool isPinned) {
    isPinned_ = isPinned;
    tell(RunChange::Looks);
}

void Run::noteKept() {
    isKept_ = true;
    tell(RunChange::Looks);
}

void Run::noteChange(ResultChangePtr change) {
    change_ = std::move(change);
    tell(RunChange::Compared);
}

void Run::becomeComparison(const data::ResultSetPtr& differences, const std::string& text) {
    isComparison_ = true;
    comparisonText_ = text;
    state_ = RunState::Done;
    noteResult(differences);
    tell(RunChange::Rested);
}

// ---- In words ----

std::string Run::timeText() const { return base::readable(summary_.totalTime); }

std::string Run::elapsedText() const {
    const auto elapsed = std::chrono::duration_cast<std::chrono::seconds>(base::now() - startedAt_);
    if (state_ != RunState::Running || elapsed < std::chrono::seconds(1)) return {};
    return base::readable(std::chrono::microseconds(elapsed));
}

std::string Run::outcomeText() const {
    if (isComparison_) return comparisonText_;
    std::string rows = base::counted(static_cast<std::int64_t>(rowCount()), "row", "rows");
    switch (state_) {
        case RunState::Waiting: return "waiting";
        case RunState::Running: {
            const std::string elapsed = elapsedText();
            return (result_ ? rows + " so far" : "running") + (elapsed.empty() ? "" : " · " + elapsed);
        }
        case RunState::Paused:
        case RunState::Partial:
            if (isWithoutRows_) rows = base::counted(static_cast<std::int64_t>(rowsRead_), "row", "rows");
            return "first " + rows;
        case RunState::Failed: return error_ ? error_->message : "failed";
        case RunState::Stopped:
            return result_ ? "stopped after " + rows : summary_.isBehindBroken ? "not run" : "stopped";
        case RunState::Done: break;
    }
    if (result_) return rows;
    if (isWithoutRows_) return base::counted(static_cast<std::int64_t>(rowsRead_), "row", "rows");
    const db::StatementResult& told = summary_.result;
    if (!told.generatedKey.empty() && told.affectedRows == 1) return "1 row added, key " + told.generatedKey;
    if (told.affectedRows) return base::counted(*told.affectedRows, "row", "rows") + " changed";
    return "done";
}

std::string Run::outcome() const {
    const bool hasTime = !isComparison_ && (state_ == RunState::Done || hasMore());
    return hasTime ? outcomeText() + " · " + timeText() : outcomeText();
}

store::RunEnd Run::record() const {
    const bool isOver = state_ == RunState::Failed || state_ == RunState::Stopped;
    const bool hasRows = result_ != nullptr || summary_.result.hasRows || rowsRead_ > 0;
    store::RunEnd end =
        endRecord({.summary = summary_,
                   .rows = hasRows ? std::optional(static_cast<std::int64_t>(rowsRead())) : std::nullopt,
                   .error = isOver ? error_ : std::nullopt,
                   .isPartial = hasMore()});
    const bool asksForPlan = statement_.kind() == sql::StatementKind::Explain;
    if (asksForPlan && state_ == RunState::Done && result_ != nullptr)
        end.plan = planText(*result_, statement_.text(), statement_.language());
    return end;
}

// ---- What becomes of it ----

void Run::restore(Kept kept) {
    state_ = kept.state;
    startedAt_ = kept.startedAt;
    summary_ = std::move(kept.summary);
    rowsRead_ = summary_.rowCount;
    error_ = kept.error;
    wholeError_ = std::move(kept.error);
    result_ = std::move(kept.rows);
    isWithoutRows_ = kept.hadResult && !result_;
    isKept_ = true;
}

void Run::beginAnew() {
    isWithoutRows_ = false;
    change_.reset();
    state_ = RunState::Waiting;
    result_.reset();
    rowsRead_ = 0;
    error_.reset();
    wholeError_.reset();
    messages_.clear();
    isKept_ = false;
    summary_ = {};
    startedAt_ = base::now();
    tell(RunChange::Begun);
}

void Run::noteStarted() {
    state_ = RunState::Running;
    startedAt_ = base::now();
    tell(RunChange::Started);
}

void Run::noteResult(const data::ResultSetPtr& result) {
    result_ = result;
    tell(RunChange::Result);
}

void Run::noteNotices(const std::vector<db::Notice>& notices) {
    for (const db::Notice& notice : notices) messages_.push_back({base::now(), notice});
    tell(RunChange::Notices);
}

void Run::noteRows(std::size_t read) {
    rowsRead_ = std::max(rowsRead_, read);
    tell(RunChange::Rows);
}

void Run::notePaused() {
    state_ = RunState::Paused;
    summary_.totalTime = sinceStart();
    tell(RunChange::Rested);
}

void Run::noteResumed() {
    state_ = RunState::Running;
    tell(RunChange::Resumed);
}

void Run::noteNextResult() {
    state_ = RunState::Done;
    summary_.totalTime = sinceStart();
    tell(RunChange::Rested);
}

void Run::noteFinished(const db::RunSummary& summary) {
    if (origin_.schema.empty()) origin_.schema = summary.session.connection.schema;
    summary_ = summary;
    rowsRead_ = summary.rowCount;
    state_ = summary.result.isComplete ? RunState::Done : RunState::Partial;
    tell(RunChange::Rested);
}

void Run::noteFailed(const Error& error, const db::RunSummary& summary) {
    summary_ = summary;
    rowsRead_ = std::max(rowsRead_, summary.rowCount);
    wholeError_ = error;
    error_ = error;
    for (std::string* part : {&error_->message, &error_->hint, &error_->detail}) {
        if (part->size() > kShownBytes) *part = std::string(base::prefixOf(*part, kShownBytes)) + "…";
    }
    state_ = error.kind == ErrorKind::Cancelled ? RunState::Stopped : RunState::Failed;
    tell(RunChange::Failed);
}

}  // namespace pantry::work
