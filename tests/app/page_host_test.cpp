#include "app/shell/page_host.h"

#include <QLineEdit>
#include <QToolButton>

#include "app/base/text.h"
#include "app/shell/notice_strip.h"
#include "app/shell/status_text.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

/// A page that tells what the test wants it to tell.
class BasketPage : public Page {
public:
    explicit BasketPage(QString title) : words(std::move(title)) {}
    [[nodiscard]] QString title() const override { return words; }
    [[nodiscard]] QIcon icon() const override { return colourDot(Qt::red); }
    [[nodiscard]] QString elapsed() const override { return running; }
    [[nodiscard]] bool canBePinned() const override { return true; }
    [[nodiscard]] bool isPinned() const override { return isKeptFirst; }
    void setPinned(bool isPinned) override { isKeptFirst = isPinned; }
    [[nodiscard]] std::optional<QString> editableName() const override { return words; }
    void setName(const QString& name) override {
        words = name;
        Q_EMIT changed();
    }
    [[nodiscard]] bool wasBeside() const override { return isKeptBeside; }
    void noteBeside(bool isBeside) override { isKeptBeside = isBeside; }
    void notePosition(int at, bool isInFront) override {
        position = at;
        isCurrent = isInFront;
    }
    QString words;
    QString running;
    int position = -1;
    bool isCurrent = false;
    bool isKeptFirst = false;
    bool isKeptBeside = false;
};

class PageHostTest : public testing::Test {
protected:
    PageHostTest() {
        for (const char* title : {"apples", "pears", "plums"}) {
            pages_.push_back(new BasketPage(QLatin1String(title)));
            host_.add(pages_.back(), true);
        }
        host_.resize(800, 400);
        host_.show();
        tabs_ = host_.findChild<QTabBar*>(QLatin1String(objectName::kSheetTabs));
        QObject::connect(&host_, &PageHost::chosen, &host_, [this](Page* page) { chosen_ = page; });
    }
    PageHost host_;
    std::vector<BasketPage*> pages_;
    QTabBar* tabs_ = nullptr;
    Page* chosen_ = nullptr;
};

TEST_F(PageHostTest, TheTabInFrontShowsItsPage) {
    EXPECT_EQ(host_.current(), pages_[2]);
    host_.bringToFront(pages_[0]);
    EXPECT_EQ(host_.current(), pages_[0]);
    EXPECT_EQ(chosen_, pages_[0]);
    EXPECT_TRUE(pages_[0]->isCurrent);
    EXPECT_FALSE(pages_[2]->isCurrent);
    host_.goAlong(-1);
    EXPECT_EQ(host_.current(), pages_[2]) << "round the end";
    BasketPage stranger(QStringLiteral("quinces"));
    host_.bringToFront(&stranger);
    EXPECT_EQ(host_.current(), pages_[2]) << "not one of ours";
}

TEST_F(PageHostTest, WhatIsTypedGoesToThePageWhoseTabIsClicked) {
    host_.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&host_));
    auto* field = new QLineEdit(pages_[0]);
    field->show();
    host_.bringToFront(pages_[0]);
    field->setFocus();
    tabs_->setFocus();
    QTest::keyClick(tabs_, Qt::Key_Right);
    EXPECT_EQ(host_.current(), pages_[1]);
    EXPECT_EQ(QApplication::focusWidget(), tabs_) << "the arrow keys go from tab to tab";
    QTest::mouseClick(tabs_, Qt::LeftButton, {}, tabs_->tabRect(0).center());
    EVENTUALLY(QApplication::focusWidget() == field);
    tabs_->setFocus();
    QTest::mouseClick(tabs_, Qt::LeftButton, {}, tabs_->tabRect(2).center());
    EVENTUALLY(QApplication::focusWidget() == pages_[2]);
}

TEST_F(PageHostTest, APageThatGoesHandsTheKeysToTheNextOne) {
    host_.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&host_));
    pages_[2]->setFocus();
    host_.remove(pages_[2]);
    EXPECT_EQ(QApplication::focusWidget(), host_.current());
    tabs_->setFocus();
    host_.remove(pages_[1]);
    EXPECT_EQ(QApplication::focusWidget(), tabs_) << "where they were is still there";
}

TEST_F(PageHostTest, AMovedTabTakesItsPageAlong) {
    tabs_->moveTab(0, 2);
    EXPECT_EQ(host_.pages(), (std::vector<Page*>{pages_[1], pages_[2], pages_[0]}));
    EXPECT_EQ(pages_[0]->position, 2);
    EXPECT_EQ(pages_[1]->position, 0);
}

TEST_F(PageHostTest, TheTabFollowsWhatThePageTells) {
    pages_[1]->setName(QStringLiteral("quinces"));
    EXPECT_EQ(tabs_->tabText(1), QStringLiteral("quinces"));
    pages_[1]->running = QStringLiteral("3 s");
    Q_EMIT pages_[1]->elapsedChanged();
    EXPECT_THAT(fromQt(tabs_->accessibleTabName(1)), testing::HasSubstr("running for 3 s"));
}

TEST_F(PageHostTest, WhatIsRemovedIsTheCallersAgain) {
    Page* asked = nullptr;
    QObject::connect(&host_, &PageHost::closeRequested, &host_, [&](Page* page) { asked = page; });
    Q_EMIT tabs_->tabCloseRequested(1);
    EXPECT_EQ(asked, pages_[1]);
    EXPECT_EQ(host_.count(), 3) << "the host only asks";
    host_.remove(pages_[1]);
    EXPECT_EQ(host_.count(), 2);
    EXPECT_EQ(tabs_->count(), 2);
    EXPECT_FALSE(host_.holds(pages_[1]));
    pages_[1]->setName(QStringLiteral("gone"));
    EXPECT_EQ(tabs_->tabText(1), QStringLiteral("plums"));
    delete pages_[1];
}

TEST_F(PageHostTest, ANameIsTypedWhereItStands) {
    Q_EMIT tabs_->tabBarDoubleClicked(0);
    auto* edit = host_.findChild<QLineEdit*>(QLatin1String(objectName::kTabName));
    ASSERT_NE(edit, nullptr);
    EXPECT_EQ(edit->text(), QStringLiteral("apples"));
    edit->setText(QStringLiteral("  windfalls "));
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_EQ(pages_[0]->words, QStringLiteral("windfalls"));
    EXPECT_EQ(tabs_->tabText(0), QStringLiteral("windfalls"));
}

TEST_F(PageHostTest, ANameIsAsWideAsANameNeedsAndEscapeLeavesItAsItWas) {
    host_.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&host_));  // only then the focus can go elsewhere
    Q_EMIT tabs_->tabBarDoubleClicked(2);
    auto* field = host_.findChild<QLineEdit*>(QLatin1String(objectName::kTabName));
    ASSERT_NE(field, nullptr);
    EXPECT_GE(field->width(), 200) << "however short the name of the tab is";
    EXPECT_TRUE(field->parentWidget()->rect().contains(field->geometry()));
    field->setText(QStringLiteral("damsons"));
    QTest::keyClick(field, Qt::Key_Escape);
    EXPECT_TRUE(field->isHidden());
    EXPECT_EQ(tabs_->tabText(2), QStringLiteral("plums"));
    Q_EMIT tabs_->tabBarDoubleClicked(2);
    field = host_.findChildren<QLineEdit*>(QLatin1String(objectName::kTabName)).back();
    field->setText(QStringLiteral("damsons"));
    tabs_->setFocus();
    EXPECT_EQ(tabs_->tabText(2), QStringLiteral("damsons")) << "who goes elsewhere has written it";
    EXPECT_TRUE(tabs_->hasFocus()) << "and stays there";
}

TEST_F(PageHostTest, ThePageThatIsBeingNamedMayGo) {
    Q_EMIT tabs_->tabBarDoubleClicked(1);
    auto* field = host_.findChild<QLineEdit*>(QLatin1String(objectName::kTabName));
    ASSERT_NE(field, nullptr);
    field->setText(QStringLiteral("quinces"));
    host_.remove(pages_[1]);
    delete pages_[1];
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_TRUE(field->isHidden());
    EXPECT_EQ(tabs_->tabText(0), QStringLiteral("apples"));
    EXPECT_EQ(tabs_->tabText(1), QStringLiteral("plums")) << "no other page takes the name";
}

TEST_F(PageHostTest, APinnedPageStandsFirstAndStaysWhenOthersAreClosed) {
    host_.togglePinned(pages_[2]);
    EXPECT_EQ(host_.pages(), (std::vector<Page*>{pages_[2], pages_[0], pages_[1]}));
    EXPECT_EQ(tabs_->tabText(0), QStringLiteral("plums"));
    EXPECT_EQ(pages_[2]->position, 0);
    tabs_->moveTab(0, 2);
    EXPECT_EQ(host_.pages().front(), pages_[2]) << "it cannot be dragged behind those that are not pinned";
    std::vector<Page*> asked;
    QObject::connect(&host_, &PageHost::closeRequested, &host_, [&](Page* page) { asked.push_back(page); });
    host_.closeOthers(pages_[1]);
    EXPECT_EQ(asked, (std::vector<Page*>{pages_[0]}));
    auto* close = qobject_cast<QToolButton*>(tabs_->tabButton(0, QTabBar::RightSide));
    ASSERT_NE(close, nullptr);
    close->click();
    EXPECT_EQ(asked.size(), 1U) << "a click at its end does not close it";
    host_.togglePinned(pages_[2]);
    close->click();
    EXPECT_EQ(asked.back(), pages_[2]);
}

TEST_F(PageHostTest, APageStandsBesideTheOthersAndComesBack) {
    host_.bringToFront(pages_[1]);
    ASSERT_TRUE(host_.toggleBeside());
    EXPECT_EQ(host_.beside(), pages_[1]);
    EXPECT_TRUE(pages_[1]->isVisible());
    EXPECT_TRUE(pages_[0]->isVisible()) << "the one before it stands there now";
    host_.bringToFront(pages_[2]);
    EXPECT_TRUE(pages_[1]->isVisible());
    EXPECT_TRUE(pages_[2]->isVisible());
    EXPECT_EQ(host_.current(), pages_[2]);
    host_.bringToFront(pages_[1]);
    EXPECT_EQ(host_.current(), pages_[1]);
    EXPECT_TRUE(pages_[2]->isVisible()) << "what it stands beside stays";
    host_.findChild<QPushButton*>(QStringLiteral("besideBack"))->click();
    EXPECT_EQ(host_.beside(), nullptr);
    EXPECT_TRUE(pages_[1]->isVisible());
    EXPECT_FALSE(pages_[2]->isVisible());
    host_.toggleBeside();
    host_.remove(pages_[1]);
    EXPECT_EQ(host_.beside(), nullptr);
    EXPECT_EQ(host_.count(), 2);
    delete pages_[1];
    host_.remove(pages_[0]);
    delete pages_[0];
    EXPECT_FALSE(host_.toggleBeside()) << "alone there is nothing to stand beside";
}

TEST_F(PageHostTest, WhatStoodBesideStandsThereAgainAndTheOneInFrontStaysThere) {
    pages_[0]->isKeptBeside = true;
    host_.bringToFront(pages_[2]);
    host_.restoreBeside();
    EXPECT_EQ(host_.beside(), pages_[0]);
    EXPECT_EQ(host_.current(), pages_[2]);
    EXPECT_TRUE(pages_[0]->isVisible() && pages_[2]->isVisible());
    host_.findChild<QPushButton*>(QStringLiteral("besideBack"))->click();
    EXPECT_FALSE(pages_[0]->isKeptBeside);
}

TEST_F(PageHostTest, WhereTwoHaveNoRoomSideBySideOneStandsBelow) {
    host_.resize(1000, 400);
    host_.toggleBeside();
    QTest::qWait(0);
    EXPECT_EQ(pages_[1]->mapTo(&host_, QPoint()).x(), 0);
    EXPECT_GT(pages_[2]->mapTo(&host_, QPoint()).x(), 400);
    host_.resize(500, 600);
    QTest::qWait(0);
    EXPECT_EQ(pages_[2]->mapTo(&host_, QPoint()).x(), 0);
    EXPECT_GT(pages_[2]->mapTo(&host_, QPoint()).y(), pages_[1]->mapTo(&host_, QPoint()).y() + 100);
}

TEST_F(PageHostTest, TheMenuOfATabKnowsWhatCanBeDone) {
    Q_EMIT tabs_->customContextMenuRequested(tabs_->tabRect(0).center());
    auto* menu = host_.findChild<QMenu*>(QStringLiteral("tabMenu"));
    ASSERT_NE(menu, nullptr);
    menu->findChild<QAction*>(QStringLiteral("tabPin"))->trigger();
    EXPECT_TRUE(pages_[0]->isKeptFirst);
    Page* asked = nullptr;
    QObject::connect(&host_, &PageHost::closeRequested, &host_, [&](Page* page) { asked = page; });
    menu->findChild<QAction*>(QStringLiteral("tabClose"))->trigger();
    EXPECT_EQ(asked, pages_[0]) << "its menu closes it all the same";
    menu->close();
}

TEST(StatusTextTest, NobodysSilenceTakesAwayWhatAnotherSaid) {
    QLabel label;
    StatusText status(&label);
    status.setFacts(QStringLiteral("3 cells, sum 12"));
    EXPECT_EQ(label.text(), QStringLiteral("3 cells, sum 12"));
    status.say(QStringLiteral("Closed Sheet 1."));
    EXPECT_EQ(label.text(), QStringLiteral("Closed Sheet 1."));
    status.setFacts({});  // another page is in front
    EXPECT_EQ(label.text(), QStringLiteral("Closed Sheet 1."));
    status.say({});
    EXPECT_EQ(label.text(), QStringLiteral("Closed Sheet 1."));
    status.setFacts(QStringLiteral("1 cell"));
    EXPECT_EQ(label.text(), QStringLiteral("1 cell")) << "the newest shows";
}

TEST(StatusTextTest, WhatWasSaidAboutOnePageGoesWithIt) {
    QLabel label;
    StatusText status(&label);
    const QObject sheet;
    const QObject catalog;
    status.say(QStringLiteral("Nothing is marked here that can be mended."), &sheet);
    status.followPage(&sheet);
    EXPECT_EQ(label.text(), QStringLiteral("Nothing is marked here that can be mended.")) << "it came to the front";
    status.followPage(&catalog);
    EXPECT_EQ(label.text(), QString());
    status.say(QStringLiteral("Closed Sheet 1."), &catalog);
    status.setFacts(QStringLiteral("3 cells, sum 12"));
    status.followPage(&sheet);
    EXPECT_EQ(label.text(), QString()) << "cells of another page are not what is chosen here";
}

TEST(NoticeStripTest, NoticesQueueAndNoneIsLost) {
    NoticeStrip strip;
    EXPECT_TRUE(strip.isHidden());
    strip.add(QStringLiteral("settings.json was kept aside."));
    strip.add(QStringLiteral("The ledger cannot be written."));
    strip.add(QStringLiteral("The ledger cannot be written."));
    auto* text = strip.findChild<QLabel*>();
    auto* understood = strip.findChild<QPushButton*>(QStringLiteral("noticeClose"));
    EXPECT_FALSE(strip.isHidden());
    EXPECT_EQ(text->text(), QStringLiteral("settings.json was kept aside."));
    EXPECT_EQ(understood->text(), QStringLiteral("Understood, 1 more"));
    understood->click();
    EXPECT_EQ(text->text(), QStringLiteral("The ledger cannot be written."));
    EXPECT_EQ(understood->text(), QStringLiteral("Understood"));
    understood->click();
    EXPECT_TRUE(strip.isHidden());
}

}  // namespace
}  // namespace pantry::app
