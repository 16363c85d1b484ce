#pragma once

#include <string>

#include "core/data/column.h"
#include "core/db/drivers/mariadb/engine_types.h"

namespace pantry::db::mariadb {

/// How a column's values are kept.
enum class Decoding { Text, Integer, Bits, Bytes };

[[nodiscard]] Decoding decodingOf(const MYSQL_FIELD& field);

/// The column with its type as the engine writes it: varchar(40), bigint unsigned.
[[nodiscard]] data::Column columnOf(const MYSQL_FIELD& field);

}  // namespace pantry::db::mariadb
