#pragma once

#include <string>
#include <vector>

#include "core/data/view/cell_sums.h"
#include "core/data/view/result_view.h"

namespace pantry::exchange {

/// Cells of a view, for copying: those where a row and a column meet, as far as a block holds them.
struct CellRange {
    std::vector<std::size_t> rows;             ///< positions in the view, ascending
    std::vector<std::size_t> columns;          ///< in the order they are shown
    std::vector<data::CellBlock> blocks = {};  ///< what is selected; none: all of them

    [[nodiscard]] bool holds(std::size_t row, std::size_t column) const;
    [[nodiscard]] std::size_t cellCount() const;
};

/// The rows and columns that have a cell in a block; of the columns only those that are shown, in their order. Blocks
/// are kept only where they leave something out of what the rows and columns make together.
[[nodiscard]] CellRange rangeOf(std::vector<data::CellBlock> blocks, const std::vector<std::size_t>& shownColumns);

/// The range as tab-separated text, the form that spreadsheets and editors paste: values exact, NULL and what no block
/// holds empty; tabs and line breaks within a value make it quoted. Binary values as \x and hexadecimal digits.
[[nodiscard]] std::string clipboardText(const data::ResultView& view, const CellRange& range, bool hasHeadings);

}  // namespace pantry::exchange
