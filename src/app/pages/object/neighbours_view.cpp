#include "app/pages/object/neighbours_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr std::size_t kMaxOfSide = 8;  // more are in the lists beside
constexpr int kBoxHeight = 26;
constexpr int kGap = 8;

QString joined(const std::vector<std::string>& names) {
    QStringList list;
    for (const auto& one : names) list += toQt(one);
    return list.join(QStringLiteral(", "));
}

}  // namespace

NeighboursView::NeighboursView(const catalog::Relation& relation, const catalog::Catalog& catalog, QWidget* parent)
    : QWidget(parent) {
    name(this, objectName::kNeighbours, tr("Tables around this one; arrow keys choose, Return opens"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    boxes_.push_back({{.kind = relation.kind, .schema = relation.schema, .name = relation.name}, {}, Side::Here});
    const auto add = [this](catalog::ObjectName object, const QString& columns, Side side) {
        const auto known = std::ranges::find_if(boxes_, [&](const Box& box) {
            return box.side == side && box.object.schema == object.schema && box.object.name == object.name;
        });
        if (known != boxes_.end()) {
            known->columns += QStringLiteral("; ") + columns;
        } else if (countOf(side) >= kMaxOfSide) {
            ++hidden_;
        } else {
            boxes_.push_back({std::move(object), columns, side});
        }
    };
    for (const catalog::ForeignKey& key : relation.foreignKeys) {
        add({.schema = key.schema.empty() ? relation.schema : key.schema, .name = key.relation}, joined(key.columns),
            Side::Behind);
    }
    for (const auto& reference : catalog.referencesTo(relation)) {
        if (reference.from == &relation) continue;
        add({.schema = reference.from->schema, .name = reference.from->name}, joined(reference.key->columns),
            Side::Before);
    }
    setFixedHeight(sizeHint().height());
}

std::size_t NeighboursView::countOf(Side side) const {
    return static_cast<std::size_t>(std::ranges::count(boxes_, side, &Box::side));
}

QSize NeighboursView::sizeHint() const {
    const auto rows = static_cast<int>(std::max({countOf(Side::Before), countOf(Side::Behind), std::size_t{1}}));
    const int more = hidden_ > 0 ? 18 : 0;
    return {Theme::px(320), Theme::px(rows * (kBoxHeight + kGap) + 6 + more)};
}

/// Three columns: who refers to it, itself, what it refers to.
QRect NeighboursView::rectOf(std::size_t box) const {
    const Side side = boxes_[box].side;
    const int width = (this->width() - Theme::px(2 * 42)) / 3;
    const int column = side == Side::Before ? 0 : side == Side::Here ? 1 : 2;
    const int step = Theme::px(kBoxHeight + kGap);
    const int height = Theme::px(kBoxHeight);
    const int more = hidden_ > 0 ? Theme::px(18) : 0;
    std::size_t at = 0;
    for (std::size_t i = 0; i < box; ++i) at += boxes_[i].side == side ? 1U : 0U;
    const int all = static_cast<int>(countOf(side)) * step - Theme::px(kGap);
    const int top = (this->height() - more - all) / 2 + static_cast<int>(at) * step;
    return {column * (width + Theme::px(42)), top, width, height};
}

std::size_t NeighboursView::boxAt(const QPoint& at) const {
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        if (rectOf(i).contains(at)) return i;
    }
    return boxes_.size();
}

void NeighboursView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& theme = Theme::current();
    QFont code(QStringLiteral("Hack"));
    code.setPixelSize(Theme::px(12));
    QFont small = font();
    small.setPixelSize(Theme::px(11));
    const QRect here = rectOf(0);
    painter.setFont(code);
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const QRect box = rectOf(i);
        if (boxes_[i].side != Side::Here) {
            const bool isBefore = boxes_[i].side == Side::Before;
            const QPointF from =
                isBefore ? QPointF(box.right(), box.center().y()) : QPointF(here.right(), here.center().y());
            const QPointF to =
                isBefore ? QPointF(here.left(), here.center().y()) : QPointF(box.left(), box.center().y());
            const qreal middle = (from.x() + to.x()) / 2;
            QPainterPath line(from);
            line.cubicTo({middle, from.y()}, {middle, to.y()}, to);
            painter.setPen(QPen(theme.colour("line"), 1.4));
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(line);
            const qreal tip = Theme::px(5);
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme.colour("quiet"));
            painter.drawPolygon(QPolygonF({to, {to.x() - tip, to.y() - tip / 2}, {to.x() - tip, to.y() + tip / 2}}));
        }
        const bool isCurrent = i == current_ && hasFocus();
        painter.setPen(QPen(theme.colour(i == 0 || isCurrent ? "juniper" : "line"), i == 0 || isCurrent ? 1.6 : 1));
        painter.setBrush(theme.colour(i == 0 ? "selection" : "card"));
        painter.drawRoundedRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
        painter.setPen(theme.colour("ink"));
        painter.drawText(
            box.adjusted(8, 0, -8, 0), Qt::AlignVCenter | Qt::AlignLeft,
            painter.fontMetrics().elidedText(toQt(boxes_[i].object.name), Qt::ElideMiddle, box.width() - 16));
    }
    if (hidden_ == 0) return;
    painter.setFont(small);
    painter.setPen(theme.colour("quiet"));
    painter.drawText(rect(), Qt::AlignBottom | Qt::AlignHCenter, tr("and %1 more, in the lists").arg(hidden_));
}

void NeighboursView::mousePressEvent(QMouseEvent* event) {
    const std::size_t box = boxAt(event->pos());
    if (box > 0 && box < boxes_.size()) Q_EMIT chosen(boxes_[box].object);
}

void NeighboursView::mouseMoveEvent(QMouseEvent* event) {
    const std::size_t box = boxAt(event->pos());
    const bool leads = box > 0 && box < boxes_.size();
    setCursor(leads ? Qt::PointingHandCursor : Qt::ArrowCursor);
    setToolTip(leads ? tr("%1 by %2").arg(toQt(boxes_[box].object.name), boxes_[box].columns) : QString());
}

void NeighboursView::keyPressEvent(QKeyEvent* event) {
    const auto last = boxes_.size() - 1;
    switch (event->key()) {
        case Qt::Key_Right:
        case Qt::Key_Down: current_ = current_ >= last ? 0 : current_ + 1; break;
        case Qt::Key_Left:
        case Qt::Key_Up: current_ = current_ == 0 ? last : current_ - 1; break;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (current_ > 0) Q_EMIT chosen(boxes_[current_].object);
            return;
        default: return QWidget::keyPressEvent(event);
    }
    update();
}

}  // namespace pantry::app

#include "moc_neighbours_view.cpp"
