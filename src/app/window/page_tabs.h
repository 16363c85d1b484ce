#pragma once

#include <QIcon>
#include <QTabBar>

namespace pantry::app {

/// The tabs of the middle: the one in front is joined to the band below it, whose colour is its tab data.
class PageTabs : public QTabBar {
    Q_OBJECT

public:
    explicit PageTabs(QWidget* parent);

protected:
    [[nodiscard]] QSize tabSizeHint(int index) const override;
    void tabInserted(int index) override;
    void paintEvent(QPaintEvent* event) override;
};

/// A small square in a connection's colour.
[[nodiscard]] QIcon colourDot(const QColor& colour);

}  // namespace pantry::app
