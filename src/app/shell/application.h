#pragma once

#include <QApplication>

namespace pantry::app {

/// The application, with a net: an exception that leaves a slot or an event's handler is told, and the window lives.
class Application : public QApplication {
    Q_OBJECT

public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override;
};

}  // namespace pantry::app
