#pragma once

#include <QLabel>
#include <QPushButton>

#include "app/look/late_strip.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Under the band while a transaction is open, or changes are committed by hand: how much is open since when, and the
/// two ways of ending it.
class TransactionStrip : public LateStrip {
    Q_OBJECT

public:
    explicit TransactionStrip(Sheet& sheet, QWidget* parent = nullptr);

private:
    void makeContent() override;
    void refresh();

    Sheet& sheet_;
    QLabel* label_ = nullptr;
    QPushButton* commit_ = nullptr;
    QPushButton* undo_ = nullptr;
};

}  // namespace pantry::app
