#pragma once

#include <QHeaderView>

namespace pantry::app {

class GridModel;

/// Column headings: the name, the type in the quiet colour, the arrow of the order, and below them the column's shape.
class GridHeader : public QHeaderView {
    Q_OBJECT

public:
    explicit GridHeader(QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintSection(QPainter* painter, const QRect& rect, int section) const override;
    [[nodiscard]] QSize sectionSizeFromContents(int section) const override;

private:
    static void paintShape(QPainter* painter, const QRect& rect, const GridModel& grid, int section);
};

}  // namespace pantry::app
