#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// What stands behind the columns of a CREATE TABLE statement and can be changed afterwards, as a form shows it:
/// ENGINE=InnoDB DEFAULT CHARSET=utf8mb4, or WITH (fillfactor=70) TABLESPACE fast. What counts up by itself, comments
/// and partitions are left out. MariaDB and PostgreSQL; of other dialects nothing.
[[nodiscard]] std::string optionsIn(std::string_view statement, Dialect dialect);

/// The clauses of ALTER TABLE, one for each statement, that make the options `after` of `before`; only what differs is
/// written, since an engine may build a table anew for an option that it has already.
[[nodiscard]] std::vector<std::string> optionChanges(std::string_view before, std::string_view after, Dialect dialect);

}  // namespace pantry::sql
