#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// An expression of a default, a check or a generated column as another dialect writes it: names in its quotes, casts
/// left out, the moment and the like by its words. Nothing when it says something that the other may not understand.
/// Within one dialect it stays as it is.
[[nodiscard]] std::optional<std::string> expressionIn(std::string_view expression, Dialect from, Dialect to);

/// An expression in which a column has another name.
[[nodiscard]] std::string withColumnRenamed(std::string_view expression, std::string_view was, std::string_view now,
                                            Dialect dialect);

}  // namespace pantry::sql
