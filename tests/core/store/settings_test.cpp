#include "core/store/settings.h"

#include "core/store/home.h"
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

}  // namespace
}  // namespace pantry::store
