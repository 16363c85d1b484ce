#include "app/result/grid_view.h"

#include <QHeaderView>
#include <QPainter>
#include <QScrollBar>
#include <QWheelEvent>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/grid_delegate.h"
#include "app/result/grid_header.h"

namespace pantry::app {
namespace {

constexpr int kNoteDebounceMs = 350;
constexpr int kWidestColumn = 340;
constexpr int kWidestNumber = 900;
constexpr int kRowsMeasured = 60;
constexpr int kColumnsMeasured = 200;

}  // namespace

GridView::GridView(GridModel* model, ResultLook* look, QWidget* parent)
    : RowTable(parent), grid_(model), look_(look), frozen_(nullptr) {
    setModel(model);
    name(this, objectName::kResultGrid, tr("Rows"));
    setHorizontalHeader(new GridHeader(this));
    setItemDelegate(new GridDelegate(this));
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setSelectionBehavior(QAbstractItemView::SelectItems);
    setContextMenuPolicy(Qt::CustomContextMenu);
    horizontalHeader()->setContextMenuPolicy(Qt::CustomContextMenu);
    frozen_ = new FrozenColumns(this);
    noteTimer_.setSingleShot(true);
    noteTimer_.setInterval(kNoteDebounceMs);
    connect(&noteTimer_, &QTimer::timeout, this, &GridView::noteChoices);
    connect(horizontalHeader(), &QHeaderView::sectionResized, this, [this] {
        if (!isApplying_) noteTimer_.start();
    });
    connect(horizontalHeader(), &QHeaderView::sectionMoved, this, [this] {
        if (!isApplying_) noteTimer_.start();
    });
    constexpr int kWidenDebounceMs = 40;
    widenTimer_.setSingleShot(true);
    widenTimer_.setInterval(kWidenDebounceMs);
    connect(&widenTimer_, &QTimer::timeout, this, &GridView::widenToShown);
    const auto widenSoon = [this] {
        if (!widenTimer_.isActive()) widenTimer_.start();
    };
    connect(model, &QAbstractItemModel::rowsInserted, this, widenSoon);
    connect(verticalScrollBar(), &QScrollBar::valueChanged, this, widenSoon);
    connect(horizontalScrollBar(), &QScrollBar::valueChanged, this, widenSoon);
    connect(horizontalHeader(), &QHeaderView::sectionHandleDoubleClicked, this, &GridView::fitColumn);
    connect(horizontalHeader(), &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        const int column = horizontalHeader()->logicalIndexAt(at);
        if (column >= 0) Q_EMIT columnMenuWanted(column, horizontalHeader()->mapToGlobal(at));
    });
}

int GridView::widthByContent(int column) const {
    const QFontMetrics metrics(font());
    int width = horizontalHeader()->sectionSizeHint(column);
    for (int row = 0; row < std::min(grid_->rowCount(), kRowsMeasured); ++row) {
        const QModelIndex cell = grid_->index(row, column);
        const QString label = cell.data(GridModel::LabelRole).toString();
        const QString text =
            cell.data().toString().left(80) + (label.isEmpty() ? QString() : QStringLiteral("  ") + label);
        width = std::max(width, metrics.horizontalAdvance(text) + 24);
    }
    return std::min(width, kWidestColumn);
}

void GridView::applyChoices() {
    isApplying_ = true;
    const data::GridChoices& choices = look_->choices();
    for (std::size_t visual = 0; visual < choices.order.size(); ++visual) {
        const int column = look_->columnOf(choices.order[visual]);
        if (column >= 0)
            horizontalHeader()->moveSection(horizontalHeader()->visualIndex(column), static_cast<int>(visual));
    }
    for (int column = 0; column < grid_->columnCount(); ++column) {
        const data::ColumnChoice choice = look_->choiceOf(column);
        setColumnHidden(column, choice.isHidden);
        if (choice.width > 0) {
            setColumnWidth(column, choice.width);
        } else if (column < kColumnsMeasured && grid_->rowCount() > 0) {
            fit(column, widthByContent(column));
        }
    }
    frozen_->setCount(choices.frozen);
    isApplying_ = false;
}

void GridView::fitColumn(int column) {
    fit(column, widthByContent(column));
    noteTimer_.start();
}

void GridView::fit(int column, int width) {
    fitted_[column] = width;
    setColumnWidth(column, width);
}

/// A number or a date that came into sight later may need more room than the first ones: columns that nobody has sized
/// get wider for them, never narrower.
void GridView::widenToShown() {
    const QRect shown = viewport()->rect();
    const int firstRow = std::max(0, rowAt(shown.top()));
    const int lastRow = rowAt(shown.bottom()) < 0 ? grid_->rowCount() - 1 : rowAt(shown.bottom());
    const QFontMetrics metrics(font());
    isApplying_ = true;
    for (int visual = std::max(0, horizontalHeader()->visualIndexAt(0)); visual < grid_->columnCount(); ++visual) {
        const int column = horizontalHeader()->logicalIndex(visual);
        if (columnViewportPosition(column) > shown.right()) break;
        if (isColumnHidden(column) || look_->choiceOf(column).width > 0) continue;
        int width = columnWidth(column);
        for (int row = firstRow; row <= lastRow; ++row) {
            const QModelIndex cell = grid_->index(row, column);
            if (!cell.data(GridModel::ExactRole).toBool()) continue;
            width = std::max(width, metrics.horizontalAdvance(cell.data().toString()) + 24);
        }
        if (width > columnWidth(column)) fit(column, std::min(width, kWidestNumber));
    }
    isApplying_ = false;
}

void GridView::setTextSize(int points) {
    QFont cells(QStringLiteral("Hack"));
    cells.setPointSize(points);
    setFont(cells);
    setStyleSheet(QStringLiteral("QAbstractItemView#resultGrid { font-size: %1pt; }").arg(points));
    setRowHeight(QFontMetrics(cells).height() + 9);
    const auto* heading = static_cast<GridHeader*>(horizontalHeader());
    const bool isOther = heading->textSize() != points;
    for (GridHeader* header : findChildren<GridHeader*>()) header->setTextSize(points);
    if (isOther && grid_->columnCount() > 0) applyChoices();
    frozen_->refresh();
}

void GridView::hideColumn(int column, bool isHidden) {
    setColumnHidden(column, isHidden);
    frozen_->refresh();
    noteChoices();
}

void GridView::showAllColumns() {
    for (int c = 0; c < grid_->columnCount(); ++c) setColumnHidden(c, false);
    frozen_->refresh();
    noteChoices();
}

void GridView::showOnlyColumn(int column) {
    for (int c = 0; c < grid_->columnCount(); ++c) setColumnHidden(c, c != column);
    frozen_->refresh();
    noteChoices();
}

void GridView::freezeUpTo(int column) {
    int count = 0;
    for (int visual = 0; column >= 0 && visual <= horizontalHeader()->visualIndex(column); ++visual) {
        if (!isColumnHidden(horizontalHeader()->logicalIndex(visual))) ++count;
    }
    frozen_->setCount(count);
    noteChoices();
}

void GridView::goToColumn(int column) {
    if (isColumnHidden(column)) hideColumn(column, false);
    const int row = currentIndex().isValid() ? currentIndex().row() : 0;
    setCurrentIndex(grid_->index(row, column));
    scrollTo(currentIndex(), QAbstractItemView::PositionAtCenter);
    setFocus();
}

std::vector<std::pair<int, bool>> GridView::columnsAsShown() const {
    std::vector<std::pair<int, bool>> columns;
    for (int visual = 0; visual < grid_->columnCount(); ++visual) {
        const int column = horizontalHeader()->logicalIndex(visual);
        columns.emplace_back(column, !isColumnHidden(column));
    }
    return columns;
}

std::vector<int> GridView::shownColumns() const {
    std::vector<int> columns;
    for (const auto& [column, isShown] : columnsAsShown()) {
        if (isShown) columns.push_back(column);
    }
    return columns;
}

std::vector<int> GridView::chosenRows(std::size_t most) const {
    std::vector<int> rows;
    for (const QItemSelectionRange& range : selectionModel()->selection()) {
        for (int row = range.top(); row <= range.bottom() && rows.size() < most; ++row) {
            if (std::ranges::find(rows, row) == rows.end()) rows.push_back(row);
        }
    }
    std::ranges::sort(rows);
    if (rows.empty() && currentIndex().isValid()) rows.push_back(currentIndex().row());
    if (rows.empty() && grid_->rowCount() > 0) rows.push_back(0);
    return rows;
}

/// What stands as it would by itself is left out, so that it goes on fitting itself.
void GridView::noteChoices() {
    if (isApplying_ || grid_->columnCount() == 0) return;
    data::GridChoices choices = look_->choices();
    choices.order.clear();
    bool isMoved = false;
    for (const auto& [column, isShown] : columnsAsShown()) {
        isMoved = isMoved || column != static_cast<int>(choices.order.size());
        choices.order.push_back(look_->keyOf(column));
        data::ColumnChoice& choice = choices.columns[look_->keyOf(column)];
        choice.isHidden = !isShown;
        if (!isShown) continue;
        const bool isFitting =
            columnWidth(column) == fitted_.value(column, -1) || columnWidth(column) == widthByContent(column);
        choice.width = isFitting ? 0 : columnWidth(column);
    }
    if (!isMoved) choices.order.clear();
    std::erase_if(choices.columns, [](const auto& entry) { return entry.second == data::ColumnChoice{}; });
    choices.frozen = frozen_->count();
    Q_EMIT choicesChanged(choices);
}

void GridView::setEmptyText(const QString& text) {
    if (emptyText_ == text) return;
    emptyText_ = text;
    setAccessibleDescription(text);
    viewport()->update();
}

void GridView::paintEvent(QPaintEvent* event) {
    RowTable::paintEvent(event);
    if (emptyText_.isEmpty()) return;
    QPainter painter(viewport());
    QFont textFont = horizontalHeader()->font();
    textFont.setPixelSize(Theme::px(13));
    painter.setFont(textFont);
    painter.setPen(Theme::current().colour("quiet"));
    painter.drawText(viewport()->rect().adjusted(24, 0, -24, 0), Qt::AlignCenter | Qt::TextWordWrap, emptyText_);
}

void GridView::wheelEvent(QWheelEvent* event) {
    if (!event->modifiers().testFlag(Qt::ControlModifier)) return RowTable::wheelEvent(event);
    Q_EMIT zoomWanted(event->angleDelta().y() > 0 ? 1 : -1);
    event->accept();
}

}  // namespace pantry::app

#include "moc_grid_view.cpp"
