#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/data/store/column.h"
#include "core/db/drivers/mariadb/engine_types.h"
#include "core/sql/meaning/read_from.h"

namespace pantry::db::mariadb {

/// How a column's values are kept.
enum class Decoding { Text, Integer, Bits, Bytes };

[[nodiscard]] Decoding decodingOf(const MYSQL_FIELD& field);

/// The column with its type as the engine writes it: varchar(40), bigint unsigned.
[[nodiscard]] data::Column columnOf(const MYSQL_FIELD& field);

/// Whether what the server tells of a column's origin is so. Of a view it names the view, or its alias in the query,
/// beside the database of the table behind it: a table that only happens to have that name must not be taken for it.
///
/// Lifetime: views the statement. Cost: the statement is read once, and only when a column's origin is in doubt.
class TrueOrigins {
public:
    TrueOrigins(std::string_view statement, sql::Language language, std::string database);
    [[nodiscard]] bool holds(const MYSQL_FIELD& field);

private:
    std::string_view statement_;
    sql::Language language_;
    std::string database_;
    std::optional<std::vector<sql::NamedRelation>> named_;
};

}  // namespace pantry::db::mariadb
