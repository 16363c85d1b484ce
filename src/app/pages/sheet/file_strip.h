#pragma once

#include <QLabel>
#include <QPushButton>

#include "app/look/late_strip.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Says what stands between a sheet and its file, with the ways out. Hidden while nothing does.
class FileStrip : public LateStrip {
    Q_OBJECT

public:
    explicit FileStrip(Sheet& sheet, QWidget* parent = nullptr);

private:
    void makeContent() override;
    void refresh();

    Sheet& sheet_;
    QLabel* label_ = nullptr;
    QPushButton* reload_ = nullptr;
    QPushButton* keepOurs_ = nullptr;
    QPushButton* save_ = nullptr;
    QPushButton* saveAsUtf8_ = nullptr;
};

}  // namespace pantry::app
