#include "app/source/result_source.h"

#include "app/base/background.h"
#include "app/base/natural_order.h"
#include "app/base/text.h"
#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::app {

ResultSource::ResultSource(QString title, sql::Statement statement, QObject* parent)
    : QObject(parent), title_(std::move(title)), statement_(std::move(statement)) {}

QString ResultSource::timeWords() const { return toQt(base::readable(summary_.totalTime)); }

QString ResultSource::outcomeText() const {
    if (isComparison_) return comparisonText_;
    const auto rows = toQt(base::counted(static_cast<std::int64_t>(rowCount()), "row", "rows"));
    switch (state_) {
        case State::Waiting: return tr("waiting");
        case State::Running:
            return (result_ ? tr("%1 so far").arg(rows) : tr("running")) +
                   (elapsed().isEmpty() ? QString() : QStringLiteral(" · ") + elapsed());
        case State::Paused:
        case State::Partial: return tr("first %1").arg(rows);
        case State::Failed: return error_ ? toQt(error_->message) : tr("failed");
        case State::Stopped:
            return result_ ? tr("stopped after %1").arg(rows) : summary_.isBehindBroken ? tr("not run") : tr("stopped");
        case State::Done: break;
    }
    if (result_) return rows;
    if (!summary_.result.generatedKey.empty() && summary_.result.affectedRows == 1) {
        return tr("1 row added, key %1").arg(toQt(summary_.result.generatedKey));
    }
    if (summary_.result.affectedRows)
        return tr("%1 changed").arg(toQt(base::counted(*summary_.result.affectedRows, "row", "rows")));
    return tr("done");
}

QString ResultSource::elapsed() const {
    const auto elapsed = std::chrono::duration_cast<std::chrono::seconds>(base::now() - startedAt_);
    if (state_ != State::Running || elapsed < std::chrono::seconds(1)) return {};
    return toQt(base::readable(std::chrono::microseconds(elapsed)));
}

QString ResultSource::outcome() const {
    const bool hasTime =
        !isComparison_ && (state_ == State::Done || state_ == State::Partial || state_ == State::Paused);
    return hasTime ? outcomeText() + QStringLiteral(" · ") + timeWords() : outcomeText();
}

void ResultSource::rename(const QString& title) {
    title_ = title;
    Q_EMIT changed();
}

void ResultSource::becomeComparison(const data::ResultSetPtr& differences, const QString& words) {
    isComparison_ = true;
    comparisonText_ = words;
    state_ = State::Done;
    noteResult(differences);
    noteRows();
    workOutShapes();
}

std::optional<Error> ResultSource::whyNotAgain() const {
    return Error{.kind = ErrorKind::NotFound,
                 .message = fromQt(tr("These rows have no statement that could run again.")),
                 .hint = fromQt(tr("What is here can be exported."))};
}

void ResultSource::setPinned(bool isPinned) {
    isPinned_ = isPinned;
    Q_EMIT changed();
}

void ResultSource::setPlace(const work::Origin& origin, const QString& place) {
    origin_ = origin;
    place_ = place;
}

void ResultSource::setCountOfAll(std::int64_t rows) {
    countOfAll_ = rows;
    Q_EMIT changed();
}

void ResultSource::beginAnew() {
    viewCancellation_.request();
    shapeCancellation_.request();
    state_ = State::Waiting;
    result_.reset();
    view_.reset();
    shapes_.clear();
    error_.reset();
    messages_.clear();
    countOfAll_.reset();
    summary_ = {};
    startedAt_ = base::now();
    Q_EMIT resultArrived();
    Q_EMIT changed();
}

void ResultSource::noteStarted() {
    state_ = State::Running;
    startedAt_ = base::now();
    Q_EMIT changed();
}

void ResultSource::noteResult(const data::ResultSetPtr& result) {
    result_ = result;
    view_.emplace(result);
    Q_EMIT resultArrived();
    const bool isArranged = !viewRequest_.order.empty() || !viewRequest_.filter.conditions.empty();
    if (isArranged) viewRequest_ = {};  // what was chosen for an earlier run may not fit these columns
}

void ResultSource::noteNotices(const std::vector<db::Notice>& notices) {
    for (const db::Notice& notice : notices) messages_.push_back({base::now(), notice});
    Q_EMIT changed();
}

void ResultSource::noteNextResult() {
    state_ = State::Done;
    summary_.totalTime = std::chrono::duration_cast<std::chrono::microseconds>(base::now() - startedAt_);
    noteRows();
    workOutShapes();
}

void ResultSource::noteRows() {
    Q_EMIT rowsArrived();
    Q_EMIT changed();
}

void ResultSource::notePaused() {
    state_ = State::Paused;
    summary_.totalTime = std::chrono::duration_cast<std::chrono::microseconds>(base::now() - startedAt_);
    noteRows();
    workOutShapes();
}

void ResultSource::noteResumed() {
    state_ = State::Running;
    Q_EMIT changed();
}

void ResultSource::noteFinished(const db::RunSummary& summary) {
    if (origin_.schema.empty()) origin_.schema = summary.session.line.schema;
    summary_ = summary;
    state_ = summary.result.isComplete ? State::Done : State::Partial;
    noteRows();
    workOutShapes();
}

void ResultSource::noteFailed(const Error& error, const db::RunSummary& summary) {
    summary_ = summary;
    wholeError_ = error;
    error_ = error;
    for (std::string* part : {&error_->message, &error_->hint, &error_->detail}) {
        if (part->size() > kShownBytes) *part = std::string(base::prefixOf(*part, kShownBytes)) + "…";
    }
    state_ = error.kind == ErrorKind::Cancelled ? State::Stopped : State::Failed;
    noteRows();
}

/// Never in the way: in the background, anew whenever more rows have come to rest.
void ResultSource::workOutShapes() {
    if (!result_ || result_->rowCount() == 0) return;
    constexpr std::size_t kMaxColumns = 200;
    shapeCancellation_.request();
    shapeCancellation_ = base::Cancellation();
    inBackground(
        base::Work::Long, this,
        [result = result_, cancellation = shapeCancellation_] {
            return data::shapesOf(*result, kMaxColumns, cancellation);
        },
        [this](std::optional<std::vector<data::ColumnShape>> shapes) {
            if (!shapes) return;
            shapes_ = std::move(*shapes);
            Q_EMIT shapesChanged();
        });
}

void ResultSource::requestView(const data::ViewRequest& request) {
    if (!result_) return;
    viewRequest_ = request;
    viewCancellation_.request();
    viewCancellation_ = base::Cancellation();
    viewProgress_ = base::Progress();
    ++arranging_;
    Q_EMIT changed();
    inBackground(
        this,
        [result = result_, request, cancellation = viewCancellation_, progress = viewProgress_] {
            return data::ResultView::make(result, request, cancellation, naturalOrder(), progress);
        },
        [this, request](std::optional<data::ResultView> view) {
            --arranging_;
            Q_EMIT changed();
            if (!view || !(request == viewRequest_)) return;
            view_ = std::move(view);
            Q_EMIT viewChanged();
        });
}

}  // namespace pantry::app
