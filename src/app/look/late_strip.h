#pragma once

#include <QFrame>

namespace pantry::app {

/// A strip that is shown only now and then, such as an open transaction's: what is in it is made when it is first
/// shown.
class LateStrip : public QFrame {
public:
    using QFrame::QFrame;

protected:
    /// Shows the strip or hides it, and returns whether it is shown. What is in it is there from the first time on.
    bool showIf(bool isWanted);
    [[nodiscard]] bool isMade() const { return isMade_; }

    /// Makes the strip's layout, and what is in it as its children. Called once.
    virtual void makeContent() = 0;

private:
    bool isMade_ = false;
};

}  // namespace pantry::app
