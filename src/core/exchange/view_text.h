#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/data/view/result_view.h"

namespace pantry::exchange {

// The rows that a view shows, with some of its columns in the order that is wanted, written out whole. Nothing when
// cancelled.

/// In columns below each other, numbers at the right, NULL as null, values of several lines on one.
[[nodiscard]] std::optional<std::string> alignedText(const data::ResultView& view,
                                                     const std::vector<std::size_t>& columns, std::size_t maxRows,
                                                     const base::Cancellation& cancellation,
                                                     std::size_t maxCellBytes = 2000);

/// As a JSON array of objects; see JsonWriter for what becomes of values.
[[nodiscard]] std::optional<std::string> jsonOf(const data::ResultView& view, const std::vector<std::size_t>& columns,
                                                std::size_t maxRows, const base::Cancellation& cancellation);

}  // namespace pantry::exchange
