#include "app/shell/application.h"

#include <QEvent>
#include <QWidget>

#include "core/base/uncaught.h"

namespace pantry::app {
namespace {

/// A change of style tells nothing to a widget that was never dressed: it will be, before it is seen. Qt sends one to
/// every widget below one that finds its place, and lists of choices make themselves ready for each.
bool isTooEarly(const QObject* receiver, const QEvent* event) {
    return event->type() == QEvent::StyleChange && receiver->isWidgetType() &&
           !static_cast<const QWidget*>(receiver)->testAttribute(Qt::WA_WState_Polished);
}

}  // namespace

bool Application::notify(QObject* receiver, QEvent* event) {
    if (isTooEarly(receiver, event)) return true;
    try {
        return QApplication::notify(receiver, event);
    } catch (...) {
        base::reportUncaught("the window answered to something");
        return true;
    }
}

}  // namespace pantry::app

#include "moc_application.cpp"
