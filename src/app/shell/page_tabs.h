#pragma once

#include <QTabBar>

namespace pantry::app {

/// The tabs of the middle: the one in front is joined to the band below it, whose colour is its tab data.
class PageTabs : public QTabBar {
    Q_OBJECT

public:
    explicit PageTabs(QWidget* parent);

    /// How long something runs there, shown at the tab's end; empty for nothing.
    void setElapsed(int index, const QString& text);
    /// A page that is there in passing has its name in italics.
    void setPassing(int index, bool isPassing);
    /// A page that stands beside the others: in front, its tab is joined to nothing below it.
    void setApart(int index, bool isApart);
    /// A pinned one has a pin in place of the cross, and so cannot be closed by a slip.
    void setPinned(int index, bool isPinned);
    /// Shows the tabs before or behind those in sight.
    void scrollBy(int direction);

Q_SIGNALS:
    /// Whether there are more tabs than room.
    void overflowed(bool isOverflow);

protected:
    [[nodiscard]] QSize minimumTabSizeHint(int index) const override;
    [[nodiscard]] QSize minimumSizeHint() const override;
    void resizeEvent(QResizeEvent* event) override;
    void tabLayoutChange() override;
    [[nodiscard]] QSize tabSizeHint(int index) const override;
    void tabInserted(int index) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void noteRoom();

    bool isOverflow_ = false;
};

}  // namespace pantry::app
