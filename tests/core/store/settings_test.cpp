#include "core/store/settings.h"

#include <set>

#include "core/store/home.h"
#include "core/store/setting_table.h"
#include "core/store/window_state.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

TEST(SettingsTest, ComeBackAsTheyWereSaved) {
    const test::TemporaryFolder folder;
    Settings s;
    s.theme = "lamplight";
    s.textSize = 14;
    s.pageRows = 5000;
    s.format.keywords = sql::KeywordCase::Lower;
    ASSERT_TRUE(saveSettings(folder / "settings.json", s));
    EXPECT_EQ(loadSettings(folder / "settings.json")->settings, s);
}

TEST(SettingsTest, NonsenseFallsBackToTheUsual) {
    const test::TemporaryFolder folder;
    test::writeFile(folder / "settings.json", R"({"textSize": 4000, "theme": 3, "pageRows": "many", "mine": 1})");
    const auto loaded = loadSettings(folder / "settings.json");
    EXPECT_EQ(loaded->settings, Settings());
    ASSERT_TRUE(saveSettings(folder / "settings.json", loaded->settings));
    EXPECT_THAT(test::contentOf(folder / "settings.json"), testing::HasSubstr("\"mine\": 1"));
}

TEST(HomeTest, AFolderThatCannotBeMadeSaysWhatToDo) {
    const Status status = findHome(std::filesystem::path("/proc/nowhere")).prepare();
    ASSERT_FALSE(status);
    EXPECT_THAT(status.error().text(), testing::HasSubstr("--home"));
}

TEST(HomeTest, PrefersWhatWasAskedFor) {
    ::setenv("AGILE_PANTRY_HOME", "/tmp/from-environment", 1);
    EXPECT_EQ(findHome(std::nullopt).ledgerFile(), "/tmp/from-environment/ledger.db");
    EXPECT_EQ(findHome(std::filesystem::path("/tmp/asked")).settingsFile(), "/tmp/asked/settings.json");
    ::unsetenv("AGILE_PANTRY_HOME");
    ::setenv("XDG_CONFIG_HOME", "/tmp/xdg", 1);
    EXPECT_EQ(findHome(std::nullopt).connectionsFile(), "/tmp/xdg/agile-pantry/connections.json");
    ::unsetenv("XDG_CONFIG_HOME");
}

TEST(SettingsTest, TwoWindowsDoNotUndoEachOthersChoices) {
    const test::TemporaryFolder folder;
    const auto file = folder / "settings.json";
    Settings both;
    ASSERT_TRUE(saveSettings(file, both));
    Settings one = both;
    one.theme = "lamplight";
    Settings other = both;
    other.pageRows = 50;
    ASSERT_TRUE(saveSettings(file, one, both));
    ASSERT_TRUE(saveSettings(file, other, both));
    const auto loaded = loadSettings(file);
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->settings.theme, "lamplight");
    EXPECT_EQ(loaded->settings.pageRows, 50U);
}

TEST(SettingTableTest, EachSettingCanBeReadAndWrittenAndHasWords) {
    std::set<std::string_view> ids;
    for (const SettingDescriptor& setting : settingTable()) {
        EXPECT_TRUE(ids.insert(setting.id).second) << setting.id;
        EXPECT_FALSE(setting.group.empty() || setting.label.empty() || setting.sentence.empty()) << setting.id;
        EXPECT_FALSE(setting.sentence.ends_with('.')) << setting.id;
        const SettingValue usual = setting.get(Settings());
        EXPECT_TRUE(setting.isAllowed(usual)) << setting.id;
        Settings other;
        SettingValue wanted = usual;
        if (auto* flag = std::get_if<bool>(&wanted)) *flag = !*flag;
        if (auto* number = std::get_if<std::int64_t>(&wanted)) *number = setting.high;
        if (auto* word = std::get_if<std::string>(&wanted)) {
            *word = setting.words.empty() ? "another" : std::string(setting.words.back());
        }
        if (auto* words = std::get_if<std::vector<std::string>>(&wanted)) *words = {"one", "two"};
        ASSERT_TRUE(setting.isAllowed(wanted)) << setting.id;
        setting.set(other, wanted);
        EXPECT_EQ(setting.get(other), wanted) << setting.id;
        EXPECT_NE(other, Settings()) << setting.id;
    }
    EXPECT_GE(ids.size(), 16U);
    EXPECT_EQ(settingNamed("nonsense"), nullptr);
}

TEST(SettingTableTest, WhatIsOutOfBoundsIsRefused) {
    const SettingDescriptor& size = *settingNamed("textSize");
    EXPECT_TRUE(size.isAllowed(std::int64_t{40}));
    EXPECT_FALSE(size.isAllowed(std::int64_t{41}));
    EXPECT_FALSE(size.isAllowed(std::string("large")));
    EXPECT_FALSE(settingNamed("formatKeywords")->isAllowed(std::string("shouting")));
}

TEST(SettingsTest, CellsAreAsLargeAsTheTextUntilSomebodySaysOtherwise) {
    const test::TemporaryFolder folder;
    test::writeFile(folder / "settings.json", R"({"version": 1, "textSize": 14})");
    EXPECT_EQ(loadSettings(folder / "settings.json")->settings.gridTextSize, 14);
}

TEST(SettingsTest, OfTheFirstVersionTheWindowsStateMovesToAFileOfItsOwn) {
    const test::TemporaryFolder folder;
    const auto settings = folder / "settings.json";
    const auto window = folder / "window.json";
    test::writeFile(settings, R"({"version": 1, "theme": "lamplight", "closeUp": false, "leftColumnWidth": 300,
                                  "editorShare": 7, "mine": 1})");
    const auto state = loadWindowState(window, settings);
    ASSERT_TRUE(state);
    EXPECT_FALSE(state->isCloseUpShown);
    EXPECT_EQ(state->leftColumnWidth, 300);
    EXPECT_EQ(state->editorShare, WindowState().editorShare) << "out of range";
    const auto loaded = loadSettings(settings);
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->settings.theme, "lamplight");
    ASSERT_TRUE(saveWindowState(window, *state, {}));
    ASSERT_TRUE(saveSettings(settings, loaded->settings, loaded->settings));
    const std::string text = test::contentOf(settings);
    EXPECT_THAT(text, testing::HasSubstr("\"version\": 2"));
    EXPECT_THAT(text, testing::Not(testing::HasSubstr("leftColumnWidth")));
    EXPECT_THAT(text, testing::HasSubstr("\"mine\": 1"));
    EXPECT_EQ(*loadWindowState(window, settings), *state) << "from its own file now";
}

TEST(WindowStateTest, TwoWindowsKeepEachOthersPart) {
    const test::TemporaryFolder folder;
    const WindowState before;
    WindowState one = before;
    one.isCloseUpShown = false;
    WindowState other = before;
    other.closeUpWidth = 400;
    ASSERT_TRUE(saveWindowState(folder / "window.json", one, before));
    ASSERT_TRUE(saveWindowState(folder / "window.json", other, before));
    const auto state = loadWindowState(folder / "window.json", folder / "settings.json");
    EXPECT_FALSE(state->isCloseUpShown);
    EXPECT_EQ(state->closeUpWidth, 400);
}

}  // namespace
}  // namespace pantry::store
