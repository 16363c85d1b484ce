#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// Asks for the password of a sheet's connection, where the server wants one and it is to be typed. It is kept in
/// memory until the program ends, for all sheets on that connection.
class PasswordPanel : public QFrame {
    Q_OBJECT

public:
    PasswordPanel(Desk& desk, Sheet& sheet, QWidget* parent = nullptr);

Q_SIGNALS:
    /// A password was given; one goes on in the sheet.
    void taken();

private:
    void refresh();
    void take();

    Desk& desk_;
    Sheet& sheet_;
    QLabel* label_;
    QLineEdit* password_;
};

}  // namespace pantry::app
