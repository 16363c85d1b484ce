#pragma once

#include <QStyledItemDelegate>

namespace pantry::app {

/// What the rows of the catalog's two lists tell about themselves.
enum CatalogRole { IdRole = Qt::UserRole, RowKindRole, DetailRole, ColourRole };
enum class CatalogRowKind { Section, Connection, Object, Part, Remark };

/// Paints rows of the catalog's lists: sections, connections with their colour, objects with their icon.
class RowDelegate : public QStyledItemDelegate {
    Q_OBJECT

public:
    /// Of a row, in pixels at the text size of now.
    [[nodiscard]] static int heightOf(CatalogRowKind kind);

    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace pantry::app
