#include "app/base/key_guard.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>

namespace pantry::app {

KeyGuard::KeyGuard(QObject* parent) : QObject(parent) { qApp->installEventFilter(this); }

bool KeyGuard::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride) return false;
    const bool isField =
        qobject_cast<QLineEdit*>(watched) != nullptr || qobject_cast<QPlainTextEdit*>(watched) != nullptr;
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool runs =
        (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) && key->modifiers().testFlag(Qt::ControlModifier);
    if (!isField || !runs) return false;
    event->accept();
    return true;
}

}  // namespace pantry::app
