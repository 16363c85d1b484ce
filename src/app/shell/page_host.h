#pragma once

#include <QLabel>
#include <QPointer>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QWidget>
#include <vector>

#include "app/base/late_widget.h"
#include "app/page/page.h"
#include "app/shell/page_tabs.h"

namespace pantry::app {

/// The middle of the window: tabs, and the page of the one in front; one more page may stand beside it, whichever is in
/// front. Pinned tabs stand first and stay when others are closed. It knows pages by what every page tells.
///
/// Threads: the window's thread.
class PageHost : public QWidget {
    Q_OBJECT

public:
    explicit PageHost(QWidget* parent = nullptr);

    /// Where pages stand: the best parent for one that is made for this host, since it is dressed only once then.
    [[nodiscard]] QWidget* placeOfPages() const { return stack_; }
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
    [[nodiscard]] int count() const { return static_cast<int>(pages_.size()); }
    /// The page that stands beside the others; nullptr when none does.
    [[nodiscard]] Page* beside() const { return beside_; }

    void goAlong(int step);
    /// The page in front goes beside the others, or back among them. False when there is no other page.
    bool toggleBeside();
    /// Puts the page beside the others that stood there before it was kept.
    void restoreBeside();
    /// Pins a page, or unpins it, and puts its tab where it belongs.
    void togglePinned(Page* page);
    /// Asks for each page but one to be closed; not for pinned ones.
    void closeOthers(Page* but);
    /// All pages by name, for when there are more tabs than room.
    void openList();
    /// What the tab shows of every page, anew: the colours have changed.
    void refresh();

Q_SIGNALS:
    /// Another page is in front.
    void chosen(pantry::app::Page* page);
    void closeRequested(pantry::app::Page* page);
    void newPageRequested();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    [[nodiscard]] Page* at(int index) const;
    [[nodiscard]] int indexOf(const Page* page) const;
    [[nodiscard]] QWidget* makeMiddle();
    QWidget* makeBesideBox();
    void putBeside(Page* page);
    void putBack();
    void showInStack(Page* page);
    /// Keys go to the page in front: to what had them there last, or to where one begins with it.
    void focusFront();
    void openMenu(const QPoint& position);
    void keepPinnedFirst();
    [[nodiscard]] QLayout* makeTabRow();
    void refreshTab(Page* page);
    void rename(int index);
    void keepPositions();

    PageTabs* tabs_;
    QSplitter* middle_;
    QStackedWidget* stack_;  // all but the one beside
    LateWidget<QWidget> besideBox_;
    QLabel* besideTitle_ = nullptr;  // in that
    std::vector<Page*> pages_;       // in the order of the tabs
    QPointer<Page> beside_;
};

}  // namespace pantry::app
