#pragma once

#include <QPushButton>
#include <QStackedWidget>
#include <QWidget>
#include <vector>

#include "app/page/page.h"
#include "app/shell/page_tabs.h"

namespace pantry::app {

/// The middle of the window: tabs, and the page of the one in front. It knows pages by what every page tells.
///
/// Threads: the window's thread.
class PageHost : public QWidget {
    Q_OBJECT

public:
    explicit PageHost(QWidget* parent = nullptr);

    /// Behind the others; `isInFront` brings it to the front.
    void add(Page* page, bool isInFront);
    /// Brings a page of this host to the front.
    void bringToFront(Page* page);
    /// Takes it out, without asking anybody; the caller does with it what is to be done.
    void remove(Page* page);

    /// In the order of the tabs.
    [[nodiscard]] std::vector<Page*> pages() const;
    /// nullptr while there is none.
    [[nodiscard]] Page* current() const;
    [[nodiscard]] bool holds(const Page* page) const;
    [[nodiscard]] int count() const { return stack_->count(); }

    void goAlong(int step);
    /// All pages by name, for when there are more tabs than room.
    void openList();
    /// What the tab shows of every page, anew: the colours have changed.
    void refresh();

Q_SIGNALS:
    /// Another page is in front.
    void chosen(pantry::app::Page* page);
    void closeRequested(pantry::app::Page* page);
    void newPageRequested();

private:
    [[nodiscard]] Page* at(int index) const;
    [[nodiscard]] QLayout* makeTabRow();
    void refreshTab(Page* page);
    void rename(int index);
    void keepPositions();

    PageTabs* tabs_;
    QStackedWidget* stack_;
};

}  // namespace pantry::app
