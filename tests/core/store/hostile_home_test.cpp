// Whatever stands in the home folder: the program starts, within moments, and says what it could not understand.
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <chrono>
#include <fstream>
#include <random>

#include "core/base/file.h"
#include "core/store/catalog_choices_file.h"
#include "core/store/catalog_file.h"
#include "core/store/connection_transfer.h"
#include "core/store/connections_file.h"
#include "core/store/export_presets.h"
#include "core/store/grid_choices_file.h"
#include "core/store/home.h"
#include "core/store/ledger.h"
#include "core/store/log.h"
#include "core/store/settings.h"
#include "core/store/sheet_store.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

namespace fs = std::filesystem;
using test::TemporaryFolder;
using test::writeFile;

/// Reads everything that a start reads, and writes into each file.
void startOn(const Home& home) {
    (void)loadSettings(home.settingsFile());
    (void)loadExportPresets(home.exportsFile());
    (void)loadGridChoices(home.gridChoicesFile());
    (void)loadCatalogChoices(home.catalogChoicesFile());
    (void)ConnectionsFile(home.connectionsFile()).load();
    const SheetStore sheets(home.sheetsFolder());
    (void)sheets.takeOver();
    (void)sheets.reopenLast();
    (void)readCatalogFile(home.settingsFile());
    if (const auto text = base::readFile(home.connectionsFile())) (void)readExport(*text);
    (void)saveSettings(home.settingsFile(), {});
    (void)saveGridChoices(home.gridChoicesFile(), "key", {});
    (void)saveCatalogChoices(home.catalogChoicesFile(), "place", {});
    (void)saveExportPreset(home.exportsFile(), {.name = "mine"});
    (void)removeExportPreset(home.exportsFile(), "mine");
    (void)ConnectionsFile(home.connectionsFile()).put({.id = "a", .name = "A"});
}

std::vector<fs::path> filesOf(const Home& home) {
    return {home.settingsFile(),       home.exportsFile(),     home.gridChoicesFile(),
            home.catalogChoicesFile(), home.connectionsFile(), home.sheetsFolder() / "one.json"};
}

TEST(HostileHomeTest, AnyJsonLetsTheProgramStart) {
    const std::string deep = std::string(100'000, '[') + std::string(100'000, ']');
    for (const std::string& content :
         {std::string(R"({"version": 1e999})"), std::string(R"({"version": -1e400, "a": 1})"), std::string("[]"),
          std::string("null"), std::string("\"x\""), std::string(""), std::string("{"), std::string(5000, '\0'),
          std::string("\xff\xfe{\0}"), std::string(R"({"version": 99999999999999999999999})"),
          std::string(R"({"version": "1", "connections": 7, "groups": {"a": 1}})"),
          std::string(
              R"({"connections": [1, null, [], {"id": 5}, {"id": "a", "name": "A", "engine": "sqlite", "port": -1,
                          "options": [1], "inherited": 3}]})"),
          std::string(R"({"position": 1e400, "caret": -5, "text": 7, "window": {}})"),
          std::string(R"({"text": "x", "caret": 18446744073709551615, "position": 5})"),
          std::string(R"({"queries": 5, "last": [], "named": "x", "places": true})"),
          std::string(R"({"queries": {"a": 5}, "last": {"csv": 3}, "named": {"x": []}, "places": {"p": 1}})"),
          R"({"a": )" + deep + "}", deep}) {
        const TemporaryFolder folder;
        const Home home = findHome(folder.path());
        ASSERT_TRUE(home.prepare());
        for (const fs::path& file : filesOf(home)) writeFile(file, content);
        startOn(home);
        startOn(home);  // and once more, on what the first start wrote
    }
}

TEST(HostileHomeTest, ChangedBytesLetTheProgramStart) {
    for (unsigned seed = 1; seed <= 150; ++seed) {
        const TemporaryFolder folder;
        const Home home = findHome(folder.path());
        ASSERT_TRUE(home.prepare());
        startOn(home);
        (void)SheetStore(home.sheetsFolder()).save({.id = "one", .text = "select 1", .caret = 3});
        std::mt19937 random(seed);
        for (const fs::path& file : filesOf(home)) {
            std::string content = test::contentOf(file);
            for (int i = 0; i < 6 && !content.empty(); ++i) {
                content[random() % content.size()] = "{}[]\",:0123e.-\\\xff"[random() % 16];
            }
            writeFile(file, content);
        }
        startOn(home);
    }
}

TEST(HostileHomeTest, PortsAreCheckedSaidAndKept) {
    const TemporaryFolder folder;
    const ConnectionsFile file(folder / "connections.json");
    const auto entry = [](const std::string& port) {
        return R"({"connections": [{"id": "a", "name": "Far", "engine": "postgresql", "port": )" + port + "}]}";
    };
    writeFile(folder / "connections.json", entry("\"5433\""));
    EXPECT_EQ(file.load()->profiles.front().port, 5433);
    for (const char* wrong : {"99999999", "-1", "\"many\"", "1.5"}) {
        writeFile(folder / "connections.json", entry(wrong));
        const auto list = file.load();
        ASSERT_TRUE(list) << wrong;
        EXPECT_EQ(list->profiles.front().port, 0) << wrong;
        ASSERT_TRUE(list->notice) << wrong;
        EXPECT_THAT(list->notice->text(), testing::HasSubstr("Far"));
        ASSERT_TRUE(file.put(list->profiles.front()));
        EXPECT_THAT(test::contentOf(folder / "connections.json"),
                    testing::HasSubstr(std::string("\"port\": ") + wrong));
    }
    db::ConnectionProfile mended = file.load()->profiles.front();
    mended.port = 5432;
    ASSERT_TRUE(file.put(mended));
    EXPECT_FALSE(file.load()->notice);
}

TEST(HostileHomeTest, PipesAndLocksOfOthersHoldNobody) {
    const TemporaryFolder folder;
    const Home home = findHome(folder.path());
    ASSERT_TRUE(home.prepare());
    for (const fs::path& file : filesOf(home)) ASSERT_EQ(::mkfifo(file.c_str(), 0600), 0);
    ASSERT_EQ(::mkfifo(home.ledgerFile().c_str(), 0600), 0);
    ASSERT_EQ(::mkfifo(home.logFile().c_str(), 0600), 0);
    EXPECT_FALSE(loadSettings(home.settingsFile()));
    EXPECT_FALSE(ConnectionsFile(home.connectionsFile()).load());
    EXPECT_FALSE(Ledger::open(home.ledgerFile()));
    startLog(home, false);
    const int held = ::open((home.sheetsFolder() / "sheets.lock").c_str(), O_RDWR | O_CREAT, 0600);
    ASSERT_EQ(::flock(held, LOCK_EX), 0);
    const auto sheets = SheetStore(home.sheetsFolder()).takeOver();
    ASSERT_FALSE(sheets);
    EXPECT_EQ(sheets.error().kind, ErrorKind::Busy) << sheets.error().text();
    ::close(held);
}

TEST(HostileHomeTest, WithoutAHomeNothingIsWrittenAnywhere) {
    const TemporaryFolder folder;
    const fs::path before = fs::current_path();
    fs::current_path(folder.path());
    std::map<const char*, std::string> environment;
    for (const char* name : {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME", "AGILE_PANTRY_HOME"}) {
        if (const char* value = ::getenv(name)) environment[name] = value;
        ::unsetenv(name);
    }
    const Home home = findHome(std::nullopt);
    const Status status = home.prepare();
    ASSERT_FALSE(status);
    EXPECT_THAT(status.error().text(), testing::HasSubstr("HOME"));
    startOn(home);
    startLog(home, false);
    EXPECT_FALSE(Ledger::open(home.ledgerFile()));
    EXPECT_TRUE(fs::is_empty(folder.path()));
    for (const auto& [name, value] : environment) ::setenv(name, value.c_str(), 1);
    fs::current_path(before);
}

TEST(HostileHomeTest, WhatIsOursIsForItsOwnerAloneAndWhatKilledWritersLeftGoes) {
    const TemporaryFolder folder;
    const Home home = findHome(folder / "home");
    ASSERT_TRUE(home.prepare());
    startOn(home);
    writeFile(home.settingsFile().string() + ".Ab12cD", "half");
    writeFile(home.sheetsFolder() / "one.json.Zz9yX8", "half");
    for (const fs::path& file : {home.settingsFile(), home.connectionsFile()}) ::chmod(file.c_str(), 0644);
    ::chmod(home.config.c_str(), 0755);
    const auto longAgo = fs::file_time_type::clock::now() - std::chrono::hours(1);
    fs::last_write_time(home.settingsFile().string() + ".Ab12cD", longAgo);
    fs::last_write_time(home.sheetsFolder() / "one.json.Zz9yX8", longAgo);
    ASSERT_TRUE(home.prepare());
    for (const auto& entry : fs::recursive_directory_iterator(home.config)) {
        struct stat info {};
        ::stat(entry.path().c_str(), &info);
        EXPECT_EQ(info.st_mode & 0077U, 0U) << entry.path();
        EXPECT_EQ(entry.path().string().find("Ab12cD"), std::string::npos);
        EXPECT_EQ(entry.path().string().find("Zz9yX8"), std::string::npos);
    }
    struct stat info {};
    ::stat(home.config.c_str(), &info);
    EXPECT_EQ(info.st_mode & 0777U, 0700U);
}

}  // namespace
}  // namespace pantry::store
