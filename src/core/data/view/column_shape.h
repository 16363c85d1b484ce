#pragma once

#include <optional>
#include <vector>

#include "core/base/cancellation.h"
#include "core/data/store/result_set.h"

namespace pantry::data {

/// What a column looks like from afar, for its heading.
struct ColumnShape {
    bool isDistribution = false;  ///< bars are a histogram (numbers, dates); else shares of the commonest values
    std::vector<float> bars;      ///< histogram: heights from 0 to 1; shares: parts of the rows, largest first
    float nullShare = 0;          ///< part of the rows that is NULL
};

/// Shapes of a result's columns, from a sample of at most some ten thousand rows spread over it. Columns beyond
/// `maxColumns` get none. Nothing when cancelled.
[[nodiscard]] std::optional<std::vector<ColumnShape>> shapesOf(const ResultSet& result, std::size_t maxColumns,
                                                               const base::Cancellation& cancellation);

}  // namespace pantry::data
