#include "app/catalog/row_delegate.h"

#include <QIcon>
#include <QPainter>

#include "app/look/theme.h"

namespace pantry::app {
namespace {

constexpr int kLeftOfText = 14;

CatalogRowKind kindOf(const QModelIndex& index) { return static_cast<CatalogRowKind>(index.data(RowKindRole).toInt()); }

}  // namespace

int RowDelegate::heightOf(CatalogRowKind kind) {
    switch (kind) {
        case CatalogRowKind::Connection: return Theme::px(27);
        case CatalogRowKind::Remark: return Theme::px(72);
        case CatalogRowKind::Section:
        case CatalogRowKind::Part:
        case CatalogRowKind::Object: break;
    }
    return Theme::px(22);  // one height for all of a catalog, however long it is
}

QSize RowDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const {
    return {80, heightOf(kindOf(index))};
}

void RowDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& theme = Theme::current();
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    const CatalogRowKind kind = kindOf(index);
    const bool isChoice = kind != CatalogRowKind::Section && kind != CatalogRowKind::Remark;
    const bool isCurrent = isChoice && option.state.testFlag(QStyle::State_Selected);
    const QRect box = option.rect.adjusted(8, 1, -8, -1);
    if (isCurrent) {
        painter->setPen(option.state.testFlag(QStyle::State_HasFocus) ? QPen(theme.colour("juniper")) : Qt::NoPen);
        painter->setBrush(theme.colour("selection"));
        painter->drawRoundedRect(box, 4, 4);
    }
    QFont font = option.font;
    font.setPixelSize(Theme::px(13));
    QFont small = font;
    small.setPixelSize(Theme::px(12));
    if (!isChoice) {
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        const int flags = kind == CatalogRowKind::Remark ? Qt::AlignTop | Qt::TextWordWrap : int(Qt::AlignVCenter);
        painter->drawText(option.rect.adjusted(kLeftOfText, 0, -10, 0), flags, index.data().toString());
        return painter->restore();
    }
    QRect area = box.adjusted(8, 0, -6, 0);
    if (kind == CatalogRowKind::Connection) {
        painter->setPen(Qt::NoPen);
        painter->setBrush(index.data(ColourRole).value<QColor>());
        painter->drawRoundedRect(QRect(box.left() + 6, box.top() + 4, 4, box.height() - 8), 1.5, 1.5);
        area.adjust(10, 0, 0, 0);
    } else if (kind == CatalogRowKind::Part) {
        area.adjust(Theme::px(30), 0, 0, 0);
        font.setPixelSize(Theme::px(12));
    } else {
        const QIcon icon = index.data(Qt::DecorationRole).value<QIcon>();
        icon.paint(painter, QRect(box.left() + 6, box.center().y() - 7, 15, 15));
        area.adjust(19, 0, 0, 0);
    }
    const QString detail = index.data(DetailRole).toString();
    const QFontMetrics smallMetrics(small);
    const QString shownDetail = smallMetrics.elidedText(detail, Qt::ElideRight, area.width() / 2);
    painter->setFont(small);
    painter->setPen(theme.colour("quiet"));
    painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, shownDetail);
    font.setWeight(isCurrent && kind == CatalogRowKind::Object ? QFont::DemiBold : QFont::Normal);
    painter->setFont(font);
    painter->setPen(theme.colour(kind == CatalogRowKind::Part ? "quiet" : "ink"));
    const int room = area.width() - smallMetrics.horizontalAdvance(shownDetail) - 8;
    painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft,
                      QFontMetrics(font).elidedText(index.data().toString(), Qt::ElideRight, room));
    painter->restore();
}

}  // namespace pantry::app

#include "moc_row_delegate.cpp"
