// What the parts of a window share, without a window.
#include "app/desk/desk.h"

#include <QSignalSpy>

#include "app/base/text.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

class DeskTest : public testing::Test {
protected:
    DeskTest() { desk_.open(); }
    [[nodiscard]] store::Home home() const { return store::findHome(folder_ / "home"); }

    test::TemporaryFolder folder_;
    Desk desk_{home()};
};

TEST_F(DeskTest, DraggingChangesNoSettingAndIsWrittenOnce) {
    const QSignalSpy changes(&desk_, &Desk::settingsChanged);
    for (int width = 200; width < 300; ++width) {
        desk_.changeWindowState([width](store::WindowState& s) { s.leftColumnWidth = width; });
    }
    EXPECT_EQ(changes.count(), 0) << "nothing need be coloured anew";
    EXPECT_FALSE(std::filesystem::exists(home().windowFile())) << "not at every step";
    desk_.flush();
    const auto kept = store::loadWindowState(home().windowFile(), home().settingsFile());
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->leftColumnWidth, 299);
    EXPECT_FALSE(std::filesystem::exists(home().settingsFile()));
}

TEST_F(DeskTest, TheWindowsStateIsWrittenWithinASecondByItself) {
    desk_.changeWindowState([](store::WindowState& s) { s.isCloseUpShown = false; });
    EVENTUALLY(std::filesystem::exists(home().windowFile()));
}

TEST_F(DeskTest, ASettingThatIsTheSameChangesNothing) {
    const QSignalSpy changes(&desk_, &Desk::settingsChanged);
    desk_.changeSettings([](store::Settings& s) { s.pageRows = store::Settings().pageRows; });
    EXPECT_EQ(changes.count(), 0);
    desk_.changeSettings([](store::Settings& s) { s.pageRows = 50; });
    EXPECT_EQ(changes.count(), 1);
    desk_.flush();
    EXPECT_EQ(store::loadSettings(home().settingsFile())->settings.pageRows, 50U);
}

TEST_F(DeskTest, AnotherWindowsChoicesArriveHere) {
    Desk other(home());
    other.open();
    other.changeSettings([](store::Settings& s) { s.theme = "lamplight"; });
    db::ConnectionProfile p;
    p.id = "orchard";
    p.name = "Orchard";
    other.putProfile(p);
    other.flush();
    EVENTUALLY(desk_.settings().theme == "lamplight");
    EVENTUALLY(desk_.profile(QStringLiteral("orchard")) != nullptr);
}

TEST_F(DeskTest, ARemovedConnectionComesBackWhereItWas) {
    for (const char* id : {"apples", "pears", "plums"}) {
        db::ConnectionProfile p;
        p.id = p.name = id;
        desk_.putProfile(p);
    }
    desk_.removeProfile(QStringLiteral("pears"));
    EXPECT_EQ(desk_.profile(QStringLiteral("pears")), nullptr);
    ASSERT_TRUE(desk_.lastRemoved());
    desk_.undoRemoval();
    ASSERT_EQ(desk_.profiles().size(), 3U);
    EXPECT_EQ(desk_.profiles()[1].id, "pears");
    EXPECT_FALSE(desk_.lastRemoved());
}

TEST_F(DeskTest, NothingIsReadBeforeSomebodyBegins) {
    db::ConnectionProfile p;
    p.id = p.name = "orchard";
    p.database = (folder_ / "orchard.db").string();
    desk_.putProfile(p);
    const QSignalSpy begun(&desk_, &Desk::begun);
    desk_.wantCatalog(QStringLiteral("orchard"));
    EXPECT_FALSE(desk_.catalog(QStringLiteral("orchard")).isLoading);
    desk_.beginWith(QStringLiteral("orchard"));
    desk_.beginWith(QStringLiteral("orchard"));
    EXPECT_EQ(begun.count(), 1) << "told the first time";
    desk_.wantCatalog(QStringLiteral("orchard"));
    EXPECT_TRUE(desk_.catalog(QStringLiteral("orchard")).isLoading);
    EVENTUALLY(!desk_.catalog(QStringLiteral("orchard")).isLoading);
}

TEST_F(DeskTest, PasswordsThatWereTypedStayInMemoryAlone) {
    db::ConnectionProfile p;
    p.id = p.name = "records";
    p.engine = db::Engine::Postgres;
    desk_.putProfile(p);
    bool isDone = false;
    desk_.setPassword(p, "damson", nullptr, [&](const Status& status) { isDone = status.has_value(); });
    EXPECT_TRUE(isDone);
    EXPECT_EQ(desk_.passwordOf(QStringLiteral("records")), "damson");
    desk_.flush();
    for (const auto& entry : std::filesystem::recursive_directory_iterator(home().config)) {
        if (!entry.is_regular_file()) continue;
        EXPECT_EQ(test::contentOf(entry.path()).find("damson"), std::string::npos) << entry.path();
    }
    desk_.setPassword(p, "", nullptr, [](const Status&) {});
    EXPECT_FALSE(desk_.passwordOf(QStringLiteral("records")));
}

}  // namespace
}  // namespace pantry::app
