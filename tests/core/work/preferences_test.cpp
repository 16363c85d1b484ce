#include "core/work/preferences.h"

#include <fstream>

#include "core/work/application_fixture.h"

namespace pantry::work {
namespace {

class PreferencesTest : public ApplicationTest {
protected:
    int changes_ = 0;
    Preferences preferences_{around_, [this] { ++changes_; }};
};

TEST_F(PreferencesTest, ASettingThatIsTheSameChangesNothing) {
    preferences_.changeSettings([](store::Settings& s) { s.pageRows = store::Settings().pageRows; });
    EXPECT_EQ(changes_, 0);
    preferences_.changeSettings([](store::Settings& s) { s.pageRows = 50; });
    EXPECT_EQ(changes_, 1);
    around_.flush();
    EXPECT_EQ(store::loadSettings(home().settingsFile())->settings.pageRows, 50U);
}

TEST_F(PreferencesTest, WhatAnotherWindowChoseIsInEffectAndNotWrittenAgain) {
    store::Settings theirs;
    theirs.theme = "lamplight";
    preferences_.take(theirs);
    preferences_.take(theirs);
    EXPECT_EQ(changes_, 1);
    EXPECT_EQ(preferences_.settings().theme, "lamplight");
    around_.flush();
    EXPECT_FALSE(std::filesystem::exists(home().settingsFile()));
}

TEST_F(PreferencesTest, TheWindowsStateIsWrittenOnceWithinASecond) {
    for (int width = 200; width < 300; ++width) {
        preferences_.changeWindowState([width](store::WindowState& s) { s.leftColumnWidth = width; });
    }
    around_.flush();
    EXPECT_FALSE(std::filesystem::exists(home().windowFile())) << "not at every step";
    EVENTUALLY((around_.flush(), std::filesystem::exists(home().windowFile())));
    EXPECT_EQ(store::loadWindowState(home().windowFile(), home().settingsFile())->leftColumnWidth, 299);
    EXPECT_EQ(changes_, 0) << "nothing need be coloured anew";
}

TEST_F(PreferencesTest, ItsEndKeepsHowTheWindowWasLeft) {
    {
        Preferences other(around_, [] {});
        other.changeWindowState([](store::WindowState& s) { s.isCloseUpShown = false; });
    }
    around_.flush();
    EXPECT_FALSE(store::loadWindowState(home().windowFile(), home().settingsFile())->isCloseUpShown);
}

TEST_F(PreferencesTest, WhatCannotBeReadIsToldAndTheUsualHolds) {
    std::ofstream(home().settingsFile()) << "{ no json";
    preferences_.open();
    EXPECT_EQ(preferences_.settings(), store::Settings());
    ASSERT_FALSE(raised().empty());
    EXPECT_NE(raised()[0].find("settings.json"), std::string::npos) << raised()[0];
}

TEST_F(PreferencesTest, ExportsAndGridsAreThereAtTheNextStart) {
    exchange::ExportChoices choices;
    choices.format = exchange::Format::Tsv;
    preferences_.noteExport(choices, "/srv/orchard");
    preferences_.putExportPreset({.name = "For the co-op", .choices = choices});
    preferences_.putExportPreset({.name = "Another", .choices = choices});
    preferences_.removeExportPreset("Another");
    data::GridChoices grid;
    grid.frozen = 2;
    preferences_.changeGridChoices("SELECT 1", grid);
    around_.flush();
    Preferences next(around_, [] {});
    next.open();
    EXPECT_EQ(next.exportPresets().folder, "/srv/orchard");
    EXPECT_EQ(next.exportPresets().lastFormat, exchange::Format::Tsv);
    ASSERT_EQ(next.exportPresets().named.size(), 1U);
    EXPECT_EQ(next.exportPresets().named[0].name, "For the co-op");
    EXPECT_EQ(next.gridChoices("SELECT 1").frozen, 2);
    EXPECT_EQ(raised(), std::vector<std::string>());
}

}  // namespace
}  // namespace pantry::work
