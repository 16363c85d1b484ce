#include "core/db/driver.h"

#include "core/db/connecting.h"
#include "core/db/drivers/mariadb/driver.h"
#include "core/db/drivers/odbc/driver.h"
#include "core/db/drivers/postgres/driver.h"
#include "core/db/drivers/sqlite/driver.h"

namespace pantry::db {

/// For engines without functions of their users' own: what the program knows of the engine's own decides.
Result<std::string> EngineConnection::doubtAbout(const sql::PlainReading& reading,
                                                 const base::Cancellation& /*cancellation*/) {
    const std::vector<sql::CalledName> unknown = sql::withoutHarmless(reading.calls, dialect());
    return unknown.empty() ? std::string() : notKnownToBeHarmless(unknown.front());
}

Result<const Driver*> driverFor(Engine engine) {
    static const SqliteDriver sqlite;
    static const PostgresDriver postgres;
    static const MariaDbDriver mariadb;
    static const OdbcDriver odbc;
    switch (engine) {
        case Engine::Sqlite: return &sqlite;
        case Engine::Postgres: return &postgres;
        case Engine::MariaDb: return &mariadb;
        case Engine::Odbc: break;
    }
    return &odbc;
}

std::vector<Engine> availableEngines() {
    std::vector<Engine> engines;
    for (const Engine engine : {Engine::Postgres, Engine::MariaDb, Engine::Sqlite, Engine::Odbc}) {
        if (driverFor(engine)) engines.push_back(engine);
    }
    return engines;
}

}  // namespace pantry::db
