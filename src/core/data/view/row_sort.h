#pragma once

#include <cstdint>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/progress.h"
#include "core/data/view/value_order.h"

namespace pantry::data {

/// How rows are ordered by one column.
struct RowOrder {
    std::size_t column = 0;
    bool isDescending = false;
    bool areNullsFirst = false;
};

/// Numbers of rows of a result.
using Rows = std::vector<std::uint32_t>;

/// Puts `rows` into the order of one column; rows that are equal in it stay as they stood. False when cancelled, and
/// then in no particular order. Requires: every row is below `rowCount`, which the result has published.
///
/// Texts are compared by their bytes, or by the keys that `textKey` makes of them when there is one.
/// Cost: linear for values whose coarse keys differ (least significant digit radix sort, Knuth 5.2.5).
[[nodiscard]] bool sortRows(Rows& rows, const ResultSet& result, std::size_t rowCount, const RowOrder& order,
                            const TextKey& textKey, const base::Cancellation& cancellation,
                            const base::Progress& progress = {});

}  // namespace pantry::data
