#pragma once

#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

#include "app/look/late_strip.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Says which result of a sheet runs again by itself, how often and when next. Hidden while none does.
class RegularStrip : public LateStrip {
    Q_OBJECT

public:
    explicit RegularStrip(Sheet& sheet, QWidget* parent = nullptr);

private:
    void makeContent() override;
    void refresh();

    Sheet& sheet_;
    QLabel* title_ = nullptr;
    QSpinBox* minutes_ = nullptr;
    QLabel* next_ = nullptr;
    QPushButton* allow_ = nullptr;
    QPushButton* now_ = nullptr;
    QPushButton* end_ = nullptr;
};

}  // namespace pantry::app
