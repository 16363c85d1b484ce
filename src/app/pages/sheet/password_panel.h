#pragma once

#include <QLabel>
#include <QLineEdit>

#include "app/look/late_strip.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Asks for the password of a sheet's connection, where the server wants one and it is to be typed. It is kept in
/// memory until the program ends, for all sheets on that connection.
class PasswordPanel : public LateStrip {
    Q_OBJECT

public:
    PasswordPanel(Desk& desk, Sheet& sheet, QWidget* parent = nullptr);

Q_SIGNALS:
    /// The server took the password; one goes on in the sheet.
    void taken();

private:
    void makeContent() override;
    void refresh();
    void take();

    Desk& desk_;
    Sheet& sheet_;
    QLabel* label_ = nullptr;
    QLineEdit* password_ = nullptr;
};

}  // namespace pantry::app
