#pragma once

#include <mysql.h>

#include <string>

#include "core/data/column.h"

// Only for .cpp files of the MariaDB driver.

namespace pantry::db::mariadb {

/// How a column's values are kept.
enum class Decoding { Text, Integer, Bits, Bytes };

[[nodiscard]] Decoding decodingOf(const MYSQL_FIELD& field);

/// The column with its type as the engine writes it: varchar(40), bigint unsigned.
[[nodiscard]] data::Column columnOf(const MYSQL_FIELD& field);

}  // namespace pantry::db::mariadb
