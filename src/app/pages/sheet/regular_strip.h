#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// Says which result of a sheet runs again by itself, how often and when next. Hidden while none does.
class RegularStrip : public QFrame {
    Q_OBJECT

public:
    explicit RegularStrip(Sheet& sheet, QWidget* parent = nullptr);

private:
    void refresh();

    Sheet& sheet_;
    QLabel* title_;
    QSpinBox* minutes_;
    QLabel* next_;
    QPushButton* allow_;
    QPushButton* now_;
    QPushButton* end_;
};

}  // namespace pantry::app
