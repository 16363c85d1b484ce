#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/look/late_strip.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Shows a statement that is held back: where it would run, what it would touch, and how to let it go. Return alone
/// confirms nothing; the connection's name or a click does.
class HeldPanel : public LateStrip {
    Q_OBJECT

public:
    HeldPanel(Desk& desk, Sheet& sheet, QWidget* parent = nullptr);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void makeContent() override;
    void refresh();
    void countRows();

    Desk& desk_;
    Sheet& sheet_;
    QLabel* title_ = nullptr;
    QLabel* reason_ = nullptr;
    QLabel* statement_ = nullptr;
    QLabel* count_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton* run_ = nullptr;
    QPushButton* leave_ = nullptr;
    std::string shownName_;  // of the connection, as it stands on the button
    db::Environment shownEnvironment_ = db::Environment::Local;
    int asked_ = 0;  // which count is awaited
};

}  // namespace pantry::app
