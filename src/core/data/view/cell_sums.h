#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/data/view/result_view.h"

namespace pantry::data {

/// A rectangle of a view, borders included.
struct CellBlock {
    std::size_t top = 0;
    std::size_t bottom = 0;
    std::size_t left = 0;
    std::size_t right = 0;
};

/// What a selection of cells adds up to. Texts are empty where there is nothing to tell.
struct CellSums {
    std::int64_t cellCount = 0;
    std::int64_t nullCount = 0;
    std::int64_t numberCount = 0;
    std::size_t distinct = 0;  ///< different values other than NULL
    bool isDistinctEstimated = false;
    bool isExact = true;  ///< no summand was a floating-point number
    std::string sum;      ///< of the numbers; with all its digits when exact
    std::string mean;
    std::string minimum;  ///< when all columns that were selected are ordered alike
    std::string maximum;
};

/// Adds numbers up; decimals that came as text count as numbers. Nothing when cancelled.
[[nodiscard]] std::optional<CellSums> sumCells(const ResultView& view, const std::vector<CellBlock>& blocks,
                                               const base::Cancellation& cancellation);

/// “3 cells · sum 1 075 · mean 358.3 · from 1 to 900”, for the status line.
[[nodiscard]] std::string describe(const CellSums& sums);

}  // namespace pantry::data
