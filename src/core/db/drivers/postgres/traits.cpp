#include <fmt/format.h>

#include <array>

#include "core/base/text.h"
#include "core/db/drivers/postgres/driver.h"

namespace pantry::db {
namespace {

constexpr auto kPostgresIsolationLevels =
    std::to_array<std::string_view>({"read committed", "repeatable read", "serializable"});

constexpr EngineTraits kPostgresTraits{
    .name = "PostgreSQL",
    .word = "postgresql",
    .dialect = sql::Dialect::Postgres,
    .port = 5432,
    .tellsEncryption = true,
    .passwordVariable = "PGPASSWORD",
    .passwordFile = "~/.pgpass",
    .passwordFileAdvice = "Add a line host:port:database:user:password, with rights for nobody else.",
    .onConnectExample = "SET TIME ZONE 'UTC';",
    .databasesQuery =
        "SELECT datname FROM pg_catalog.pg_database WHERE datallowconn AND NOT datistemplate "
        "AND pg_catalog.has_database_privilege(datname, 'CONNECT') ORDER BY datname",
    .firstDatabase = "postgres",
    .isolationLevels = kPostgresIsolationLevels,
    .setIsolation =
        [](std::string_view level) {
            return "SET SESSION CHARACTERISTICS AS TRANSACTION ISOLATION LEVEL " + base::toUpper(level);
        },
    .setReadOnly =
        [](bool isReadOnly) {
            return fmt::format("SET default_transaction_read_only = {}", isReadOnly ? "on" : "off");
        },
    .setStatementLimit =
        [](std::chrono::milliseconds limit) { return fmt::format("SET statement_timeout = {}", limit.count()); },
    .setSchema = [](std::string_view quotedName) { return fmt::format("SET search_path TO {}", quotedName); },
    .setLockLimit = [](std::chrono::milliseconds limit) { return fmt::format("SET lock_timeout = {}", limit.count()); },
    .canRollBackDefinitions = true,
};

}  // namespace

const EngineTraits& PostgresDriver::traits() { return kPostgresTraits; }

}  // namespace pantry::db
