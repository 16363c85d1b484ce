// A program that knows no connection yet.
#include <gmock/gmock.h>

#include <QAbstractButton>
#include <QLineEdit>

#include "app/window_fixture.h"

namespace pantry::app {
namespace {

class StartWindowTest : public WindowTest {
protected:
    void SetUp() override {
        ::setenv("HOME", folder_.path().c_str(), 1);
        ASSERT_TRUE(home().prepare());
        openWindow();
    }
    void TearDown() override {
        WindowTest::TearDown();
        ::setenv("HOME", before_.c_str(), 1);
    }
    std::string before_ = std::getenv("HOME") == nullptr ? "" : std::getenv("HOME");
};

TEST_F(StartWindowTest, OneFieldTakesWhateverIsAtHand) {
    ASSERT_NE(find(objectName::kStartPage), nullptr);
    EVENTUALLY(find(objectName::kStartAddress)->hasFocus());
    type(QStringLiteral("postgresql://ida@orchard-trial:5433/orchard?sslmode=require"));
    key(Qt::Key_Return);
    EXPECT_EQ(find(objectName::kStartPage), nullptr);
    EXPECT_EQ(find<QLineEdit>(objectName::kFormName)->text(), QStringLiteral("orchard"));
    EXPECT_TRUE(desk_->connections().profiles().empty()) << "nothing is saved, and nothing was sent";
}

TEST_F(StartWindowTest, WhatIsNoAddressIsToldInItsPlace) {
    EVENTUALLY(find(objectName::kStartAddress)->hasFocus());
    type(QStringLiteral("cobol://x y"));
    click(objectName::kStartContinue);
    ASSERT_NE(find(objectName::kStartPage), nullptr);
    const auto labels = find(objectName::kStartPage)->findChildren<QLabel*>();
    EXPECT_TRUE(
        std::ranges::any_of(labels, [](const QLabel* l) { return l->text().contains(QStringLiteral("cobol")); }));
    find<QLineEdit>(objectName::kStartAddress)->setText(QStringLiteral("orchard-trial"));
    click(objectName::kStartContinue);
    EXPECT_EQ(find(objectName::kStartPage), nullptr) << "a host alone fills the form too";
}

TEST_F(StartWindowTest, OneClickMakesTheDatabasesToPractiseOn) {
    click(objectName::kStartPractise);
    EVENTUALLY(window_->currentSheet() != nullptr);
    EXPECT_TRUE(std::filesystem::exists(folder_.path() / "Larkspur Vale" / "orchard.db"));
    EXPECT_EQ(desk_->connections().profiles().size(), 4U);
    EVENTUALLY(window_->currentSheet()->sheet().script().statements().size() == 3U);
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(isOver(2));
    for (std::size_t i = 0; i < 3; ++i) EXPECT_GT(card(i)->rowCount(), 0U) << i;
    window_->showConnections();
    EXPECT_EQ(find(objectName::kStartPage), nullptr) << "now there is something else to show";
}

TEST_F(StartWindowTest, AServerThatWasFoundIsOneClick) {
    ASSERT_TRUE(test::copyOrchard(folder_ / "found.db"));
    store::FoundConnection found{.where = "listens on a socket"};
    found.profile.name = "Found here";
    found.profile.database = (folder_ / "found.db").string();
    auto* start = window_->findChild<StartPage*>();
    EVENTUALLY(find<QLabel>(objectName::kStartLooked)->text() == QStringLiteral("Looked just now"));
    start->setFound({found});
    EVENTUALLY(find(objectName::kStartConnect) != nullptr);
    click(objectName::kStartConnect);
    EVENTUALLY(window_->currentSheet() != nullptr);
    ASSERT_EQ(desk_->connections().profiles().size(), 1U);
    EXPECT_EQ(desk_->connections().profiles().front().name, "Found here");
    EVENTUALLY(desk_->catalogs().state(fromQt(window_->currentSheet()->sheet().connectionId())).catalog != nullptr);
}

TEST_F(StartWindowTest, AnotherServerOpensAnEmptyForm) {
    click(objectName::kStartEngine);
    EXPECT_EQ(find(objectName::kStartPage), nullptr);
    EXPECT_NE(find(objectName::kFormName), nullptr);
    EXPECT_TRUE(desk_->connections().profiles().empty());
}

TEST_F(StartWindowTest, AConnectionThatPantryAddsIsNoticedByAnOpenWindow) {
    ASSERT_NE(find(objectName::kStartPage), nullptr);
    ASSERT_TRUE(test::copyOrchard(folder_ / "added.db"));
    db::ConnectionProfile p;
    p.id = "added";
    p.name = "Added by another program";
    p.database = (folder_ / "added.db").string();
    ASSERT_TRUE(store::ConnectionsFile(home().connectionsFile()).put(p));
    EVENTUALLY(desk_->connections().profile("added") != nullptr);
    EVENTUALLY(find(objectName::kStartPage) == nullptr);
}

}  // namespace
}  // namespace pantry::app
