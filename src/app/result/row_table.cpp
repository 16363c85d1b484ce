#include "app/result/row_table.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPaintEvent>
#include <QPainter>
#include <QScrollBar>
#include <algorithm>
#include <cstdint>

#include "app/result/row_numbers.h"
#include "app/result/row_table_access.h"

namespace pantry::app {
namespace {

constexpr int kGridLine = 1;
constexpr int kFarthest = 2'000'000'000;  // in pixels, with room to add a window's height

}  // namespace

RowTable::RowTable(QWidget* parent)
    : QAbstractItemView(parent),
      header_(new QHeaderView(Qt::Horizontal, this)),
      numbers_(new RowNumbers(this)),
      corner_(new TableCorner(this)) {
    letRowTablesBeRead();
    setVerticalScrollMode(ScrollPerItem);
    setHorizontalScrollMode(ScrollPerPixel);
    setTabKeyNavigation(false);
    followHeader();
}

/// The header outlives the table's own part, and tells when it is hidden.
RowTable::~RowTable() { header_->disconnect(this); }

QWidget* RowTable::rowNumbers() const { return numbers_; }

// ---- What it follows ----

void RowTable::setModel(QAbstractItemModel* model) {
    for (const QMetaObject::Connection& one : ofModel_) disconnect(one);
    ofModel_.clear();
    header_->setModel(model);
    QAbstractItemView::setModel(model);
    if (model == nullptr) return;
    ofModel_ = {connect(model, &QAbstractItemModel::rowsRemoved, this, &RowTable::followModel),
                connect(model, &QAbstractItemModel::layoutChanged, this, &RowTable::followModel)};
}

void RowTable::followModel() {
    updateGeometries();
    numbers_->update();
    viewport()->update();
}

void RowTable::setSelectionModel(QItemSelectionModel* selection) {
    QAbstractItemView::setSelectionModel(selection);
    header_->setSelectionModel(selection);
}

void RowTable::setHorizontalHeader(QHeaderView* header) {
    delete header_;
    header_ = header;
    header_->setParent(this);
    if (model() != nullptr) header_->setModel(model());
    if (selectionModel() != nullptr) header_->setSelectionModel(selectionModel());
    followHeader();
    updateGeometries();
}

void RowTable::followHeader() {
    const auto repaint = [this] {
        updateGeometries();
        viewport()->update();
    };
    connect(header_, &QHeaderView::sectionResized, this, repaint);
    connect(header_, &QHeaderView::sectionMoved, this, repaint);
    connect(header_, &QHeaderView::sectionCountChanged, this, repaint);
    connect(header_, &QHeaderView::geometriesChanged, this, &RowTable::updateGeometries);
    connect(header_, &QHeaderView::sectionPressed, this, &RowTable::pressColumn);
    connect(header_, &QHeaderView::sectionEntered, this, [this](int column) {
        if (columnAnchor_ >= 0 && QApplication::mouseButtons().testFlag(Qt::LeftButton))
            chooseColumns(columnAnchor_, column, Choice::Alone);
    });
}

void RowTable::setRowNumbersShown(bool isShown) {
    hasNumbers_ = isShown;
    updateGeometries();
}

void RowTable::setRowHeight(int pixels) {
    if (rowHeight_ == pixels) return;
    rowHeight_ = pixels;
    followModel();
}

void RowTable::rowsInserted(const QModelIndex& parent, int start, int end) {
    QAbstractItemView::rowsInserted(parent, start, end);
    updateGeometries();
    const int shownEnd = topRow() + wholeRowsShown() + 1;
    if (start > shownEnd) return;
    numbers_->update();
    viewport()->update();
}

void RowTable::currentChanged(const QModelIndex& current, const QModelIndex& previous) {
    QAbstractItemView::currentChanged(current, previous);
    if (current.isValid()) tellCurrentCell(this, current.row(), current.column());
}

void RowTable::doItemsLayout() {
    QAbstractItemView::doItemsLayout();
    numbers_->update();
}

/// Would ask the model about every row.
void RowTable::keyboardSearch(const QString&) {}

// ---- Places ----

int RowTable::rowCount() const { return model() != nullptr ? model()->rowCount(rootIndex()) : 0; }

int RowTable::topRow() const { return verticalScrollBar()->value(); }

int RowTable::wholeRowsShown() const { return std::max(1, viewport()->height() / rowHeight_); }

/// Pixels are counted in 32 bits, enough for some eighty million rows. What is farther away stands at the end of them.
int RowTable::rowPosition(int row) const {
    const std::int64_t y = (static_cast<std::int64_t>(row) - topRow()) * rowHeight_;
    return static_cast<int>(std::clamp<std::int64_t>(y, -kFarthest, kFarthest));
}

/// What rowPosition says the other way round; it may be a row that is not there. The farthest place is the last row's.
std::int64_t RowTable::rowOfPlace(int y) const {
    if (y >= kFarthest) return rowCount();
    if (y <= -kFarthest) return -1;
    return topRow() + static_cast<std::int64_t>(y >= 0 ? y : y - rowHeight_ + 1) / rowHeight_;
}

int RowTable::verticalOffset() const { return -rowPosition(0); }

int RowTable::rowAt(int y) const {
    const std::int64_t row = rowOfPlace(y);
    return row >= 0 && row < rowCount() ? static_cast<int>(row) : -1;
}

/// The nearest row, also above the first and below the last one; -1 when there is none.
int RowTable::clampedRowAt(int y) const {
    const std::int64_t row = rowOfPlace(y);
    return static_cast<int>(std::clamp<std::int64_t>(row, rowCount() > 0 ? 0 : -1, rowCount() - 1));
}

int RowTable::clampedVisualAt(int x) const {
    if (header_->length() == 0) return -1;
    return header_->visualIndexAt(std::clamp(x, -header_->offset(), header_->length() - header_->offset() - 1));
}

int RowTable::shownVisualFrom(int visual, int by) const {
    while (visual >= 0 && visual < header_->count()) {
        if (!header_->isSectionHidden(header_->logicalIndex(visual))) return visual;
        visual += by;
    }
    return -1;
}

/// Shown columns that have a part between two places of the viewport, from left to right.
std::vector<int> RowTable::columnsWithin(int left, int right) const {
    std::vector<int> columns;
    const int first = clampedVisualAt(left);
    for (int visual = first; visual >= 0 && visual < header_->count(); ++visual) {
        const int column = header_->logicalIndex(visual);
        if (header_->isSectionHidden(column)) continue;
        if (columnViewportPosition(column) > right) break;
        columns.push_back(column);
    }
    return columns;
}

QRect RowTable::visualRect(const QModelIndex& index) const {
    if (!index.isValid() || isIndexHidden(index)) return {};
    return {columnViewportPosition(index.column()), rowPosition(index.row()), columnWidth(index.column()) - kGridLine,
            rowHeight_ - kGridLine};
}

QModelIndex RowTable::indexAt(const QPoint& point) const {
    const int row = rowAt(point.y());
    const int column = header_->logicalIndexAt(point.x());
    return row >= 0 && column >= 0 ? model()->index(row, column, rootIndex()) : QModelIndex();
}

bool RowTable::isIndexHidden(const QModelIndex& index) const { return isColumnHidden(index.column()); }

// ---- Scrolling ----

void RowTable::scrollTo(const QModelIndex& index, ScrollHint hint) {
    if (!index.isValid() || isIndexHidden(index)) return;
    scrollToColumn(index.column(), hint);
    scrollToRow(index.row(), hint);
}

void RowTable::scrollToColumn(int column, ScrollHint hint) {
    const int begin = header_->sectionPosition(column);
    const int width = columnWidth(column);
    const int room = viewport()->width();
    const int offset = header_->offset();
    const bool isLeft = begin < offset || width > room;
    const bool isRight = begin + width > offset + room;
    if (hint == PositionAtCenter) {
        horizontalScrollBar()->setValue(begin - (room - width) / 2);
    } else if (isLeft) {
        horizontalScrollBar()->setValue(begin);
    } else if (isRight) {
        horizontalScrollBar()->setValue(begin + width - room);
    }
}

void RowTable::scrollToRow(int row, ScrollHint hint) {
    const int shown = wholeRowsShown();
    const bool isAbove = row < topRow();
    const bool isBelow = row >= topRow() + shown;
    if (hint == PositionAtCenter) {
        verticalScrollBar()->setValue(row - shown / 2);
    } else if (hint == PositionAtTop || (hint == EnsureVisible && isAbove)) {
        verticalScrollBar()->setValue(row);
    } else if (hint == PositionAtBottom || (hint == EnsureVisible && isBelow)) {
        verticalScrollBar()->setValue(row - shown + 1);
    }
}

void RowTable::scrollContentsBy(int dx, int dy) {
    if (dx != 0) header_->setOffset(horizontalScrollBar()->value());
    if (dy != 0) numbers_->update();
    // What comes into sight is all new when it goes far; then nothing is worth moving.
    const bool isFar = std::abs(dy) > wholeRowsShown();
    isFar ? viewport()->update() : viewport()->scroll(dx, dy * rowHeight_);
}

void RowTable::updateGeometries() {
    if (isPlacing_) return;
    isPlacing_ = true;
    placeHeadings();
    setScrollRanges();
    QAbstractItemView::updateGeometries();
    isPlacing_ = false;
}

void RowTable::placeHeadings() {
    const int left = hasNumbers_ ? numbers_->sizeHint().width() : 0;
    const int top = std::max(header_->minimumHeight(), header_->sizeHint().height());
    setViewportMargins(left, top, 0, 0);
    const QRect area = viewport()->geometry();
    header_->setGeometry(area.left(), area.top() - top, area.width(), top);
    numbers_->setGeometry(area.left() - left, area.top(), left, area.height());
    corner_->setGeometry(area.left() - left, area.top() - top, left, top);
    numbers_->setVisible(hasNumbers_);
    corner_->setVisible(hasNumbers_);
}

void RowTable::setScrollRanges() {
    const int rows = wholeRowsShown();
    verticalScrollBar()->setSingleStep(1);
    verticalScrollBar()->setPageStep(rows);
    verticalScrollBar()->setRange(0, std::max(0, rowCount() - rows));
    const int width = viewport()->width();
    const auto columns = columnsWithin(0, width);
    horizontalScrollBar()->setPageStep(width);
    horizontalScrollBar()->setSingleStep(std::max(2, width / (static_cast<int>(columns.size()) + 1)));
    horizontalScrollBar()->setRange(0, std::max(0, header_->length() - width));
    if (header_->offset() != horizontalScrollBar()->value()) header_->setOffset(horizontalScrollBar()->value());
}

// ---- Painting ----

void RowTable::paintEvent(QPaintEvent* event) {
    QPainter painter(viewport());
    if (rowCount() == 0 || header_->length() == 0) return;
    QStyleOptionViewItem option;
    initViewItemOption(&option);
    const std::vector<int> columns = columnsWithin(event->rect().left(), event->rect().right());
    if (columns.empty()) return;
    const int first = clampedRowAt(event->rect().top());
    const int last = clampedRowAt(event->rect().bottom());
    const int right = columnViewportPosition(columns.back()) + columnWidth(columns.back()) - kGridLine;
    const auto hint = style()->styleHint(QStyle::SH_Table_GridLineColor, &option, this);
    const QPen line(QColor::fromRgba(static_cast<QRgb>(hint)));
    for (int row = first; row <= last; ++row) {
        paintRow(painter, option, row, columns);
        const int y = rowPosition(row) + rowHeight_ - kGridLine;
        painter.setPen(line);
        painter.drawLine(columnViewportPosition(columns.front()), y, right, y);
    }
    const int bottom = rowPosition(last) + rowHeight_ - kGridLine;
    for (const int column : columns) {
        const int x = columnViewportPosition(column) + columnWidth(column) - kGridLine;
        painter.drawLine(x, rowPosition(first), x, bottom);
    }
}

void RowTable::paintRow(QPainter& painter, QStyleOptionViewItem& option, int row, const std::vector<int>& columns) {
    const QModelIndex current = currentIndex();
    const bool hasFocusHere = hasFocus() || viewport()->hasFocus();
    const QStyle::State usual = option.state;
    for (const int column : columns) {
        const QModelIndex cell = model()->index(row, column, rootIndex());
        option.rect = visualRect(cell);
        option.state = usual;
        option.state.setFlag(QStyle::State_Selected, selectionModel() != nullptr && selectionModel()->isSelected(cell));
        option.state.setFlag(QStyle::State_HasFocus, hasFocusHere && cell == current);
        itemDelegateForIndex(cell)->paint(&painter, option, cell);
    }
    option.state = usual;
}

// ---- Moving and choosing ----

QModelIndex RowTable::moveCursor(CursorAction action, Qt::KeyboardModifiers modifiers) {
    const int rows = rowCount();
    const int leftmost = shownVisualFrom(0, 1);
    const int rightmost = shownVisualFrom(header_->count() - 1, -1);
    if (rows == 0 || leftmost < 0) return {};
    const QModelIndex current = currentIndex();
    if (!current.isValid()) return model()->index(0, header_->logicalIndex(leftmost), rootIndex());
    const bool isFar = modifiers.testFlag(Qt::ControlModifier);
    int row = current.row();
    int visual = header_->visualIndex(current.column());
    const auto step = [&](int by) { visual = std::max(-1, shownVisualFrom(visual + by, by)); };
    switch (action) {
        case MoveUp: --row; break;
        case MoveDown: ++row; break;
        case MovePageUp: row -= wholeRowsShown(); break;
        case MovePageDown: row += wholeRowsShown(); break;
        case MoveLeft:
        case MovePrevious: step(-1); break;
        case MoveRight:
        case MoveNext: step(1); break;
        case MoveHome:
            visual = leftmost;
            if (isFar) row = 0;
            break;
        case MoveEnd:
            visual = rightmost;
            if (isFar) row = rows - 1;
            break;
    }
    if (visual < 0) return current;  // nothing farther in this direction
    return model()->index(std::clamp(row, 0, rows - 1), header_->logicalIndex(visual), rootIndex());
}

/// Ctrl with Home or End only says how far to go; otherwise it leaves what is chosen alone.
QItemSelectionModel::SelectionFlags RowTable::selectionCommand(const QModelIndex& index, const QEvent* event) const {
    const auto* press =
        event != nullptr && event->type() == QEvent::KeyPress ? static_cast<const QKeyEvent*>(event) : nullptr;
    if (press == nullptr || (press->key() != Qt::Key_Home && press->key() != Qt::Key_End))
        return QAbstractItemView::selectionCommand(index, event);
    const bool isRange = press->modifiers().testFlag(Qt::ShiftModifier);
    return isRange ? QItemSelectionModel::SelectCurrent : QItemSelectionModel::ClearAndSelect;
}

void RowTable::setSelection(const QRect& rect, QItemSelectionModel::SelectionFlags command) {
    if (selectionModel() == nullptr || rowCount() == 0) return;
    const QRect area = rect.normalized();
    const int top = clampedRowAt(area.top());
    const int bottom = clampedRowAt(area.bottom());
    const int left = clampedVisualAt(area.left());
    const int right = clampedVisualAt(area.right());
    if (left < 0 || right < 0) return;
    QItemSelection chosen;
    for (int visual = left; visual <= right; ++visual) {
        const int column = header_->logicalIndex(visual);
        if (isColumnHidden(column)) continue;
        const bool isNext = !chosen.isEmpty() && chosen.back().right() + 1 == column;
        const int from = isNext ? chosen.back().left() : column;
        if (isNext) chosen.pop_back();
        chosen.append(
            QItemSelectionRange(model()->index(top, from, rootIndex()), model()->index(bottom, column, rootIndex())));
    }
    selectionModel()->select(chosen, command);
}

/// Only what is in sight: this says what to paint again.
QRegion RowTable::visualRegionForSelection(const QItemSelection& selection) const {
    QRegion region;
    const int top = topRow();
    const int bottom = top + wholeRowsShown() + 1;
    const auto columns = columnsWithin(0, viewport()->width());
    for (const QItemSelectionRange& range : selection) {
        if (!range.isValid() || range.bottom() < top || range.top() > bottom) continue;
        const int y = rowPosition(std::max(range.top(), top));
        const int end = rowPosition(std::min(range.bottom(), bottom)) + rowHeight_;
        for (const int column : columns) {
            if (column < range.left() || column > range.right()) continue;
            region += QRect(columnViewportPosition(column), y, columnWidth(column), end - y);
        }
    }
    return region;
}

void RowTable::selectRow(int row) { chooseRows(row, row, Choice::Alone); }

void RowTable::selectColumn(int column) {
    columnAnchor_ = column;
    chooseColumns(column, column, Choice::Alone);
}

/// With Shift from the column where choosing began, with Ctrl one more or one less.
void RowTable::pressColumn(int column) {
    const Qt::KeyboardModifiers keys = QApplication::keyboardModifiers();
    const bool isRange = keys.testFlag(Qt::ShiftModifier) && columnAnchor_ >= 0 && columnAnchor_ < header_->count();
    if (!isRange) columnAnchor_ = column;
    chooseColumns(columnAnchor_, column, keys.testFlag(Qt::ControlModifier) ? Choice::Also : Choice::Alone);
}

void RowTable::chooseRows(int from, int to, Choice choice) {
    const auto [top, bottom] = std::minmax({from, to});
    if (selectionModel() == nullptr || header_->count() == 0 || top < 0 || bottom >= rowCount()) return;
    const int column = std::max(0, header_->logicalIndexAt(0));
    selectionModel()->setCurrentIndex(model()->index(to, column, rootIndex()), QItemSelectionModel::NoUpdate);
    choose(
        QItemSelection(model()->index(top, 0, rootIndex()), model()->index(bottom, header_->count() - 1, rootIndex())),
        choice);
}

void RowTable::chooseColumns(int from, int to, Choice choice) {
    const auto [first, last] = std::minmax({from, to});
    if (selectionModel() == nullptr || rowCount() == 0 || first < 0 || last >= header_->count()) return;
    const int row = std::min(topRow(), rowCount() - 1);
    selectionModel()->setCurrentIndex(model()->index(row, to, rootIndex()), QItemSelectionModel::NoUpdate);
    const auto [left, right] = std::minmax({header_->visualIndex(from), header_->visualIndex(to)});
    QItemSelection chosen;
    for (int visual = left; visual <= right; ++visual) {
        const int column = header_->logicalIndex(visual);
        if (isColumnHidden(column)) continue;
        chosen.append(QItemSelectionRange(model()->index(0, column, rootIndex()),
                                          model()->index(rowCount() - 1, column, rootIndex())));
    }
    choose(chosen, choice);
}

/// What was chosen as a whole before, and is pressed once more with Ctrl, is given up.
void RowTable::choose(const QItemSelection& chosen, Choice choice) {
    using Flag = QItemSelectionModel::SelectionFlag;
    const QItemSelection& before = selectionModel()->selection();
    const bool isChosen = std::ranges::all_of(chosen, [&before](const QItemSelectionRange& range) {
        return std::ranges::any_of(before, [&range](const QItemSelectionRange& one) {
            return one.contains(range.topLeft()) && one.contains(range.bottomRight());
        });
    });
    const Flag also = isChosen ? Flag::Deselect : Flag::Select;
    selectionModel()->select(chosen, choice == Choice::Alone ? Flag::ClearAndSelect : also);
}

}  // namespace pantry::app

#include "moc_row_table.cpp"
