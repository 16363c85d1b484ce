#include "core/db/engine_traits.h"

#include "core/db/drivers/mariadb/driver.h"
#include "core/db/drivers/odbc/driver.h"
#include "core/db/drivers/postgres/driver.h"
#include "core/db/drivers/sqlite/driver.h"

namespace pantry::db {

const EngineTraits& traitsOf(Engine engine) {
    switch (engine) {
        case Engine::Sqlite: return SqliteDriver::traits();
        case Engine::Postgres: return PostgresDriver::traits();
        case Engine::MariaDb: return MariaDbDriver::traits();
        case Engine::Odbc: break;
    }
    return OdbcDriver::traits();
}

}  // namespace pantry::db
