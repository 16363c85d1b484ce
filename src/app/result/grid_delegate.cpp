#include "app/result/grid_delegate.h"

#include <QPainter>

#include "app/theme/theme.h"

namespace pantry::app {
namespace {

constexpr int kPadding = 9;

}  // namespace

void GridDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& theme = Theme::current();
    const bool isSelected = option.state.testFlag(QStyle::State_Selected);
    const bool hasFocus = option.state.testFlag(QStyle::State_HasFocus);
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
    const QRect area = option.rect.adjusted(kPadding, 0, -kPadding, 0);
    const QString text = index.data(Qt::DisplayRole).toString();
    const auto alignment = index.data(Qt::TextAlignmentRole).toInt();
    painter->drawText(area, alignment | Qt::TextSingleLine,
                      QFontMetrics(own).elidedText(text, Qt::ElideRight, area.width()));
}

}  // namespace pantry::app
