#pragma once

#include <QStyledItemDelegate>

namespace pantry::app {

/// Paints a cell: text with room at both sides, in the colour of its kind also when it is selected. Does less than
/// the style would, since it is called for every cell in sight at every scroll.
class GridDelegate : public QStyledItemDelegate {
    Q_OBJECT

public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace pantry::app
