#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/data/store/column.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A table that holds what these columns held. `table`: quoted, as statements need it.
[[nodiscard]] std::string createTableLike(std::string_view table, const std::vector<data::Column>& columns,
                                          Dialect dialect);

/// “INSERT INTO table (columns) VALUES”, in front of the first row.
[[nodiscard]] std::string insertOpening(std::string_view table, const std::vector<data::Column>& columns,
                                        Dialect dialect);

}  // namespace pantry::sql
