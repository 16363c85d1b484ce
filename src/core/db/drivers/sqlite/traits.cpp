#include <fmt/format.h>

#include "core/db/drivers/sqlite/driver.h"

namespace pantry::db {
namespace {

constexpr EngineTraits kSqliteTraits{
    .name = "SQLite",
    .word = "sqlite",
    .dialect = sql::Dialect::Sqlite,
    .place = PlaceKind::File,
    .onConnectExample = "PRAGMA foreign_keys = ON;",
    .setReadOnly = [](bool isReadOnly) { return fmt::format("PRAGMA query_only = {}", isReadOnly ? "ON" : "OFF"); },
    .canRollBackDefinitions = true,
};

}  // namespace

const EngineTraits& SqliteDriver::traits() { return kSqliteTraits; }

}  // namespace pantry::db
