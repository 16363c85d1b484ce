#include "app/result/row_numbers.h"

#include <QApplication>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/look/theme.h"
#include "app/result/row_table.h"

namespace pantry::app {
namespace {

constexpr int kLeastNumbersWidth = 44;
constexpr int kNumbersMargin = 8;

/// The ground of a heading with its lines at the right and below.
void paintHeading(QPainter& painter, const QRect& rect) {
    const Theme& theme = Theme::current();
    painter.fillRect(rect, theme.colour("paper"));
    painter.setPen(theme.colour("line"));
    painter.drawLine(rect.topRight(), rect.bottomRight());
    painter.drawLine(rect.bottomLeft(), rect.bottomRight());
}

}  // namespace

RowNumbers::RowNumbers(RowTable* table) : QWidget(table), table_(table) {}

QSize RowNumbers::sizeHint() const {
    const QString digits(QString::number(table_->rowCount()).size(), QLatin1Char('0'));
    return {std::max(kLeastNumbersWidth, fontMetrics().horizontalAdvance(digits) + 2 * kNumbersMargin),
            table_->rowHeight()};
}

void RowNumbers::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    painter.fillRect(event->rect(), Theme::current().colour("paper"));
    const int last = table_->clampedRowAt(event->rect().bottom());
    for (int row = table_->clampedRowAt(event->rect().top()); row >= 0 && row <= last; ++row) {
        const QRect area(0, table_->rowPosition(row), width(), table_->rowHeight());
        paintHeading(painter, area);
        const QString number = table_->model()->headerData(row, Qt::Vertical).toString();
        painter.setPen(Theme::current().colour("quiet"));
        painter.drawText(area.adjusted(kNumbersMargin, 0, -kNumbersMargin - 1, 0), Qt::AlignRight | Qt::AlignVCenter,
                         number);
    }
}

void RowNumbers::mousePressEvent(QMouseEvent* event) {
    const int row = table_->rowAt(qRound(event->position().y()));
    if (event->button() != Qt::LeftButton || row < 0) return QWidget::mousePressEvent(event);
    table_->setFocus(Qt::MouseFocusReason);
    const bool isRange = event->modifiers().testFlag(Qt::ShiftModifier) && anchor_ >= 0;
    if (!isRange) anchor_ = row;
    const bool isAlso = event->modifiers().testFlag(Qt::ControlModifier);
    table_->chooseRows(std::min(anchor_, table_->rowCount() - 1), row,
                       isAlso ? RowTable::Choice::Also : RowTable::Choice::Alone);
}

void RowNumbers::mouseMoveEvent(QMouseEvent* event) {
    if (!event->buttons().testFlag(Qt::LeftButton) || anchor_ < 0 || table_->rowCount() == 0) return;
    const int row = table_->clampedRowAt(qRound(event->position().y()));
    table_->chooseRows(std::min(anchor_, table_->rowCount() - 1), row, RowTable::Choice::Alone);
    table_->scrollToRow(row, QAbstractItemView::EnsureVisible);
}

void RowNumbers::wheelEvent(QWheelEvent* event) { QApplication::sendEvent(table_->viewport(), event); }

TableCorner::TableCorner(RowTable* table) : QWidget(table), table_(table) {}

void TableCorner::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintHeading(painter, rect());
}

void TableCorner::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) table_->selectAll();
}

}  // namespace pantry::app

#include "moc_row_numbers.cpp"
