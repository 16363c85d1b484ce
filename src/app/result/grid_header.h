#pragma once

#include <QHeaderView>

namespace pantry::app {

class GridModel;

/// Column headings: the name, the type in the quiet colour, the arrow of the order, and below them the column's shape.
class GridHeader : public QHeaderView {
    Q_OBJECT

public:
    static constexpr int kUsualTextSize = 10;  // in points

    explicit GridHeader(QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override;
    /// Headings grow with the cells below them; in points.
    void setTextSize(int points);
    [[nodiscard]] int textSize() const { return textSize_; }

protected:
    void paintSection(QPainter* painter, const QRect& rect, int section) const override;
    [[nodiscard]] QSize sectionSizeFromContents(int section) const override;

private:
    [[nodiscard]] int scaled(int pixels) const;
    [[nodiscard]] QFont nameFont() const;
    [[nodiscard]] QFont typeFont() const;
    static void paintShape(QPainter* painter, const QRect& rect, const GridModel& grid, int section);

    int textSize_ = kUsualTextSize;
};

}  // namespace pantry::app
