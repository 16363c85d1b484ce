#pragma once

#include <string>

#include "core/catalog/catalog.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A query for the shape of a column's values, over all rows of its table: how many, how many of them different, the
/// least and the greatest, the most frequent. Rows of seven columns, four numbers and three texts:
/// - one with part 0: rows, values (not NULL), different ones, least, greatest, average (of numbers)
/// - up to kFrequentValues with part 1, the most frequent first: rows, 0, 0, the value (NULL among them)
/// Of bytes it tells their number; long texts are cut.
inline constexpr int kFrequentValues = 8;
[[nodiscard]] std::string shapeQuery(const catalog::Relation& relation, const catalog::Column& column, Dialect dialect);

}  // namespace pantry::sql
