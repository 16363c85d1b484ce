#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// Says what stands between a sheet and its file, with the ways out. Hidden while nothing does.
class FileStrip : public QFrame {
    Q_OBJECT

public:
    explicit FileStrip(Sheet& sheet, QWidget* parent = nullptr);

private:
    void refresh();

    Sheet& sheet_;
    QLabel* label_;
    QPushButton* reload_;
    QPushButton* keepOurs_;
    QPushButton* save_;
    QPushButton* saveAsUtf8_;
};

}  // namespace pantry::app
