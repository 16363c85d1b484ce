// The window on a real server.
#include <gmock/gmock.h>

#include <QMenu>
#include <fstream>

#include "app/window_fixture.h"
#include "core/db/address.h"
#include "core/db/run_and_wait.h"
#include "demo/throwaway_server.h"

namespace pantry::app {
namespace {

/// A server that lets its guest in only with the password “apples”.
class ServedWindowTest : public WindowTest {
protected:
    void SetUp() override {
        ASSERT_EQ(server_.startup(), "");
        WindowTest::SetUp();
        db::Session owner(profile(server_.user()), std::nullopt);
        ASSERT_TRUE(db::runAndWait(owner, "CREATE ROLE guest LOGIN PASSWORD 'apples'"));
        ASSERT_TRUE(db::runAndWait(owner, "CREATE DATABASE cellar"));
        std::ofstream(server_.folder() / "data" / "pg_hba.conf")
            << "local all guest scram-sha-256\nlocal all all trust\n";
        ASSERT_TRUE(db::runAndWait(owner, "SELECT pg_reload_conf()"));
        db::Session guest(profile("guest"), std::nullopt);
        ASSERT_TRUE(QTest::qWaitFor([&] { return !db::runAndWait(guest, "SELECT 1"); }, kTimeoutMs));
    }
    db::ConnectionProfile profile(const std::string& user) {
        db::ConnectionProfile p{.id = "records", .name = "Trial records", .engine = db::Engine::Postgres};
        p.host = server_.folder();
        p.port = server_.port();
        p.user = user;
        p.database = "postgres";
        return p;
    }
    demo::PostgresServer server_;
};

TEST_F(ServedWindowTest, ThePasswordIsAskedForAndWhatWasRefusedRuns) {
    desk_->connections().put(profile("guest"));
    window_->openSheet(QStringLiteral("records"), QStringLiteral("SELECT 40 + 2 AS answer"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kPasswordPanel) != nullptr);
    EVENTUALLY(isOver(0));  // it was refused
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kPasswordInput));
    type(QStringLiteral("pears"));
    key(Qt::Key_Return);
    EVENTUALLY(card(1) != nullptr && isOver(1));  // refused as well
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kPasswordInput));
    type(QStringLiteral("apples"));  // not into the sheet
    key(Qt::Key_Return);
    EVENTUALLY(card(2) != nullptr && isOver(2));
    ASSERT_TRUE(card(2)->result());
    EXPECT_EQ(data::toText(card(2)->result()->cell(0, 0)), "42");
    EVENTUALLY(find(objectName::kPasswordPanel) == nullptr);
    EVENTUALLY(QApplication::focusWidget() == window_->currentSheet()->editor()->focusProxy() ||
               QApplication::focusWidget() == window_->currentSheet()->editor());
    EXPECT_EQ(editorText(), "SELECT 40 + 2 AS answer");
    closeWindow();
    for (const auto& entry : std::filesystem::recursive_directory_iterator(folder_ / "home")) {
        if (!entry.is_regular_file()) continue;
        EXPECT_EQ(test::contentOf(entry.path()).find("apples"), std::string::npos) << entry.path();
    }
}

TEST_F(ServedWindowTest, TheStartReachesOutToNoServerBeforeSomebodyDoes) {
    desk_->connections().put(profile(server_.user()));
    window_->openSheet(QStringLiteral("records"), QStringLiteral("SELECT 1"));
    EVENTUALLY(desk_->catalogs().state("records").catalog != nullptr);
    closeWindow();
    db::Session watcher(profile(server_.user()), std::nullopt);
    const auto others = [&] {
        const auto found = db::runAndWait(watcher,
                                          "SELECT 1 FROM pg_stat_activity WHERE backend_type = 'client backend' "
                                          "AND pid <> pg_backend_pid()");
        return found ? (*found)->rowCount() : 99;
    };
    EVENTUALLY(others() == 0);
    openWindow();
    ASSERT_NE(window_->currentSheet(), nullptr);
    QTest::qWait(300);
    EXPECT_EQ(others(), 0U);
    EXPECT_FALSE(desk_->connections().hasBegunWith("records"));
    find(objectName::kEditor)->setFocus();
    type(QStringLiteral(" "));
    EVENTUALLY(desk_->catalogs().state("records").catalog != nullptr);
    EXPECT_GE(others(), 1U);
}

TEST_F(ServedWindowTest, NamesMeanWhatTheSessionsPathSays) {
    db::Session owner(profile(server_.user()), std::nullopt);
    for (const char* statement : {"CREATE SCHEMA kitchen", "CREATE TABLE public.jar (in_public int)",
                                  "CREATE TABLE kitchen.jar (in_kitchen int)"}) {
        ASSERT_TRUE(db::runAndWait(owner, statement));
    }
    desk_->connections().put(profile(server_.user()));
    window_->openSheet(QStringLiteral("records"), QStringLiteral("SET search_path TO kitchen, public"));
    Sheet& sheet = window_->currentSheet()->sheet();
    EVENTUALLY(sheet.session().catalogView().find("", "jar") != nullptr);
    EXPECT_EQ(sheet.session().catalogView().find("", "jar")->schema, "public");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EVENTUALLY(sheet.session().catalogView().find("", "jar") != nullptr &&
               sheet.session().catalogView().find("", "jar")->schema == "kitchen");
    // A name that is not there is told with the one that may be meant.
    sheet.runStatement("SELECT in_kitchn FROM jar");
    EVENTUALLY(isOver(1) && card(1)->error());
    EXPECT_THAT(card(1)->error()->text(), testing::HasSubstr("in_kitchen"));
}

TEST_F(ServedWindowTest, TheFormOffersTheDatabasesOfTheServer) {
    click(objectName::kNewConnection);
    QTest::keyClicks(find<QLineEdit>(objectName::kFormAddress), toQt(db::addressOf(profile(server_.user()))));
    click(objectName::kFormDatabases);
    const auto menu = [&] { return window_->findChild<QMenu*>(QStringLiteral("formDatabaseMenu")); };
    (void)QTest::qWaitFor([&] { return menu() != nullptr && menu()->isVisible(); }, kTimeoutMs / 4);
    ASSERT_NE(menu(), nullptr) << fromQt(find<QLabel>(objectName::kFormAdvice)->text());
    for (QAction* action : menu()->actions()) {
        if (action->text() == QStringLiteral("cellar")) action->trigger();
    }
    menu()->close();
    EXPECT_EQ(find<QLineEdit>(objectName::kFormDatabase)->text(), QStringLiteral("cellar"));
}

}  // namespace
}  // namespace pantry::app
