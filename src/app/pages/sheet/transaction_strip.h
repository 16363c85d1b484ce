#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// Under the band while a transaction is open, or changes are committed by hand: how much is open since when, and the
/// two ways of ending it.
class TransactionStrip : public QFrame {
    Q_OBJECT

public:
    explicit TransactionStrip(Sheet& sheet, QWidget* parent = nullptr);

private:
    void refresh();

    Sheet& sheet_;
    QLabel* label_;
    QPushButton* commit_;
    QPushButton* undo_;
};

}  // namespace pantry::app
