#pragma once

#include <QLabel>

namespace pantry::app {

/// A line that gives way: shortened at its end when there is no room, whole in its tip then. text() is the whole line.
class ElidedLabel : public QLabel {
public:
    using QLabel::QLabel;
    [[nodiscard]] QSize minimumSizeHint() const override { return {0, QLabel::minimumSizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] bool isShortened() const;
};

}  // namespace pantry::app
