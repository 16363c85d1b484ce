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
    /// Shows a value that its cell has no room for.
    bool helpEvent(QHelpEvent* event, QAbstractItemView* view, const QStyleOptionViewItem& option,
                   const QModelIndex& index) override;
};

}  // namespace pantry::app
