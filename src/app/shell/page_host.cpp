#include "app/shell/page_host.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QPointer>
#include <QVBoxLayout>
#include <algorithm>
#include <functional>
#include <utility>

#include "app/base/object_names.h"
#include "app/command/command.h"
#include "app/look/name_field.h"
#include "app/look/pick_list.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kNarrowestBand = 400;  // pixels at the usual size, so that it can say where one is
constexpr int kHalf = 1 << 14;       // of whatever room there is: only the ratio counts

}  // namespace

PageHost::PageHost(QWidget* parent)
    : QWidget(parent),
      tabs_(new PageTabs(this)),
      middle_(makeSplitter(Qt::Horizontal, this)),
      stack_(new QStackedWidget(middle_)),
      besideBox_([this] { return makeBesideBox(); }) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(makeTabRow());
    layout->addWidget(makeMiddle(), 1);
    connect(tabs_, &QTabBar::tabBarDoubleClicked, this, &PageHost::rename);
    connect(tabs_, &QTabBar::tabCloseRequested, this, [this](int index) {
        if (Page* page = at(index)) Q_EMIT closeRequested(page);
    });
    connect(tabs_, &QTabBar::currentChanged, this, [this](int index) {
        Page* page = at(index);
        if (page == nullptr) return;
        showInStack(page);
        keepPositions();
        Q_EMIT chosen(page);
    });
    connect(tabs_, &QTabBar::tabMoved, this, [this](int from, int to) {
        Page* page = pages_[static_cast<std::size_t>(from)];
        pages_.erase(pages_.begin() + from);
        pages_.insert(pages_.begin() + to, page);
        keepPinnedFirst();
        keepPositions();
    });
    // A click on a tab is for its page: what is typed next goes there. Queued, since the page comes to the front behind
    // it.
    const auto leaveTabs = [this] {
        const QWidget* focus = QApplication::focusWidget();
        if (focus == nullptr || focus == tabs_) focusFront();
    };
    connect(tabs_, &QTabBar::tabBarClicked, this, leaveTabs, Qt::QueuedConnection);
    tabs_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(tabs_, &QWidget::customContextMenuRequested, this, &PageHost::openMenu);
    // Of two pages in sight, the one that has the focus is the one in front.
    connect(qApp, &QApplication::focusChanged, this, [this](QWidget*, QWidget* now) {
        if (beside_ == nullptr || now == nullptr) return;
        auto* inStack = static_cast<Page*>(stack_->currentWidget());
        if (beside_->isAncestorOf(now)) bringToFront(beside_);
        if (inStack != nullptr && inStack->isAncestorOf(now)) bringToFront(inStack);
    });
}

/// Beside the pages, a place for one more.
QWidget* PageHost::makeBesideBox() {
    auto* place = new QWidget(middle_);
    auto* back = makeButton(QStringLiteral("×"), "plain", "besideBack", tr("Back among the tabs"), place);
    back->setFixedWidth(28);
    connect(back, &QPushButton::clicked, this, &PageHost::putBack);
    besideTitle_ = makeLabel({}, "heading", place);
    name(place, "besideBox", tr("The page beside"));
    auto* top = new QHBoxLayout;
    top->setContentsMargins(14, 4, 6, 4);
    top->addWidget(besideTitle_);
    top->addStretch();
    top->addWidget(back);
    auto* box = new QVBoxLayout(place);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    box->addLayout(top);
    box->addWidget(makeFrame("rule"));
    place->hide();
    return place;
}

QWidget* PageHost::makeMiddle() {
    middle_->setObjectName(QStringLiteral("besideSplitter"));
    middle_->addWidget(stack_);
    return middle_;
}

QLayout* PageHost::makeTabRow() {
    auto* fresh = makeButton(QStringLiteral("+"), "plain", "newSheet", command("sheet.new").text, this);
    fresh->setToolTip(commandTip("sheet.new"));
    fresh->setFixedWidth(30);
    auto* before = makeButton(QStringLiteral("‹"), "away", objectName::kTabsBefore, tr("Show the tabs before"), this);
    auto* behind = makeButton(QStringLiteral("›"), "away", objectName::kTabsBehind, tr("Show the tabs behind"), this);
    auto* all = makeButton(QStringLiteral("▾"), "away", objectName::kTabsAll, tr("All open pages"), this);
    all->setToolTip(commandTip("page.all"));
    for (QPushButton* button : {before, behind, all}) {
        button->setFixedWidth(26);
        button->setFocusPolicy(Qt::NoFocus);
        button->hide();
    }
    auto* layout = new QHBoxLayout;
    layout->setContentsMargins(10, 0, 10, 0);
    layout->setSpacing(2);
    for (QWidget* one : {static_cast<QWidget*>(tabs_), static_cast<QWidget*>(before), static_cast<QWidget*>(behind),
                         static_cast<QWidget*>(all), static_cast<QWidget*>(fresh)}) {
        layout->addWidget(one);
    }
    layout->addStretch();
    connect(tabs_, &PageTabs::overflowed, this, [before, behind, all](bool isOverflow) {
        for (QPushButton* button : {before, behind, all}) button->setVisible(isOverflow);
    });
    connect(before, &QPushButton::clicked, tabs_, [this] { tabs_->scrollBy(-1); });
    connect(behind, &QPushButton::clicked, tabs_, [this] { tabs_->scrollBy(1); });
    connect(all, &QPushButton::clicked, this, &PageHost::openList);
    connect(fresh, &QPushButton::clicked, this, &PageHost::newPageRequested);
    return layout;
}

Page* PageHost::at(int index) const {
    return index < 0 || index >= count() ? nullptr : pages_[static_cast<std::size_t>(index)];
}

int PageHost::indexOf(const Page* page) const {
    const auto found = std::ranges::find(pages_, page);
    return found == pages_.end() ? -1 : static_cast<int>(found - pages_.begin());
}

Page* PageHost::current() const { return at(tabs_->currentIndex()); }

bool PageHost::holds(const Page* page) const { return indexOf(page) >= 0; }

std::vector<Page*> PageHost::pages() const { return pages_; }

/// What stands beside is in sight already.
void PageHost::showInStack(Page* page) {
    if (page != beside_) stack_->setCurrentWidget(page);
}

void PageHost::focusFront() {
    Page* page = current();
    if (page == nullptr) return;
    QWidget* last = page->focusWidget();
    last != nullptr && last->isVisibleTo(page) ? last->setFocus() : page->enter();
}

void PageHost::add(Page* page, bool isInFront) {
    pages_.push_back(page);
    stack_->addWidget(page);
    const int index = tabs_->addTab(page->title());
    refreshTab(page);
    keepPinnedFirst();
    layout()->activate();  // with its new room the bar need not scroll to show the tab
    connect(page, &Page::changed, this, [this, page] { refreshTab(page); });
    connect(page, &Page::elapsedChanged, this, [this, page] { tabs_->setElapsed(indexOf(page), page->elapsed()); });
    // The first tab is in front before its page is here to be shown.
    if (index == 0) showInStack(page);
    if (isInFront) tabs_->setCurrentIndex(indexOf(page));
}

void PageHost::bringToFront(Page* page) {
    if (holds(page)) tabs_->setCurrentIndex(indexOf(page));
}

void PageHost::remove(Page* page) {
    const int index = indexOf(page);
    if (index < 0) return;
    const bool hasFocus = page->isAncestorOf(QApplication::focusWidget());
    if (page == beside_) putBack();
    disconnect(page, nullptr, this, nullptr);
    stack_->removeWidget(page);
    pages_.erase(pages_.begin() + index);
    tabs_->removeTab(index);
    if (beside_ != nullptr && count() == 1) putBack();
    if (Page* front = current()) showInStack(front);
    if (hasFocus) focusFront();
    keepPositions();
}

bool PageHost::toggleBeside() {
    Page* page = current();
    if (page == nullptr || (page != beside_ && count() < 2)) return false;
    page == beside_ ? putBack() : putBeside(page);
    return true;
}

void PageHost::restoreBeside() {
    const auto page = std::ranges::find_if(pages_, &Page::wasBeside);
    if (page != pages_.end() && count() > 1) putBeside(*page);
}

/// Where two bands find no room side by side, the page stands below.
void PageHost::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    const bool isNarrow = width() < Theme::px(2 * kNarrowestBand);
    middle_->setOrientation(isNarrow ? Qt::Vertical : Qt::Horizontal);
}

void PageHost::putBeside(Page* page) {
    putBack();
    const int index = indexOf(page);
    stack_->removeWidget(page);
    beside_ = page;
    besideBox_->layout()->addWidget(page);
    besideTitle_->setText(page->title());
    Page* front = current();
    stack_->setCurrentWidget(front != nullptr && front != page ? front : at(index > 0 ? index - 1 : index + 1));
    page->show();
    besideBox_->show();
    middle_->setSizes({kHalf, kHalf});
    page->noteBeside(true);
    refreshTab(page);
    if (front == page) page->enter();
}

void PageHost::putBack() {
    if (beside_ == nullptr) return;
    Page* page = beside_;
    beside_.clear();
    page->noteBeside(false);
    refreshTab(page);
    besideBox_->hide();
    besideBox_->layout()->removeWidget(page);
    stack_->addWidget(page);
    if (Page* front = current()) stack_->setCurrentWidget(front);
}

void PageHost::togglePinned(Page* page) {
    if (!holds(page) || !page->canBePinned()) return;
    page->setPinned(!page->isPinned());
    keepPinnedFirst();
    refreshTab(page);
    keepPositions();
}

/// A tab that was dragged among the pinned ones, or out of them, goes to their edge.
void PageHost::keepPinnedFirst() {
    int pinned = 0;
    for (int i = 0; i < count(); ++i) {
        if (!at(i)->isPinned()) continue;
        if (i != pinned) {
            tabs_->moveTab(i, pinned);  // which orders the pages, and comes back here
            return;
        }
        ++pinned;
    }
}

void PageHost::closeOthers(Page* but) {
    for (Page* page : pages()) {
        if (page != but && holds(page) && !page->isPinned()) Q_EMIT closeRequested(page);
    }
}

void PageHost::openMenu(const QPoint& position) {
    Page* page = at(tabs_->tabAt(position));
    if (page == nullptr) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    name(menu, "tabMenu", tr("What to do with %1").arg(page->title()));
    const auto add = [&](const QString& text, const char* id, bool isPossible, std::function<void()> act) {
        QAction* action = menu->addAction(text);
        action->setObjectName(QLatin1String(id));
        action->setEnabled(isPossible);
        connect(action, &QAction::triggered, this, [guard = QPointer<Page>(page), act = std::move(act)] {
            if (guard) act();
        });
    };
    add(tr("Rename…"), "tabRename", page->editableName().has_value(), [this, page] { rename(indexOf(page)); });
    add(page->isPinned() ? tr("Unpin") : command("page.pin").text, "tabPin", page->canBePinned(),
        [this, page] { togglePinned(page); });
    add(page == beside_ ? tr("Back among the tabs") : command("page.beside").text, "tabBeside",
        page == beside_ || count() > 1, [this, page] {
            bringToFront(page);
            toggleBeside();
        });
    menu->addSeparator();
    add(command("page.close").text, "tabClose", true, [this, page] { Q_EMIT closeRequested(page); });
    add(command("page.closeOthers").text, "tabCloseOthers", count() > 1, [this, page] { closeOthers(page); });
    menu->popup(tabs_->mapToGlobal(position));
}

void PageHost::refresh() {
    for (Page* page : pages()) refreshTab(page);
}

void PageHost::refreshTab(Page* page) {
    const int index = indexOf(page);
    if (index < 0) return;
    if (page == beside_) besideTitle_->setText(page->title());
    tabs_->setPinned(index, page->isPinned());
    tabs_->setTabText(index, page->title());
    tabs_->updateGeometry();
    tabs_->setTabIcon(index, page->icon());
    tabs_->setTabData(index, page->tabColour());
    tabs_->setTabToolTip(index, page->tip());
    tabs_->setPassing(index, page->isPassing());
    tabs_->setApart(index, page == beside_);
    tabs_->update();
}

void PageHost::goAlong(int step) {
    const int count = tabs_->count();
    if (count > 0) tabs_->setCurrentIndex((tabs_->currentIndex() + step + count) % count);
}

void PageHost::openList() {
    std::vector<PickList::Choice> choices;
    for (Page* page : pages()) {
        choices.push_back({.text = page->title(),
                           .detail = page->detail(),
                           .icon = page->icon(),
                           .isCurrent = page == current(),
                           .act = [this, guard = QPointer<Page>(page)] {
                               if (!guard) return;
                               bringToFront(guard);
                               guard->setFocus();
                           }});
    }
    auto* list = new PickList(std::move(choices), tr("Open pages"), window());
    list->openAt(tabs_->mapToGlobal(QPoint(std::max(0, tabs_->width() - list->width()), tabs_->height())));
}

/// A name is typed where it stands.
void PageHost::rename(int index) {
    Page* page = index < 0 ? nullptr : at(index);
    const auto before = page != nullptr ? page->editableName() : std::nullopt;
    if (!before) return;
    auto* field = new NameField(*before, tabs_, tabs_->tabRect(index).adjusted(28, 6, -6, -4));
    name(field, objectName::kTabName, tr("Name of the sheet"));
    connect(field, &NameField::ended, this, [field, guard = QPointer<Page>(page)](const QString& typed) {
        if (!guard) return;
        if (!typed.isEmpty()) guard->setName(typed);
        if (field->hasFocus()) guard->enter();
    });
}

void PageHost::keepPositions() {
    const std::vector<Page*> all = pages();
    for (std::size_t i = 0; i < all.size(); ++i) all[i]->notePosition(static_cast<int>(i), all[i] == current());
}

}  // namespace pantry::app

#include "moc_page_host.cpp"
