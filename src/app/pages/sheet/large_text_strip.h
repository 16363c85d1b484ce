#pragma once

#include <QLabel>
#include <QPushButton>

#include "app/editor/sql_editor.h"
#include "app/look/late_strip.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Says that a text is too large for what looks at it with each key, and of which lines a part is shown; leads to the
/// parts before and behind. Hidden for all other texts.
class LargeTextStrip : public LateStrip {
    Q_OBJECT

public:
    LargeTextStrip(Sheet& sheet, SqlEditor& editor, QWidget* parent = nullptr);

private:
    void makeContent() override;
    void refresh();

    Sheet& sheet_;
    SqlEditor& editor_;
    QLabel* label_ = nullptr;
    QPushButton* earlier_ = nullptr;
    QPushButton* later_ = nullptr;
};

}  // namespace pantry::app
