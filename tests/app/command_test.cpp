#include "app/command/command.h"

#include <QAction>
#include <QMenuBar>
#include <QTableWidget>
#include <map>
#include <set>

#include "app/base/text.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

/// Those of the window share its keys; the text, or a widget that has the focus, goes before them with its own.
int keyRoomOf(const Command& one) {
    const bool hasItsOwn = one.isOfWidget || one.place == CommandPlace::Editor;
    return hasItsOwn ? 1 + static_cast<int>(one.place) : 0;
}

TEST(CommandTest, NoTwoShareAnIdOrAKeyInOnePlace) {
    std::set<std::string_view> ids;
    std::map<std::pair<int, QString>, std::string_view> owners;
    for (const Command& one : commands()) {
        EXPECT_TRUE(ids.insert(one.id).second) << one.id;
        for (const QKeySequence& key : one.keys) {
            EXPECT_FALSE(key.isEmpty()) << one.id;
            const auto [owner, isNew] = owners.emplace(std::pair(keyRoomOf(one), key.toString()), one.id);
            EXPECT_TRUE(isNew) << one.id << " and " << owner->second << " share " << fromQt(key.toString());
        }
    }
    EXPECT_GT(ids.size(), 60U);
}

TEST(CommandTest, EachHasWordsForPeople) {
    for (const Command& one : commands()) {
        EXPECT_FALSE(one.text.isEmpty()) << one.id;
        EXPECT_FALSE(one.help.isEmpty()) << one.id;
        EXPECT_FALSE(one.help.endsWith(QLatin1Char('.'))) << one.id;
        EXPECT_TRUE(!one.isOfWidget || !placeText(one.place).isEmpty()) << one.id;
    }
    EXPECT_EQ(commandTip("run.statement"),
              QStringLiteral("Run the statement at the cursor, or the selection (Ctrl+Return)"));
    EXPECT_EQ(commandTip("result.copy"), command("result.copy").help) << "it has no key";
    EXPECT_EQ(menuText("result.export"), QStringLiteral("Export…\tCtrl+E"));
    EXPECT_EQ(keyText("card.1"), QStringLiteral("Alt+1 … Alt+9"));
}

class CommandWindowTest : public WindowTest {
protected:
    QAction* action(std::string_view id) { return window_->findChild<QAction*>(QStringLiteral("command.") + toQt(id)); }
};

TEST_F(CommandWindowTest, TheWindowKnowsThemAll) {
    std::size_t inMenus = 0;
    for (const Command& one : commands()) {
        if (one.isOfWidget) continue;
        ASSERT_NE(action(one.id), nullptr) << one.id;
        // Those of the text are pressed in it, and are no keys of the window.
        const QList<QKeySequence> wanted = one.place == CommandPlace::Editor ? QList<QKeySequence>() : one.keys;
        EXPECT_EQ(action(one.id)->shortcuts(), wanted) << one.id;
        inMenus += one.menu.isEmpty() ? 0 : 1;
    }
    std::size_t shown = 0;
    for (QAction* menu : window_->menuBar()->actions()) {
        for (QAction* one : menu->menu()->actions()) shown += one->isSeparator() ? 0 : 1;
    }
    EXPECT_EQ(shown, inMenus);
}

TEST_F(CommandWindowTest, WhatCannotRunSaysWhy) {
    openSheet();
    EVENTUALLY(window_->currentSheet() != nullptr);
    action("transaction.commit")->trigger();
    EXPECT_EQ(find<QLabel>(objectName::kStatusSelection)->text(),
              QStringLiteral("No transaction is open in this sheet."));
    action("result.export")->trigger();
    EXPECT_EQ(find<QLabel>(objectName::kStatusSelection)->text(), QStringLiteral("There is no result here yet."));
    window_->showConnections();
    for (const Command& one : commands()) {  // none of them may need what is not there
        const bool isOfSheet = one.place == CommandPlace::Sheet || one.place == CommandPlace::Result ||
                               one.place == CommandPlace::Transaction;
        if (isOfSheet && !one.isOfWidget) action(one.id)->trigger();
    }
    action("run.all")->trigger();
    EXPECT_EQ(find<QLabel>(objectName::kStatusSelection)->text(), QStringLiteral("Open a sheet first."));
}

TEST_F(CommandWindowTest, AMenuGreysWhatCannotRunWhileItShows) {
    openSheet();
    EVENTUALLY(window_->currentSheet() != nullptr);
    QMenu* run = nullptr;
    for (QAction* menu : window_->menuBar()->actions()) {
        if (menu->text() == QStringLiteral("&Run")) run = menu->menu();
    }
    ASSERT_NE(run, nullptr);
    Q_EMIT run->aboutToShow();
    EXPECT_FALSE(action("transaction.commit")->isEnabled());
    EXPECT_TRUE(action("run.all")->isEnabled());
    Q_EMIT run->aboutToHide();
    EXPECT_TRUE(action("transaction.commit")->isEnabled()) << "its key says why";
}

TEST_F(CommandWindowTest, ThePageOfKeysTellsEveryKey) {
    action("help.keys")->trigger();
    auto* table = window_->findChild<QTableWidget*>(QStringLiteral("keysPage"));
    ASSERT_NE(table, nullptr);
    std::set<QString> told;
    for (int row = 0; row < table->rowCount(); ++row) told.insert(table->item(row, 0)->text());
    for (const Command& one : commands()) {
        const bool isOneOfMany = one.id.starts_with("card.") && !one.isOfWidget && one.id != "card.1";
        EXPECT_TRUE(keyText(one.id).isEmpty() || isOneOfMany || told.contains(keyText(one.id))) << one.id;
    }
}

}  // namespace
}  // namespace pantry::app
