#pragma once

#include <QPainter>
#include <QRectF>
#include <QWidget>
#include <optional>
#include <vector>

#include "core/store/ledger.h"

namespace pantry::app {

using RunPoints = std::vector<store::LedgerFold::Point>;

/// The durations of runs as a line, the oldest at the left; those that did not end well are crosses at its foot.
void paintRunLine(QPainter& painter, const QRectF& area, const RunPoints& points);

/// The same line, large, with its scale and moments; a click on a point, or ← and →, choose a run.
///
/// Threads: the window's thread.
class RunLine : public QWidget {
    Q_OBJECT

public:
    explicit RunLine(QWidget* parent = nullptr);

    void setPoints(RunPoints points, std::int64_t chosen);
    [[nodiscard]] std::int64_t chosen() const { return chosen_; }
    [[nodiscard]] QSize sizeHint() const override;

Q_SIGNALS:
    void runChosen(std::int64_t id);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] QPointF placeOf(std::size_t index) const;
    void choose(std::size_t index);

    RunPoints points_;
    std::int64_t chosen_ = 0;
};

}  // namespace pantry::app
