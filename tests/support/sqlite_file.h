#pragma once

#include <sqlite3.h>

#include <filesystem>
#include <stdexcept>
#include <string>

#include "core/db/profile.h"

namespace pantry::test {

/// Runs a script on an SQLite file, making it if need be.
inline void runScript(const std::filesystem::path& file, const std::string& script) {
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    char* message = nullptr;
    const int code = sqlite3_exec(db, script.c_str(), nullptr, nullptr, &message);
    const std::string said = message == nullptr ? "" : message;
    sqlite3_free(message);
    sqlite3_close(db);
    if (code != SQLITE_OK) throw std::runtime_error(said);
}

inline db::ConnectionProfile profileOf(const std::filesystem::path& file) {
    db::ConnectionProfile p;
    p.id = "test";
    p.name = "Test";
    p.engine = db::Engine::Sqlite;
    p.database = file.string();
    return p;
}

/// A query of this many rows: n, and a text of n.
inline std::string rowsQuery(long count) {
    return "WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s WHERE n < " + std::to_string(count) +
           ") SELECT n, 'row ' || n AS t FROM s";
}

}  // namespace pantry::test
