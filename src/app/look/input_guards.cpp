#include "app/look/input_guards.h"

#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>

namespace pantry::app {
namespace {

template <class... Widgets>
bool isOneOf(QObject* watched) {
    return ((qobject_cast<Widgets*>(watched) != nullptr) || ...);
}

bool isKeyThatRuns(const QKeyEvent& key) {
    const bool isReturn = key.key() == Qt::Key_Return || key.key() == Qt::Key_Enter;
    return isReturn && key.modifiers().testFlag(Qt::ControlModifier);
}

/// The field below which the list of offers stands; nullptr when it is none.
QWidget* fieldOf(QObject* list) {
    auto* view = qobject_cast<QAbstractItemView*>(list);
    return view != nullptr && view->isWindow() ? view->focusProxy() : nullptr;
}

class InputGuards : public QObject {
public:
    using QObject::QObject;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        switch (event->type()) {
            case QEvent::Wheel:
                if (!isOneOf<QComboBox, QAbstractSpinBox>(watched)) return false;
                event->ignore();
                return true;
            case QEvent::ShortcutOverride:
                if (!isOneOf<QLineEdit, QPlainTextEdit>(watched)) return false;
                if (!isKeyThatRuns(*static_cast<QKeyEvent*>(event))) return false;
                event->accept();
                return true;
            case QEvent::KeyPress: {
                if (!isKeyThatRuns(*static_cast<QKeyEvent*>(event))) return false;
                QWidget* field = fieldOf(watched);
                if (field == nullptr) return false;
                static_cast<QWidget*>(watched)->hide();
                QApplication::sendEvent(field, event);
                return true;
            }
            default: return false;
        }
    }
};

}  // namespace

void guardInput(QObject* owner) { qApp->installEventFilter(new InputGuards(owner)); }

}  // namespace pantry::app
