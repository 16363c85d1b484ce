#include "app/result/row_header.h"

#include <QFontMetrics>
#include <algorithm>

namespace pantry::app {
namespace {

constexpr int kLeastWidth = 44;
constexpr int kMargin = 8;
constexpr int kRowHeight = 24;

}  // namespace

RowHeader::RowHeader(QWidget* parent) : QHeaderView(Qt::Vertical, parent) {
    setSectionsClickable(true);
    setHighlightSections(false);
    setDefaultSectionSize(kRowHeight);
    setSectionResizeMode(QHeaderView::Fixed);
    setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    setMinimumWidth(kLeastWidth);
}

QSize RowHeader::sizeHint() const {
    const QString digits(QString::number(count()).size(), QLatin1Char('0'));
    return {std::max(kLeastWidth, fontMetrics().horizontalAdvance(digits) + 2 * kMargin), defaultSectionSize()};
}

}  // namespace pantry::app
