#include "core/db/profile.h"

#include <fmt/format.h>

#include <array>
#include <filesystem>
#include <random>

namespace pantry::db {
namespace {

constexpr std::array<std::string_view, 4> kEngineNames{"PostgreSQL", "MariaDB", "SQLite", "ODBC"};
constexpr std::array<std::string_view, 4> kEngineWords{"postgresql", "mariadb", "sqlite", "odbc"};
constexpr std::array<std::string_view, 3> kEnvironments{"local", "trial", "live"};

template <class Enum, std::size_t N>
std::optional<Enum> fromWord(const std::array<std::string_view, N>& words, std::string_view word) {
    for (std::size_t i = 0; i < N; ++i) {
        if (words[i] == word) return static_cast<Enum>(i);
    }
    return std::nullopt;
}

}  // namespace

std::string_view engineName(Engine engine) { return kEngineNames[static_cast<std::size_t>(engine)]; }
std::string_view engineWord(Engine engine) { return kEngineWords[static_cast<std::size_t>(engine)]; }
std::optional<Engine> engineFromWord(std::string_view word) { return fromWord<Engine>(kEngineWords, word); }

sql::Dialect dialectOf(Engine engine) {
    switch (engine) {
        case Engine::Postgres: return sql::Dialect::Postgres;
        case Engine::MariaDb: return sql::Dialect::MySql;
        case Engine::Sqlite: return sql::Dialect::Sqlite;
        case Engine::Odbc: break;
    }
    return sql::Dialect::Ansi;
}

std::string_view environmentWord(Environment environment) {
    return kEnvironments[static_cast<std::size_t>(environment)];
}
std::optional<Environment> environmentFromWord(std::string_view word) {
    return fromWord<Environment>(kEnvironments, word);
}

std::string placeOf(const ConnectionProfile& profile) {
    if (profile.engine == Engine::Sqlite) return std::filesystem::path(profile.database).filename().string();
    std::string place = profile.host.empty() ? "localhost" : profile.host;
    if (profile.port != 0) place += fmt::format(":{}", profile.port);
    return profile.database.empty() ? place : place + " · " + profile.database;
}

std::string makeProfileId() {
    std::random_device source;
    return fmt::format("{:08x}{:08x}", source(), source());
}

}  // namespace pantry::db
