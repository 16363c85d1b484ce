#pragma once

#include <QHeaderView>

namespace pantry::app {

/// Column headings: the name, the type in the quiet colour, the arrow of the order.
class GridHeader : public QHeaderView {
    Q_OBJECT

public:
    explicit GridHeader(QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintSection(QPainter* painter, const QRect& rect, int section) const override;
    [[nodiscard]] QSize sectionSizeFromContents(int section) const override;
};

}  // namespace pantry::app
