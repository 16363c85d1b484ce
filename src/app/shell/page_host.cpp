#include "app/shell/page_host.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QPointer>
#include <QVBoxLayout>

#include "app/base/object_names.h"
#include "app/command/command.h"
#include "app/look/pick_list.h"
#include "app/look/widgets.h"

namespace pantry::app {

PageHost::PageHost(QWidget* parent) : QWidget(parent), tabs_(new PageTabs(this)), stack_(new QStackedWidget(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(makeTabRow());
    layout->addWidget(stack_, 1);
    connect(tabs_, &QTabBar::tabBarDoubleClicked, this, &PageHost::rename);
    connect(tabs_, &QTabBar::tabCloseRequested, this, [this](int index) {
        if (Page* page = at(index)) Q_EMIT closeRequested(page);
    });
    connect(tabs_, &QTabBar::currentChanged, this, [this](int index) {
        Page* page = at(index);
        if (page == nullptr) return;
        stack_->setCurrentWidget(page);
        keepPositions();
        Q_EMIT chosen(page);
    });
    connect(tabs_, &QTabBar::tabMoved, this, [this](int from, int to) {
        QWidget* page = stack_->widget(from);
        stack_->removeWidget(page);
        stack_->insertWidget(to, page);
        stack_->setCurrentIndex(tabs_->currentIndex());
        keepPositions();
    });
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

/// Only pages are put into the stack.
Page* PageHost::at(int index) const { return static_cast<Page*>(stack_->widget(index)); }

Page* PageHost::current() const { return static_cast<Page*>(stack_->currentWidget()); }

bool PageHost::holds(const Page* page) const { return stack_->indexOf(page) >= 0; }

std::vector<Page*> PageHost::pages() const {
    std::vector<Page*> all;
    for (int i = 0; i < stack_->count(); ++i) all.push_back(at(i));
    return all;
}

void PageHost::add(Page* page, bool isInFront) {
    stack_->addWidget(page);
    const int index = tabs_->addTab(page->title());
    refreshTab(page);
    connect(page, &Page::changed, this, [this, page] { refreshTab(page); });
    connect(page, &Page::elapsedChanged, this,
            [this, page] { tabs_->setElapsed(stack_->indexOf(page), page->elapsed()); });
    if (isInFront) tabs_->setCurrentIndex(index);
}

void PageHost::bringToFront(Page* page) {
    if (holds(page)) tabs_->setCurrentIndex(stack_->indexOf(page));
}

void PageHost::remove(Page* page) {
    const int index = stack_->indexOf(page);
    if (index < 0) return;
    disconnect(page, nullptr, this, nullptr);
    stack_->removeWidget(page);
    tabs_->removeTab(index);
    keepPositions();
}

void PageHost::refresh() {
    for (Page* page : pages()) refreshTab(page);
}

void PageHost::refreshTab(Page* page) {
    const int index = stack_->indexOf(page);
    if (index < 0) return;
    tabs_->setTabText(index, page->title());
    tabs_->updateGeometry();
    tabs_->setTabIcon(index, page->icon());
    tabs_->setTabData(index, page->tabColour());
    tabs_->setTabToolTip(index, page->tip());
    tabs_->setPassing(index, page->isPassing());
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
    auto* edit = new QLineEdit(*before, tabs_);
    name(edit, objectName::kTabName, tr("Name of the sheet"));
    edit->setGeometry(tabs_->tabRect(index).adjusted(28, 6, -6, -4));
    edit->selectAll();
    edit->show();
    edit->setFocus();
    connect(edit, &QLineEdit::editingFinished, this, [edit, guard = QPointer<Page>(page)] {
        const QString typed = edit->text().trimmed();
        edit->hide();
        edit->deleteLater();
        if (!guard) return;
        if (!typed.isEmpty()) guard->setName(typed);
        guard->enter();
    });
}

void PageHost::keepPositions() {
    const std::vector<Page*> all = pages();
    for (std::size_t i = 0; i < all.size(); ++i) all[i]->notePosition(static_cast<int>(i), all[i] == current());
}

}  // namespace pantry::app
