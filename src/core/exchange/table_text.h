#pragma once

#include <string>

#include "core/data/store/result_set.h"

namespace pantry::exchange {

/// Rows as a table for the eye: columns aligned, numbers at the right, NULL as null, long values cut with an …, line
/// breaks shown as ⏎. At most `maxRows` rows; a last line says how many there are in all.
[[nodiscard]] std::string tableText(const data::ResultSet& result, std::size_t maxRows, std::size_t maxCellWidth = 60);

/// A cell on one line, as the eye wants it: control characters as symbols, binary as a size.
[[nodiscard]] std::string displayText(const data::Cell& cell, std::size_t maxBytes);

}  // namespace pantry::exchange
