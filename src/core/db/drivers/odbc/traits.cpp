#include "core/db/drivers/odbc/driver.h"

namespace pantry::db {
namespace {

/// Of the engines behind ODBC many commit before what defines something.
bool commitsByItself(const sql::Statement& statement) { return statement.defines(); }

constexpr EngineTraits kTraits{
    .name = "ODBC",
    .word = "odbc",
    .dialect = sql::Dialect::Ansi,
    .place = PlaceKind::Source,
    .commitsByItself = commitsByItself,
};

}  // namespace

const EngineTraits& OdbcDriver::traits() { return kTraits; }

}  // namespace pantry::db
