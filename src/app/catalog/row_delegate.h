#pragma once

#include <QStyledItemDelegate>

namespace pantry::app {

/// What the rows of the catalog's two lists tell about themselves.
enum CatalogRole { IdRole = Qt::UserRole, RowKindRole, DetailRole, ColourRole };
enum class CatalogRowKind { Section, Connection, Object, Remark };

/// Paints rows of the catalog's lists: sections, connections with their colour, objects with their icon.
class RowDelegate : public QStyledItemDelegate {
    Q_OBJECT

public:
    static constexpr int kConnectionHeight = 27;
    static constexpr int kObjectHeight = 22;
    static constexpr int kSectionHeight = 24;
    static constexpr int kRemarkHeight = 72;

    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace pantry::app
