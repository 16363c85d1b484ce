#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QScrollArea>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// The row of cards between editor and result, newest at the right.
class Tray : public QFrame {
    Q_OBJECT

public:
    explicit Tray(Sheet& sheet, QWidget* parent = nullptr);

    [[nodiscard]] Card* current() const { return current_; }
    void choose(Card* card);

Q_SIGNALS:
    void chosen(pantry::app::Card* card);

private:
    void add(Card* card);
    void remove(Card* card);

    Sheet& sheet_;
    QScrollArea* scroll_;
    QHBoxLayout* row_;
    Card* current_ = nullptr;
};

}  // namespace pantry::app
