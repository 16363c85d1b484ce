#pragma once

#include <QScrollArea>

namespace pantry::app {

/// A scroll area that takes the room it gets and never asks what is in it how large it would like to be: for that all
/// of it would be dressed and laid out, before it is seen and also what never is. `inner` follows its width and height.
class PlainScroll : public QScrollArea {
    Q_OBJECT

public:
    explicit PlainScroll(QWidget* inner, QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override { return minimumSizeHint(); }
};

}  // namespace pantry::app
