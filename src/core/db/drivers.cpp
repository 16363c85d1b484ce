#include <fmt/format.h>

#include "core/db/driver.h"
#include "core/db/drivers/sqlite_driver.h"

namespace pantry::db {

Result<const Driver*> driverFor(Engine engine) {
    static const SqliteDriver sqlite;
    if (engine == Engine::Sqlite) return &sqlite;
    return Error{.kind = ErrorKind::Connection,
                 .message = fmt::format("This version does not connect to {} yet.", engineName(engine)),
                 .hint = "SQLite databases can be opened."};
}

std::vector<Engine> availableEngines() {
    std::vector<Engine> engines;
    for (const Engine engine : {Engine::Postgres, Engine::MariaDb, Engine::Sqlite, Engine::Odbc}) {
        if (driverFor(engine)) engines.push_back(engine);
    }
    return engines;
}

}  // namespace pantry::db
