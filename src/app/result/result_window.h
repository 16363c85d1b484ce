#pragma once

#include <QPointer>
#include <QWidget>

#include "app/desk/desk.h"
#include "app/result/result_pane.h"

namespace pantry::app {

/// One source in a window of its own. The source is pinned meanwhile, and the window goes when the source does.
class ResultWindow : public QWidget {
    Q_OBJECT

public:
    ResultWindow(Desk& desk, ResultSource* source);
    ~ResultWindow() override;

    [[nodiscard]] ResultPane* pane() const { return pane_; }

private:
    void refreshTitle();

    QPointer<ResultSource> source_;
    bool wasPinned_;
    ResultPane* pane_;
};

}  // namespace pantry::app
