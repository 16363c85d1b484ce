#include "app/source/result_source.h"

#include <utility>

#include "app/base/background.h"
#include "app/base/natural_order.h"
#include "app/base/text.h"
#include "core/work/not_again.h"

namespace pantry::app {

ResultSource::ResultSource(work::RunPtr run, QObject* parent) : QObject(parent), run_(std::move(run)) {
    run_->setListener([this](work::RunChange change) { follow(change); });
    if (!result()) return;
    view_.emplace(result());  // it is back from an earlier start
    workOutShapes();
}

ResultSource::~ResultSource() { run_->setListener(nullptr); }

QString ResultSource::title() const { return toQt(run_->title()); }
void ResultSource::rename(const QString& title) { run_->setTitle(fromQt(title)); }
QString ResultSource::place() const { return toQt(run_->place()); }
QString ResultSource::elapsed() const { return toQt(run_->elapsedText()); }
QString ResultSource::outcome() const { return toQt(run_->outcome()); }
QString ResultSource::outcomeText() const { return toQt(run_->outcomeText()); }
QString ResultSource::timeText() const { return toQt(run_->timeText()); }

std::optional<Error> ResultSource::whyNotAgain() const { return work::nothingToRunAgain(); }

void ResultSource::setCountOfAll(std::int64_t rows) {
    countOfAll_ = rows;
    Q_EMIT changed();
}

// ---- The run goes on ----

void ResultSource::follow(work::RunChange change) {
    using work::RunChange;
    if (change == RunChange::Begun) forgetRows();
    if (change == RunChange::Result) return takeResult();
    if (change == RunChange::Compared) return Q_EMIT compared();
    const bool isStill = change == RunChange::Begun || change == RunChange::Resumed || change == RunChange::Looks;
    const bool hasRows = change == RunChange::Rows || change == RunChange::Rested || change == RunChange::Failed;
    if (hasRows) Q_EMIT rowsArrived();
    Q_EMIT changed();
    if (change == RunChange::Rested) workOutShapes();
    if (!isStill) Q_EMIT progressed();
}

void ResultSource::forgetRows() {
    viewCancellation_.request();
    shapeCancellation_.request();
    view_.reset();
    shapes_.clear();
    countOfAll_.reset();
    Q_EMIT resultArrived();
}

void ResultSource::takeResult() {
    view_.emplace(result());
    Q_EMIT resultArrived();
    const bool isArranged = !viewRequest_.order.empty() || !viewRequest_.filter.conditions.empty();
    if (isArranged) viewRequest_ = {};  // what was chosen for an earlier run may not fit these columns
}

// ---- How its rows are shown ----

/// Never in the way: in the background, anew whenever more rows have come to rest.
void ResultSource::workOutShapes() {
    if (rowCount() == 0) return;
    constexpr std::size_t kMaxColumns = 200;
    shapeCancellation_.request();
    shapeCancellation_ = base::Cancellation();
    inBackground(
        base::Work::Long, this,
        [result = result(), cancellation = shapeCancellation_] {
            return data::shapesOf(*result, kMaxColumns, cancellation);
        },
        [this](std::optional<std::vector<data::ColumnShape>> shapes) {
            if (!shapes) return;
            shapes_ = std::move(*shapes);
            Q_EMIT shapesChanged();
        });
}

void ResultSource::requestView(const data::ViewRequest& request) {
    if (!result()) return;
    viewRequest_ = request;
    viewCancellation_.request();
    viewCancellation_ = base::Cancellation();
    viewProgress_ = base::Progress();
    ++arranging_;
    Q_EMIT changed();
    inBackground(
        this,
        [result = result(), request, cancellation = viewCancellation_, progress = viewProgress_] {
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

#include "moc_result_source.cpp"
