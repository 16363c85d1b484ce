#include "app/shell/application.h"

#include "core/base/uncaught.h"

namespace pantry::app {

bool Application::notify(QObject* receiver, QEvent* event) {
    try {
        return QApplication::notify(receiver, event);
    } catch (...) {
        base::reportUncaught("the window answered to something");
        return true;
    }
}

}  // namespace pantry::app
