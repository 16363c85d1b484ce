#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// Shows a statement that is held back: where it would run, what it would touch, and how to let it go. Return alone
/// confirms nothing; the connection's name or a click does.
class HeldPanel : public QFrame {
    Q_OBJECT

public:
    HeldPanel(Desk& desk, Sheet& sheet, QWidget* parent = nullptr);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void countRows();

    Desk& desk_;
    Sheet& sheet_;
    QLabel* title_;
    QLabel* reason_;
    QLabel* statement_;
    QLabel* count_;
    QLineEdit* name_;
    QPushButton* run_;
    QPushButton* leave_;
    std::string shownName_;  // of the connection, as it stands on the button
    int asked_ = 0;          // which count is awaited
};

}  // namespace pantry::app
