#include "app/base/wheel_guard.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QEvent>

namespace pantry::app {

WheelGuard::WheelGuard(QObject* parent) : QObject(parent) { qApp->installEventFilter(this); }

bool WheelGuard::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::Wheel) return false;
    const bool isChoice =
        qobject_cast<QComboBox*>(watched) != nullptr || qobject_cast<QAbstractSpinBox*>(watched) != nullptr;
    if (!isChoice) return false;
    event->ignore();
    return true;
}

}  // namespace pantry::app
