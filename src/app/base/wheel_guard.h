#pragma once

#include <QObject>

namespace pantry::app {

/// Keeps the mouse wheel from changing choices: whoever scrolls a form past a list or a number wants to scroll, and
/// would not notice what changed. The wheel goes on to what lies around.
class WheelGuard : public QObject {
    Q_OBJECT

public:
    /// Watches the whole application.
    explicit WheelGuard(QObject* parent);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace pantry::app
