#include "app/result/grid_delegate.h"

#include <QAbstractItemView>
#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/look/theme.h"
#include "app/result/grid_model.h"

namespace pantry::app {
namespace {

constexpr int kCellPadding = 9;

}  // namespace

void GridDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& theme = Theme::current();
    const bool isSelected = option.state.testFlag(QStyle::State_Selected);
    const bool hasFocus = option.state.testFlag(QStyle::State_HasFocus);
    const auto* view = qobject_cast<const QAbstractItemView*>(option.widget);
    const bool isShaded = view != nullptr && view->alternatingRowColors() && index.row() % 2 == 1;
    if (isShaded) painter->fillRect(option.rect, theme.colour("fineLine"));
    if (const QColor background = index.data(GridModel::CellBackgroundRole).value<QColor>(); background.isValid()) {
        painter->fillRect(option.rect, background);
    }
    if (isSelected) painter->fillRect(option.rect, theme.colour("selection"));
    if (hasFocus) {
        painter->setPen(theme.colour("juniper"));
        painter->drawRect(option.rect.adjusted(0, 0, -1, -1));
    }
    const QVariant font = index.data(Qt::FontRole);
    QFont own = option.font;
    if (font.isValid()) {  // its size follows the view
        own.setFamily(font.value<QFont>().family());
        own.setItalic(font.value<QFont>().italic());
    }
    painter->setFont(own);
    painter->setPen(index.data(Qt::ForegroundRole).value<QColor>());
    const QRect area = option.rect.adjusted(kCellPadding, 0, -kCellPadding, 0);
    const QString text = index.data(Qt::DisplayRole).toString();
    const auto alignment = index.data(Qt::TextAlignmentRole).toInt();
    const QFontMetrics metrics(own);
    const QString label = index.data(GridModel::LabelRole).toString();
    const bool isTooWide = metrics.horizontalAdvance(text) > area.width();
    if (isTooWide && index.data(GridModel::ExactRole).toBool()) {
        // A part of a number or a date would be another one.
        const int signs = std::max(1, area.width() / std::max(1, metrics.horizontalAdvance(QLatin1Char('#'))));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight | Qt::TextSingleLine,
                          QString(signs, QLatin1Char('#')));
        return;
    }
    if (label.isEmpty()) {
        painter->drawText(area, alignment | Qt::TextSingleLine, metrics.elidedText(text, Qt::ElideRight, area.width()));
        return;
    }
    // A key's value keeps its place at the left, and the name of what it points at follows it quietly.
    painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft | Qt::TextSingleLine, text);
    const QRect rest = area.adjusted(metrics.horizontalAdvance(text) + kCellPadding, 0, 0, 0);
    painter->setPen(theme.colour("quiet"));
    painter->drawText(rest, Qt::AlignVCenter | Qt::AlignLeft | Qt::TextSingleLine,
                      metrics.elidedText(label, Qt::ElideRight, rest.width()));
}

bool GridDelegate::helpEvent(QHelpEvent* event, QAbstractItemView* view, const QStyleOptionViewItem& option,
                             const QModelIndex& index) {
    const QString text = index.data(Qt::DisplayRole).toString();
    const bool isHidden = QFontMetrics(option.font).horizontalAdvance(text) > option.rect.width() - 2 * kCellPadding;
    if (event->type() != QEvent::ToolTip || !isHidden || !index.data(GridModel::ExactRole).toBool()) {
        return QStyledItemDelegate::helpEvent(event, view, option, index);
    }
    QToolTip::showText(event->globalPos(), text, view);
    return true;
}

}  // namespace pantry::app

#include "moc_grid_delegate.cpp"
