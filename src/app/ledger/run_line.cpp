#include "app/ledger/run_line.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

bool endedWell(const store::LedgerFold::Point& point) { return point.status == store::RunStatus::Succeeded; }

std::chrono::microseconds longestOf(const RunPoints& points) {
    std::chrono::microseconds longest{1};
    for (const auto& one : points) {
        if (endedWell(one)) longest = std::max(longest, one.duration);
    }
    return longest;
}

QPointF placeIn(const QRectF& area, const RunPoints& points, std::size_t index, std::chrono::microseconds top) {
    const double step = points.size() > 1 ? area.width() / static_cast<double>(points.size() - 1) : 0;
    const double x = points.size() > 1 ? area.left() + step * static_cast<double>(index) : area.right();
    if (!endedWell(points[index])) return {x, area.bottom()};
    const double share = static_cast<double>(points[index].duration.count()) / static_cast<double>(top.count());
    return {x, area.bottom() - share * area.height()};
}

void paintCross(QPainter& painter, const QPointF& at, double size) {
    painter.setPen(QPen(Theme::current().colour("tomato"), 1.5));
    painter.drawLine(at - QPointF(size, size), at + QPointF(size, size));
    painter.drawLine(at - QPointF(size, -size), at + QPointF(size, -size));
}

void paintPoints(QPainter& painter, const QRectF& area, const RunPoints& points, double radius, double lastRadius) {
    const QColor line = Theme::current().colour("juniper");
    const auto top = longestOf(points);
    QColor faint = line;
    faint.setAlphaF(0.45F);
    painter.setPen(QPen(faint, 1.2));
    std::optional<QPointF> before;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (!endedWell(points[i])) continue;
        const QPointF at = placeIn(area, points, i, top);
        if (before) painter.drawLine(*before, at);
        before = at;
    }
    for (std::size_t i = 0; i < points.size(); ++i) {
        const QPointF at = placeIn(area, points, i, top);
        if (!endedWell(points[i])) {
            paintCross(painter, at, radius + 0.6);
            continue;
        }
        const double size = i + 1 == points.size() ? lastRadius : radius;
        painter.setPen(Qt::NoPen);
        painter.setBrush(line);
        painter.drawEllipse(at, size, size);
    }
}

}  // namespace

void paintRunLine(QPainter& painter, const QRectF& area, const RunPoints& points) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    paintPoints(painter, area, points, 1.6, 2.8);
    painter.restore();
}

RunLine::RunLine(QWidget* parent) : QWidget(parent) {
    name(this, "runLine", tr("Runs of this statement; ← and → go from one to the next"));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    connect(&Theme::current(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

QSize RunLine::sizeHint() const { return {320, Theme::px(126)}; }

void RunLine::setPoints(RunPoints points, std::int64_t chosen) {
    points_ = std::move(points);
    chosen_ = chosen;
    update();
}

QRectF RunLine::plot() const { return QRectF(rect()).adjusted(Theme::px(52), 12, -14, -Theme::px(30)); }

QPointF RunLine::placeOf(std::size_t index) const { return placeIn(plot(), points_, index, longestOf(points_)); }

void RunLine::paintEvent(QPaintEvent*) {
    const Theme& theme = Theme::current();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF area = plot();
    QFont small = font();
    small.setPixelSize(Theme::px(12));
    painter.setFont(small);
    painter.setPen(theme.colour("line"));
    painter.drawLine(area.bottomLeft(), area.bottomRight());
    painter.drawLine(area.topLeft(), area.topRight());
    painter.setPen(theme.colour("quiet"));
    const auto scale = [&](double y, const QString& text) {
        painter.drawText(QRectF(0, y - 9, area.left() - 8, 18), Qt::AlignRight | Qt::AlignVCenter, text);
    };
    if (points_.empty()) return;
    const bool hasTimes = std::ranges::any_of(points_, endedWell);
    if (hasTimes) scale(area.top(), toQt(base::readable(longestOf(points_))));
    scale(area.bottom(), QStringLiteral("0"));
    const QRectF below(area.left() - 20, area.bottom() + 8, area.width() + 34, 18);
    painter.drawText(below, Qt::AlignLeft, toQt(base::spoken(points_.front().startedAt, base::now())));
    if (points_.size() > 1)
        painter.drawText(below, Qt::AlignRight, toQt(base::spoken(points_.back().startedAt, base::now())));
    paintPoints(painter, area, points_, 3, 3.5);
    for (std::size_t i = 0; i < points_.size(); ++i) {
        if (points_[i].id != chosen_) continue;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme.colour("ink"), 1.6));
        painter.drawEllipse(placeOf(i), 7, 7);
    }
    if (hasFocus()) {
        painter.setPen(theme.colour("juniper"));
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    }
}

void RunLine::choose(std::size_t index) {
    if (index >= points_.size() || points_[index].id == chosen_) return;
    chosen_ = points_[index].id;
    update();
    Q_EMIT runChosen(chosen_);
}

void RunLine::mousePressEvent(QMouseEvent* event) {
    std::size_t nearest = 0;
    for (std::size_t i = 0; i < points_.size(); ++i) {
        const double apart = std::abs(placeOf(i).x() - event->position().x());
        if (apart < std::abs(placeOf(nearest).x() - event->position().x())) nearest = i;
    }
    choose(nearest);
}

void RunLine::keyPressEvent(QKeyEvent* event) {
    const auto at =
        static_cast<std::size_t>(std::ranges::find(points_, chosen_, &store::LedgerFold::Point::id) - points_.begin());
    if (event->key() == Qt::Key_Left && at > 0) return choose(at - 1);
    if (event->key() == Qt::Key_Right) return choose(at + 1);
    QWidget::keyPressEvent(event);
}

}  // namespace pantry::app

#include "moc_run_line.cpp"
