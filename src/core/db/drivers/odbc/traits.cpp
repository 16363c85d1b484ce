#include "core/db/drivers/odbc/driver.h"

namespace pantry::db {
namespace {

/// Of the engines behind ODBC many commit before what defines something.
bool anyDefinitionCommits(const sql::Statement& statement) { return statement.defines(); }

constexpr EngineTraits kOdbcTraits{
    .name = "ODBC",
    .word = "odbc",
    .dialect = sql::Dialect::Ansi,
    .place = PlaceKind::Source,
    .commitsByItself = anyDefinitionCommits,
};

}  // namespace

const EngineTraits& OdbcDriver::traits() { return kOdbcTraits; }

}  // namespace pantry::db
