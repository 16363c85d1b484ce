#pragma once

#include <string>
#include <vector>

#include "core/data/result_view.h"

namespace pantry::exchange {

/// A rectangle of a view, for copying.
struct CellRange {
    std::vector<std::size_t> rows;     ///< positions in the view, ascending
    std::vector<std::size_t> columns;  ///< in the order they are shown
};

/// The range as tab-separated text, the form that spreadsheets and editors paste: values exact, NULL empty; tabs
/// and line breaks within a value make it quoted. Binary values as \x and hexadecimal digits.
[[nodiscard]] std::string clipboardText(const data::ResultView& view, const CellRange& range, bool hasHeadings);

}  // namespace pantry::exchange
