#include "app/result/grid_header.h"

#include <QPainter>

#include "app/result/grid_model.h"
#include "app/theme/theme.h"

namespace pantry::app {
namespace {

constexpr int kHeight = 30;
constexpr int kPadding = 9;

QFont nameFont(const QFont& base) {
    QFont font = base;
    font.setPixelSize(13);
    font.setWeight(QFont::DemiBold);
    return font;
}

QFont typeFont(const QFont& base) {
    QFont font = base;
    font.setPixelSize(11);
    return font;
}

}  // namespace

GridHeader::GridHeader(QWidget* parent) : QHeaderView(Qt::Horizontal, parent) {
    setSectionsClickable(true);
    setSectionsMovable(true);
    setHighlightSections(false);
    setDefaultSectionSize(120);
    setMinimumSectionSize(36);
}

QSize GridHeader::sizeHint() const { return {QHeaderView::sizeHint().width(), kHeight}; }

QSize GridHeader::sectionSizeFromContents(int section) const {
    const QString name = model()->headerData(section, Qt::Horizontal, Qt::DisplayRole).toString();
    const QString type = model()->headerData(section, Qt::Horizontal, GridModel::TypeNameRole).toString();
    const int width = QFontMetrics(nameFont(font())).horizontalAdvance(name) +
                      QFontMetrics(typeFont(font())).horizontalAdvance(type) + 2 * kPadding + 24;
    return {width, kHeight};
}

void GridHeader::paintSection(QPainter* painter, const QRect& rect, int section) const {
    const Theme& theme = Theme::current();
    painter->save();
    painter->fillRect(rect, theme.colour("paper"));
    painter->setPen(theme.colour("line"));
    painter->drawLine(rect.topRight(), rect.bottomRight());
    painter->drawLine(rect.bottomLeft(), rect.bottomRight());
    const QString name = model()->headerData(section, Qt::Horizontal, Qt::DisplayRole).toString();
    const QString type = model()->headerData(section, Qt::Horizontal, GridModel::TypeNameRole).toString();
    const QString arrow = model()->headerData(section, Qt::Horizontal, GridModel::SortRole).toString();
    QRect area = rect.adjusted(kPadding, 0, -kPadding, 0);
    const QFont strong = nameFont(font());
    const QFont small = typeFont(font());
    if (!arrow.isEmpty()) {
        painter->setFont(strong);
        painter->setPen(theme.colour("juniper"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, arrow);
        area.adjust(0, 0, -QFontMetrics(strong).horizontalAdvance(arrow) - 4, 0);
    }
    const QFontMetrics strongMetrics(strong);
    const QString shown = strongMetrics.elidedText(name, Qt::ElideRight, area.width());
    painter->setFont(strong);
    painter->setPen(theme.colour("ink"));
    painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft, shown);
    area.adjust(strongMetrics.horizontalAdvance(shown) + 7, 0, 0, 0);
    if (area.width() > 16) {
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft, QFontMetrics(small).elidedText(type, Qt::ElideRight, area.width()));
    }
    painter->restore();
}

}  // namespace pantry::app
