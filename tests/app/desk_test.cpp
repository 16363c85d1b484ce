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
        desk_.preferences().changeWindowState([width](store::WindowState& s) { s.leftColumnWidth = width; });
    }
    EXPECT_EQ(changes.count(), 0) << "nothing need be coloured anew";
    EXPECT_FALSE(std::filesystem::exists(home().windowFile())) << "not at every step";
    desk_.flush();
    const auto kept = store::loadWindowState(home().windowFile(), home().settingsFile());
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->leftColumnWidth, 299);
    EXPECT_FALSE(std::filesystem::exists(home().settingsFile()));
}

TEST_F(DeskTest, ASettingThatIsTheSameChangesNothing) {
    const QSignalSpy changes(&desk_, &Desk::settingsChanged);
    desk_.preferences().changeSettings([](store::Settings& s) { s.pageRows = store::Settings().pageRows; });
    EXPECT_EQ(changes.count(), 0);
    desk_.preferences().changeSettings([](store::Settings& s) { s.pageRows = 50; });
    EXPECT_EQ(changes.count(), 1);
    desk_.flush();
    EXPECT_EQ(store::loadSettings(home().settingsFile())->settings.pageRows, 50U);
}

TEST_F(DeskTest, AnotherWindowsChoicesArriveHere) {
    Desk other(home());
    other.open();
    other.preferences().changeSettings([](store::Settings& s) { s.theme = "lamplight"; });
    db::ConnectionProfile p;
    p.id = "orchard";
    p.name = "Orchard";
    other.connections().put(p);
    other.flush();
    EVENTUALLY(desk_.settings().theme == "lamplight");
    EVENTUALLY(desk_.connections().profile("orchard") != nullptr);
}

TEST_F(DeskTest, NothingIsReadBeforeSomebodyBegins) {
    db::ConnectionProfile p;
    p.id = p.name = "orchard";
    p.database = (folder_ / "orchard.db").string();
    desk_.connections().put(p);
    const QSignalSpy begun(&desk_, &Desk::begun);
    desk_.catalogs().want("orchard");
    EXPECT_FALSE(desk_.catalogs().state("orchard").isLoading);
    desk_.connections().beginWith("orchard");
    desk_.connections().beginWith("orchard");
    EXPECT_EQ(begun.count(), 1) << "told the first time";
    desk_.catalogs().want("orchard");
    EXPECT_TRUE(desk_.catalogs().state("orchard").isLoading);
    EVENTUALLY(!desk_.catalogs().state("orchard").isLoading);
}

}  // namespace
}  // namespace pantry::app
