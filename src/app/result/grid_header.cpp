#include "app/result/grid_header.h"

#include <QPainter>

#include "app/look/theme.h"
#include "app/result/grid_model.h"

namespace pantry::app {
namespace {

constexpr int kHeaderHeight = 36;
constexpr int kShapeHeight = 9;
constexpr int kHeaderPadding = 9;

}  // namespace

GridHeader::GridHeader(QWidget* parent) : QHeaderView(Qt::Horizontal, parent) {
    setSectionsClickable(true);
    setSectionsMovable(true);
    setHighlightSections(false);
    setDefaultSectionSize(120);
    setMinimumSectionSize(36);
}

int GridHeader::scaled(int pixels) const { return pixels * textSize_ / kUsualTextSize; }

QFont GridHeader::nameFont() const {
    QFont font = this->font();
    font.setPixelSize(scaled(13));
    font.setWeight(QFont::DemiBold);
    return font;
}

QFont GridHeader::typeFont() const {
    QFont font = this->font();
    font.setPixelSize(scaled(11));
    return font;
}

void GridHeader::setTextSize(int points) {
    if (textSize_ == points) return;
    textSize_ = points;
    updateGeometry();
    viewport()->update();
}

QSize GridHeader::sizeHint() const { return {QHeaderView::sizeHint().width(), scaled(kHeaderHeight)}; }

QSize GridHeader::sectionSizeFromContents(int section) const {
    const QString name = model()->headerData(section, Qt::Horizontal, Qt::DisplayRole).toString();
    const QString type = model()->headerData(section, Qt::Horizontal, GridModel::TypeNameRole).toString();
    const int width = QFontMetrics(nameFont()).horizontalAdvance(name) +
                      QFontMetrics(typeFont()).horizontalAdvance(type) + 2 * kHeaderPadding + 40;
    return {width, scaled(kHeaderHeight)};
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
    QRect area = rect.adjusted(kHeaderPadding, 0, -kHeaderPadding, -kShapeHeight);
    const QFont strong = nameFont();
    const QFont small = typeFont();
    if (!arrow.isEmpty()) {
        painter->setFont(strong);
        painter->setPen(theme.colour("juniper"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, arrow);
        area.adjust(0, 0, -QFontMetrics(strong).horizontalAdvance(arrow) - 4, 0);
    }
    const QString mark = model()->headerData(section, Qt::Horizontal, GridModel::KeyMarkRole).toString();
    if (!mark.isEmpty()) {
        painter->setFont(strong);
        painter->setPen(theme.colour("marigold"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft, mark);
        area.adjust(QFontMetrics(strong).horizontalAdvance(mark) + 5, 0, 0, 0);
    }
    const QFontMetrics strongMetrics(strong);
    // Names that begin alike are told apart by their ends; the type keeps some room beside a long one.
    constexpr int kTypeRoom = 46;
    const int typeRoom = std::min(QFontMetrics(small).horizontalAdvance(type) + 7, kTypeRoom);
    const int nameRoom = area.width() > 3 * kTypeRoom ? area.width() - typeRoom : area.width();
    const QString shown = strongMetrics.elidedText(name, Qt::ElideMiddle, nameRoom);
    painter->setFont(strong);
    painter->setPen(theme.colour("ink"));
    painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft, shown);
    area.adjust(strongMetrics.horizontalAdvance(shown) + 7, 0, 0, 0);
    if (area.width() > 16) {
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft,
                          QFontMetrics(small).elidedText(type, Qt::ElideRight, area.width()));
    }
    if (const auto* grid = qobject_cast<const GridModel*>(model())) paintShape(painter, rect, *grid, section);
    painter->restore();
}

/// Bars of a distribution, or shares of the commonest values; the share of nulls at the right, in tomato.
void GridHeader::paintShape(QPainter* painter, const QRect& rect, const GridModel& grid, int section) {
    if (grid.source() == nullptr || section >= static_cast<int>(grid.source()->shapes().size())) return;
    const data::ColumnShape& shape = grid.source()->shapes()[static_cast<std::size_t>(section)];
    const Theme& theme = Theme::current();
    QRectF area(rect.left() + kHeaderPadding, rect.bottom() - kShapeHeight - 3, rect.width() - 2 * kHeaderPadding,
                kShapeHeight);
    if (area.width() < 12) return;
    const qreal nullWidth = shape.nullShare > 0 ? std::max<qreal>(2, area.width() * shape.nullShare) : 0;
    painter->fillRect(QRectF(area.right() - nullWidth, area.bottom() - 2, nullWidth, 2), theme.colour("tomato"));
    area.setRight(area.right() - nullWidth);
    const QColor bar = theme.colour("bar");
    if (shape.isDistribution) {
        const qreal step = area.width() / static_cast<qreal>(shape.bars.size());
        for (std::size_t i = 0; i < shape.bars.size(); ++i) {
            const qreal height = shape.bars[i] > 0 ? std::max<qreal>(1, area.height() * shape.bars[i]) : 0;
            painter->fillRect(QRectF(area.left() + step * static_cast<qreal>(i), area.bottom() - height,
                                     std::max<qreal>(1, step - 1), height),
                              bar);
        }
        return;
    }
    qreal x = area.left();
    for (const float share : shape.bars) {
        const qreal width = (rect.width() - 2.0 * kHeaderPadding) * share;
        if (width < 2) break;
        painter->fillRect(QRectF(x, area.bottom() - area.height() * 0.6, width - 1, area.height() * 0.6), bar);
        x += width;
    }
}

}  // namespace pantry::app

#include "moc_grid_header.cpp"
