#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/editor/sql_editor.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Says that a text is too large for what looks at it with each key, and of which lines a part is shown; leads to the
/// parts before and behind. Hidden for all other texts.
class LargeTextStrip : public QFrame {
    Q_OBJECT

public:
    LargeTextStrip(Sheet& sheet, SqlEditor& editor, QWidget* parent = nullptr);

private:
    void refresh();

    Sheet& sheet_;
    SqlEditor& editor_;
    QLabel* label_;
    QPushButton* earlier_;
    QPushButton* later_;
};

}  // namespace pantry::app
