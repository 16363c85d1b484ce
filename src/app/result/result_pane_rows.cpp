// What a result pane does with its rows: order, conditions, find, copy, sums. ResultPane's second file, by theme.
#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QMenu>
#include <QScrollBar>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/result/column_menu.h"
#include "app/result/result_pane.h"
#include "core/base/text.h"
#include "core/data/view/cell_sums.h"
#include "core/data/view/column_profile.h"
#include "core/data/view/decimal.h"
#include "core/sql/text/lexer.h"

namespace pantry::app {
namespace {

constexpr int kRowsBeforeEnd = 200;
constexpr std::int64_t kManyCells = 5'000'000;  // copied only when asked for twice

}  // namespace

// ---- Order and conditions ----

/// A click on a heading: up, down, then the server's order again.
void ResultPane::sortBy(int column, bool adds) {
    if (source() == nullptr) return;
    if (ordersElsewhere_) return Q_EMIT orderWanted(column, std::nullopt);
    data::ViewRequest request = source()->viewRequest();
    const auto wanted = static_cast<std::size_t>(column);
    const auto found = std::ranges::find(request.order, wanted, &data::SortKey::column);
    const bool isThere = found != request.order.end();
    const bool wasDescending = isThere && found->isDescending;
    if (!adds) request.order.clear();
    if (adds && isThere) request.order.erase(found);
    if (!wasDescending) request.order.push_back({wanted, isThere});
    source()->requestView(request);
    refresh();
}

void ResultPane::orderBy(int column, bool isDescending, bool adds) {
    if (source() == nullptr) return;
    if (ordersElsewhere_) return Q_EMIT orderWanted(column, isDescending);
    data::ViewRequest request = source()->viewRequest();
    const auto wanted = static_cast<std::size_t>(column);
    if (!adds) request.order.clear();
    std::erase_if(request.order, [&](const data::SortKey& key) { return key.column == wanted; });
    request.order.push_back({wanted, isDescending});
    source()->requestView(request);
    refresh();
}

void ResultPane::sortHere(bool isDescending) {
    if (source() == nullptr || model_->columnCount() == 0) return;
    orderBy(std::max(0, grid_->currentIndex().column()), isDescending, false);
}

void ResultPane::freezeHere() {
    if (source() != nullptr && model_->columnCount() > 0)
        grid_->freezeUpTo(std::max(0, grid_->currentIndex().column()));
}

void ResultPane::setFilter(const data::Filter& filter) {
    if (source() == nullptr) return;
    data::ViewRequest request = source()->viewRequest();
    request.filter = filter;
    source()->requestView(request);
    refresh();
}

void ResultPane::addCondition(const data::Condition& condition) {
    if (source() == nullptr) return;
    data::Filter filter = source()->viewRequest().filter;
    const auto index = static_cast<std::size_t>(changedCondition_);
    if (changedCondition_ >= 0 && index < filter.conditions.size()) {
        filter.conditions[index] = condition;
    } else {
        filter.conditions.push_back(condition);
    }
    setFilter(filter);
}

/// A later rule comes before the earlier ones: what was asked for last is seen.
void ResultPane::addColour(const data::Condition& condition, const QString& colour) {
    data::GridChoices choices = look_->choices();
    choices.rules.insert(choices.rules.begin(), {.column = look_->keyOf(static_cast<int>(condition.column)),
                                                 .test = condition.test,
                                                 .values = condition.values,
                                                 .colour = fromQt(colour)});
    storeChoices(choices);
}

void ResultPane::changeCondition(int index) {
    if (source() == nullptr) return;
    changedCondition_ = index;
    openFilterFor(source()->viewRequest().filter.conditions[static_cast<std::size_t>(index)]);
}

void ResultPane::openFilter() {
    if (source() == nullptr || !source()->result() || model_->columnCount() == 0) return;
    changedCondition_ = -1;
    const auto column = static_cast<std::size_t>(std::max(0, grid_->currentIndex().column()));
    openFilterFor({.column = column, .test = data::testsFor(source()->result()->columns()[column]).front()});
}

void ResultPane::openFilterFor(const data::Condition& condition) {
    const int column = static_cast<int>(condition.column);
    const QPoint at(grid_->columnViewportPosition(column) + grid_->rowNumbers()->width(),
                    grid_->horizontalHeader()->height());
    filterPanel()->open(*source()->view(), condition, grid_->mapToGlobal(QPoint(std::max(0, at.x()), at.y())));
}

void ResultPane::openColumnMenu(int column, const QPoint& at) {
    if (source() == nullptr || !source()->result()) return;
    auto* menu = new ColumnMenu(model_, grid_, column, this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    connect(menu, &ColumnMenu::sortWanted, this, &ResultPane::orderBy);
    connect(menu, &ColumnMenu::choicesChanged, this, &ResultPane::storeChoices);
    connect(menu, &ColumnMenu::rangeWanted, this, &ResultPane::readRange);
    connect(menu, &ColumnMenu::nullsFirstWanted, this, [this](bool areFirst) {
        data::ViewRequest request = this->source()->viewRequest();
        request.areNullsFirst = areFirst;
        this->source()->requestView(request);
    });
    connect(menu, &ColumnMenu::filterWanted, this, [this](int wanted) {
        grid_->setCurrentIndex(model_->index(std::max(0, grid_->currentIndex().row()), wanted));
        openFilter();
    });
    menu->popup(at);
}

/// The smallest and the largest number of a column, for a scale of colours.
void ResultPane::readRange(int column) {
    if (source() == nullptr || source()->view() == nullptr) return;
    inBackground(
        this,
        [view = data::ResultView(source()->result()), column] {
            return data::profileColumn(view, static_cast<std::size_t>(column), {});
        },
        [this, column, result = source()->result()](const std::optional<data::ColumnProfile>& profile) {
            if (!profile || source() == nullptr || source()->result() != result) return;
            const auto low = data::doubleIn(profile->minimum);
            const auto high = data::doubleIn(profile->maximum);
            if (low && high) look_->setRange(column, *low, *high);
        });
}

// ---- Find ----

/// Looks through everything once for a text, and then only steps from hit to hit.
void ResultPane::find(bool forward) {
    if (source() == nullptr || source()->view() == nullptr || find_->text().isEmpty()) return forgetHits();
    const std::string text = fromQt(find_->text());
    if (hits_ && hits_->text == text) return stepToHit(forward);
    findCancellation_.request();
    findCancellation_ = base::Cancellation();
    findProgress_.emplace();
    progressTimer_.start();
    inBackground(
        this,
        [view = *source()->view(), text, cancellation = findCancellation_, progress = *findProgress_] {
            return data::searchCells(view, text, cancellation, progress);
        },
        [this, forward, cancellation = findCancellation_](std::optional<data::SearchHits> hits) {
            if (!hits || cancellation.isRequested()) return;
            findProgress_.reset();
            hits_ = std::move(*hits);
            stepToHit(forward);
        });
}

/// The rows are others now: what was found, or is being looked for, is about those before.
void ResultPane::forgetHits() {
    findCancellation_.request();
    findProgress_.reset();
    hits_.reset();
}

void ResultPane::stepToHit(bool forward) {
    const QModelIndex current = grid_->currentIndex();
    const data::CellPlace from{static_cast<std::size_t>(std::max(0, current.row())),
                               static_cast<std::size_t>(std::max(0, current.column()))};
    const auto number = hits_->next(from, forward);
    find_->setProperty("missed", !number);
    if (!number) return Q_EMIT selectionSummed(tr("No cell holds “%1”").arg(find_->text()));
    const data::CellPlace place = hits_->places[*number];
    model_->growTo(static_cast<int>(place.row));
    const QModelIndex index = model_->index(static_cast<int>(place.row), static_cast<int>(place.column));
    grid_->setCurrentIndex(index);
    grid_->scrollTo(index);
    sumTimer_.stop();  // the place among the hits is what somebody wants to read now
    const auto count = static_cast<std::int64_t>(hits_->count);
    Q_EMIT selectionSummed(tr("%1 of %2")
                               .arg(toQt(base::grouped(static_cast<std::int64_t>(*number) + 1)),
                                    toQt(base::counted(count, "cell that holds it", "cells that hold it"))));
}

/// Long work tells how far it is; the timer rests as soon as there is none.
void ResultPane::showProgress() {
    const bool isArranging = source() != nullptr && source()->isArranging();
    if (isArranging) summary_->setText(summaryText());
    if (findProgress_)
        Q_EMIT selectionSummed(
            tr("Looking for “%1”, %2 %…").arg(find_->text()).arg(static_cast<int>(findProgress_->share() * 100)));
    if (!isArranging && !findProgress_) progressTimer_.stop();
}

// ---- Selection ----

std::vector<data::CellBlock> ResultPane::selectedBlocks() const {
    std::vector<data::CellBlock> blocks;
    for (const QItemSelectionRange& r : grid_->selectionModel()->selection()) {
        blocks.push_back({static_cast<std::size_t>(r.top()), static_cast<std::size_t>(r.bottom()),
                          static_cast<std::size_t>(r.left()), static_cast<std::size_t>(r.right())});
    }
    return blocks;
}

exchange::CellRange ResultPane::selectedRange() const {
    std::vector<std::size_t> shown;
    for (const int column : grid_->shownColumns()) shown.push_back(static_cast<std::size_t>(column));
    return exchange::rangeOf(selectedBlocks(), shown);
}

void ResultPane::copyAs(exchange::Format format) {
    if (source() == nullptr || source()->view() == nullptr) return;
    exchange::CellRange range = selectedRange();
    if (range.rows.empty()) return Q_EMIT selectionSummed(tr("Select cells first, then copy."));
    exchange::FormatChoices choices;
    choices.insert = {.dialect = source()->language().dialect, .table = fromQt(source()->title())};
    const auto rows = static_cast<std::int64_t>(range.rows.size());
    inBackground(
        this,
        [view = *source()->view(), range = std::move(range), format, choices] {
            return toQt(exchange::rowsAs(format, choices, view, range.rows, range.columns));
        },
        [this, rows, format](const QString& text) {
            QApplication::clipboard()->setText(text);
            Q_EMIT selectionSummed(
                tr("Copied %1 as %2")
                    .arg(toQt(base::counted(rows, "row", "rows")), toQt(exchange::formatName(format))));
        });
}

void ResultPane::copyAsShown() {
    constexpr std::size_t kMaxCells = 200'000;  // made on the window's thread
    if (source() == nullptr || source()->view() == nullptr) return;
    const exchange::CellRange range = selectedRange();
    if (range.rows.empty()) return Q_EMIT selectionSummed(tr("Select cells first, then copy."));
    if (range.rows.size() * range.columns.size() > kMaxCells) {
        return Q_EMIT selectionSummed(tr("That is too much to copy as it is shown; copy it as it was sent."));
    }
    QStringList lines;
    for (const std::size_t row : range.rows) {
        QStringList cells;
        for (const std::size_t column : range.columns) {
            const QModelIndex index = model_->index(static_cast<int>(row), static_cast<int>(column));
            const bool isEmpty = !range.holds(row, column) || index.data(GridModel::NullRole).toBool();
            cells += isEmpty ? QString() : index.data().toString();
        }
        lines += cells.join(QLatin1Char('\t'));
    }
    QApplication::clipboard()->setText(lines.join(QLatin1Char('\n')));
    Q_EMIT selectionSummed(tr("Copied %1 as they are shown").arg(toQt(base::counted(lines.size(), "row", "rows"))));
}

void ResultPane::copyInList() {
    if (source() == nullptr || source()->view() == nullptr) return;
    const exchange::CellRange range = selectedRange();
    if (range.rows.empty()) return Q_EMIT selectionSummed(tr("Select cells first, then copy."));
    QApplication::clipboard()->setText(
        toQt(exchange::inListOf(*source()->view(), range.rows, range.columns.front(), source()->language().dialect)));
    Q_EMIT selectionSummed(tr("Copied the values of one column as a list"));
}

void ResultPane::copyValues() {
    if (source() == nullptr || source()->view() == nullptr) return;
    exchange::CellRange range = selectedRange();
    if (range.rows.empty()) return Q_EMIT selectionSummed(tr("Select cells first, then copy."));
    const auto rows = static_cast<std::int64_t>(range.rows.size());
    inBackground(
        this,
        [view = *source()->view(), range = std::move(range), dialect = source()->language().dialect] {
            return toQt(exchange::valuesListOf(view, range.rows, range.columns, dialect));
        },
        [this, rows](const QString& text) {
            QApplication::clipboard()->setText(text);
            Q_EMIT selectionSummed(tr("Copied %1 as a VALUES list").arg(toQt(base::counted(rows, "row", "rows"))));
        });
}

void ResultPane::copyColumnNames() {
    if (source() == nullptr || !source()->result()) return;
    const exchange::CellRange range = selectedRange();
    QStringList names;
    for (const std::size_t column : range.columns.empty() ? shownColumns() : range.columns) {
        names += toQt(sql::quotedName(source()->result()->columns()[column].name, source()->language().dialect));
    }
    QApplication::clipboard()->setText(names.join(QStringLiteral(", ")));
    Q_EMIT selectionSummed(tr("Copied the names of %1").arg(toQt(base::counted(names.size(), "column", "columns"))));
}

void ResultPane::copySelection(bool hasHeadings) {
    if (source() == nullptr || source()->view() == nullptr) return;
    exchange::CellRange range = selectedRange();
    if (range.rows.empty()) return Q_EMIT selectionSummed(tr("Select cells first, then copy."));
    const auto cells = static_cast<std::int64_t>(range.cellCount());
    if (cells > kManyCells && copyAsked_ != cells) {
        copyAsked_ = cells;
        return Q_EMIT selectionSummed(tr("That is %1 cells. Copy once more to copy them all, or export them to a file.")
                                          .arg(toQt(base::grouped(cells))));
    }
    copyAsked_ = 0;
    if (cells > kManyCells / 10) Q_EMIT selectionSummed(tr("Copying…"));
    inBackground(
        this,
        [view = *source()->view(), range = std::move(range), hasHeadings] {
            return toQt(exchange::clipboardText(view, range, hasHeadings));
        },
        [this, cells](const QString& text) {
            QApplication::clipboard()->setText(text);
            Q_EMIT selectionSummed(tr("Copied %1").arg(toQt(base::counted(cells, "cell", "cells"))));
        });
}

void ResultPane::sumSelection() {
    if (source() == nullptr || source()->view() == nullptr) return Q_EMIT selectionSummed({});
    sumCancellation_.request();
    sumCancellation_ = base::Cancellation();
    inBackground(
        this,
        [view = *source()->view(), blocks = selectedBlocks(), cancellation = sumCancellation_] {
            return data::sumCells(view, blocks, cancellation);
        },
        [this](const std::optional<data::CellSums>& sums) {
            if (sums) Q_EMIT selectionSummed(sums->cellCount > 1 ? toQt(data::describe(*sums)) : QString());
        });
}

/// Scrolling on is the wish for more rows.
void ResultPane::fetchWhenNearEnd() {
    if (source() == nullptr || source()->state() != ResultSource::State::Paused || !source()->view()->isWhole()) return;
    const int lastShown = grid_->rowAt(grid_->viewport()->height() - 1);
    if (lastShown >= 0 && lastShown < model_->rowCount() - kRowsBeforeEnd) return;
    if (grid_->verticalScrollBar()->value() == 0) return;
    source()->fetchMore();
}

void ResultPane::showCellMenu(const QPoint& at) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const QModelIndex index = grid_->indexAt(at);
    connect(menu->addAction(QStringLiteral("%1\t%2").arg(tr("Copy"), keyText("rows.copy"))), &QAction::triggered, this,
            [this] { copySelection(false); });
    connect(menu->addAction(menuText("result.copyWithHeadings")), &QAction::triggered, this,
            [this] { copySelection(true); });
    menu->addSeparator();
    if (index.isValid()) {
        const data::Cell cell = model_->cell(index.row(), index.column());
        const data::Condition same{
            .column = static_cast<std::size_t>(index.column()),
            .test = cell.isNull() ? data::Test::IsNull : data::Test::OneOf,
            .values = cell.isNull() ? std::vector<std::string>() : std::vector{data::toText(cell)}};
        const auto offer = [&](const QString& text, bool isNegated) {
            connect(menu->addAction(text), &QAction::triggered, this, [this, same, isNegated] {
                data::Condition condition = same;
                condition.isNegated = isNegated;
                changedCondition_ = -1;
                addCondition(condition);
            });
        };
        offer(tr("Only rows with this value"), false);
        offer(tr("Only rows without it"), true);
        menu->addSeparator();
        connect(menu->addAction(tr("As a record\tReturn")), &QAction::triggered, this,
                [this] { showView(View::Record); });
    }
    connect(menu->addAction(menuText("result.export")), &QAction::triggered, this, &ResultPane::openExport);
    menu->popup(grid_->viewport()->mapToGlobal(at));
}

}  // namespace pantry::app
