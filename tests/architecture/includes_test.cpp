// Which room may know which: what does not stand in a folder's CMakeLists.txt must not be included there.
#include <gtest/gtest.h>

#include <array>
#include <fstream>
#include <functional>
#include <regex>

#include "architecture/rooms.h"

namespace pantry::test {
namespace {

namespace fs = std::filesystem;

const fs::path kSource = SOURCE_FOLDER;

/// Headers of other people's libraries, by how their names begin, and the target that brings them.
struct Foreign {
    std::string_view prefix;
    std::string_view target;
    bool staysInSources;  ///< a client library, or the like, that no header of ours may show
};
constexpr auto kForeign = std::to_array<Foreign>({
    {"libpq-fe.h", "PkgConfig::libpq", true},
    {"mysql", "PkgConfig::mariadb", true},
    {"mariadb", "PkgConfig::mariadb", true},
    {"errmsg.h", "PkgConfig::mariadb", true},
    {"sqlite3.h", "SQLite::SQLite3", true},
    {"sql.h", "PkgConfig::odbc", true},
    {"sqlext.h", "PkgConfig::odbc", true},
    {"xlsxwriter", "PkgConfig::xlsxwriter", true},
    {"Qsci/", "${QSCINTILLA}", true},
    {"git2", "PkgConfig::git2", true},
    {"graphviz/", "PkgConfig::gvc", true},
    {"libsecret/", "PkgConfig::libsecret", true},
    {"unicode/", "PkgConfig::icu", true},
    {"fontconfig/", "PkgConfig::fontconfig", true},
    {"re2/", "PkgConfig::re2", true},
    {"gmp", "PkgConfig::gmp", false},
    {"nlohmann/", "nlohmann_json::nlohmann_json", false},
    {"spdlog/", "spdlog::spdlog", false},
    {"fmt/", "fmt::fmt", false},
    {"zlib.h", "ZLIB::ZLIB", true},
    {"zstd", "PkgConfig::zstd", true},
});

class IncludesTest : public testing::Test {
protected:
    [[nodiscard]] static std::string placeOf(const Include& include) {
        return include.file.string() + ":" + std::to_string(include.line) + " includes " + include.target;
    }
    [[nodiscard]] static bool isInternal(const Room& room, const fs::path& file) {
        return room.internal.contains(file.lexically_relative(room.folder).string());
    }
    /// Whether a file of a room may include what a target brings: headers only what the room uses openly.
    [[nodiscard]] static bool mayInclude(const Room& room, const Include& include, const std::string& target) {
        const bool isHeader = include.file.extension() == ".h" && !isInternal(room, include.file);
        return room.uses.contains(target) || (!isHeader && room.hides.contains(target));
    }
    const std::map<std::string, Room> rooms_ = roomsOf(kSource);
    const std::vector<Include> includes_ = includesOf(kSource);
};

TEST_F(IncludesTest, ARoomIncludesOnlyRoomsThatItNames) {
    ASSERT_GT(rooms_.size(), 15U);
    ASSERT_GT(includes_.size(), 1000U);
    for (const Include& include : includes_) {
        const std::string own = roomOf(rooms_, include.file);
        if (own.empty() || !include.isOurs) continue;  // a program may use everything it links
        const std::string target = roomOf(rooms_, include.target);
        if (target.empty() || target == own) continue;
        EXPECT_TRUE(mayInclude(rooms_.at(own), include, target)) << placeOf(include) << " of " << target;
        EXPECT_FALSE(isInternal(rooms_.at(target), include.target)) << placeOf(include) << ", internal to " << target;
    }
}

TEST_F(IncludesTest, OtherPeoplesLibrariesAreNamedAndTheirHeadersStayInSources) {
    for (const Include& include : includes_) {
        const std::string own = roomOf(rooms_, include.file);
        if (own.empty() || include.isOurs) continue;
        for (const Foreign& foreign : kForeign) {
            if (!include.target.starts_with(foreign.prefix)) continue;
            EXPECT_TRUE(mayInclude(rooms_.at(own), include, std::string(foreign.target))) << placeOf(include);
            EXPECT_FALSE(foreign.staysInSources && include.file.extension() == ".h" &&
                         !isInternal(rooms_.at(own), include.file))
                << placeOf(include);
        }
    }
}

TEST_F(IncludesTest, OnlyTheWindowKnowsQt) {
    for (const Include& include : includes_) {
        const bool isQt = !include.isOurs && (include.target.starts_with("Q") || include.target.starts_with("qt"));
        EXPECT_FALSE(isQt && !include.file.string().starts_with("app/")) << placeOf(include);
        const bool isApp = include.isOurs && include.target.starts_with("app/");
        EXPECT_FALSE(isApp && !include.file.string().starts_with("app/")) << placeOf(include);
    }
}

/// Whoever must know what an engine is like asks for its traits. Those who may still tell engines apart read what is
/// the engines' own: addresses, and the files of their programs.
TEST_F(IncludesTest, NobodyAsksWhichEngineItIs) {
    static const std::regex question(R"re((==|!=)\s*(db::)?Engine::|case (db::)?Engine::)re");
    const std::set<std::string> allowed{
        "core/db/engine_traits.cpp",     "core/db/drivers.cpp",         "core/db/address_parameters.cpp",
        "core/db/key_value_address.cpp", "core/store/engine_files.cpp",
    };
    std::size_t seen = 0;
    for (const fs::directory_entry& entry : fs::recursive_directory_iterator(kSource)) {
        const std::string file = fs::relative(entry.path(), kSource).string();
        const bool isOfEngines = file.starts_with("core/db/drivers/") || file.starts_with("demo/");
        if (!entry.is_regular_file() || isOfEngines) continue;
        std::ifstream in(entry.path());
        int number = 0;
        for (std::string line; std::getline(in, line);) {
            ++number;
            if (line.find("Engine::") == std::string::npos || !std::regex_search(line, question)) continue;
            ++seen;
            EXPECT_TRUE(allowed.contains(file)) << file << ":" << number << ": " << line;
        }
    }
    EXPECT_GT(seen, 0U) << "the question is still worded like this";
}

TEST_F(IncludesTest, EveryFileOfARoomIsListedInIt) {
    for (const fs::directory_entry& entry : fs::recursive_directory_iterator(kSource)) {
        const fs::path extension = entry.path().extension();
        if (extension != ".h" && extension != ".cpp") continue;
        const fs::path file = fs::relative(entry.path(), kSource);
        const std::string own = roomOf(rooms_, file);
        if (own.empty()) continue;
        const fs::path inRoom = file.lexically_relative(rooms_.at(own).folder);
        EXPECT_TRUE(rooms_.at(own).files.contains(inRoom.string())) << file << " in " << own;
    }
}

TEST_F(IncludesTest, NoRoomLeadsBackToItself) {
    enum class State { Fresh, Open, Done };
    std::map<std::string, State> states;
    const std::function<void(const std::string&, const std::string&)> visit = [&](const std::string& name,
                                                                                  const std::string& way) {
        const auto room = rooms_.find(name);
        if (room == rooms_.end() || states[name] == State::Done) return;
        ASSERT_NE(states[name], State::Open) << way << " → " << name;
        states[name] = State::Open;
        for (const std::set<std::string>& named : {room->second.uses, room->second.hides}) {
            for (const std::string& next : named) visit(next, way + " → " + name);
        }
        states[name] = State::Done;
    };
    for (const auto& [name, room] : rooms_) visit(name, "");
}

TEST_F(IncludesTest, ARoomIsFoundByItsFilesAndAnUnnamedOneIsRefused) {
    EXPECT_EQ(roomOf(rooms_, "core/sql/text/lexer.h"), "pantry_sql_text");
    EXPECT_EQ(roomOf(rooms_, "app/pages/sheet/sheet_page.cpp"), "pantry_app_page_sheet");
    EXPECT_EQ(roomOf(rooms_, "demo/throwaway_server.h"), "pantry_servers");
    EXPECT_EQ(roomOf(rooms_, "app/main.cpp"), "");
    const Room& sql = rooms_.at("pantry_sql_syntax");
    EXPECT_FALSE(mayInclude(sql, {"core/sql/syntax/parser.cpp", 1, "core/db/session.h", true}, "pantry_db"));
    EXPECT_FALSE(mayInclude(sql, {"core/sql/syntax/parser.h", 1, "fmt/format.h", false}, "fmt::fmt"))
        << "hidden from headers";
    EXPECT_TRUE(mayInclude(sql, {"core/sql/syntax/parser.cpp", 1, "fmt/format.h", false}, "fmt::fmt"));
}

}  // namespace
}  // namespace pantry::test
