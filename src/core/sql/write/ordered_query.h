#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A column of a query's result by which its rows are to come.
struct OrderWish {
    std::size_t column = 0;  ///< counted from 0
    bool isDescending = false;
};

/// The query with another ORDER BY, so that its server orders all its rows. An order of its own gives way, unless it
/// decides which rows there are (LIMIT): then the query is put into another one. `columns` are the names of its result;
/// one that is there twice is meant by its number.
///
/// Nothing for what is no query, locks rows, writes somewhere (INTO) or cannot be read.
[[nodiscard]] std::optional<std::string> orderedQuery(std::string_view statement, const Language& language,
                                                      const std::vector<std::string>& columns,
                                                      const std::vector<OrderWish>& order);

}  // namespace pantry::sql
