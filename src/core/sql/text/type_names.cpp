#include "core/sql/text/type_names.h"

#include <array>

namespace pantry::sql {
namespace {

constexpr std::array<std::string_view, 13> kPostgresTypes{
    "integer",   "bigint", "text", "numeric(12, 2)", "boolean",          "date",        "timestamptz",
    "timestamp", "jsonb",  "uuid", "bytea",          "double precision", "varchar(200)"};
constexpr std::array<std::string_view, 13> kMySqlTypes{"INT",     "BIGINT", "VARCHAR(200)", "DECIMAL(12, 2)", "TEXT",
                                                       "BOOLEAN", "DATE",   "DATETIME",     "TIMESTAMP",      "JSON",
                                                       "BLOB",    "DOUBLE", "CHAR(1)"};
constexpr std::array<std::string_view, 5> kSqliteTypes{"INTEGER", "TEXT", "REAL", "NUMERIC", "BLOB"};
constexpr std::array<std::string_view, 8> kAnsiTypes{"INTEGER", "BIGINT", "VARCHAR(200)", "DECIMAL(12, 2)",
                                                     "BOOLEAN", "DATE",   "TIMESTAMP",    "DOUBLE PRECISION"};

}  // namespace

std::span<const std::string_view> usualTypes(Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return kPostgresTypes;
        case Dialect::MySql: return kMySqlTypes;
        case Dialect::Sqlite: return kSqliteTypes;
        default: return kAnsiTypes;
    }
}

}  // namespace pantry::sql
