#pragma once

#include <QPointer>
#include <QWidget>

#include "app/result/result_pane.h"

namespace pantry::app {

/// One card in a window of its own. The card is pinned meanwhile, and the window goes when the card does.
class ResultWindow : public QWidget {
    Q_OBJECT

public:
    ResultWindow(Desk& desk, Sheet& sheet, Card* card);
    ~ResultWindow() override;

    [[nodiscard]] ResultPane* pane() const { return pane_; }

private:
    void refreshTitle();

    QPointer<Sheet> sheet_;
    QPointer<Card> card_;
    bool wasPinned_;
    ResultPane* pane_;
};

}  // namespace pantry::app
