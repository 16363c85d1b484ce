#include "core/data/cell_sums.h"

#include <fmt/format.h>

#include <charconv>

#include "core/base/text.h"

namespace pantry::data {
namespace {

constexpr std::size_t kRowsBetweenChecks = 1024;

void add(CellSums& sums, const Cell& cell, ColumnType type) {
    ++sums.cellCount;
    if (cell.isNull()) ++sums.nullCount;
    double value = cell.real;
    if (cell.kind == CellKind::Integer) {
        value = static_cast<double>(cell.integer);
        sums.isExact = sums.isExact && !__builtin_add_overflow(sums.integerSum, cell.integer, &sums.integerSum);
    } else if (cell.kind == CellKind::Text && isNumeric(type)) {
        const auto end = cell.bytes.data() + cell.bytes.size();
        if (std::from_chars(cell.bytes.data(), end, value).ptr != end) return;
        sums.isExact = false;
    } else if (cell.kind == CellKind::Real) {
        sums.isExact = false;
    } else {
        return;
    }
    ++sums.numberCount;
    sums.sum += value;
}

}  // namespace

std::optional<CellSums> sumCells(const ResultView& view, const std::vector<CellBlock>& blocks,
                                 const base::Cancellation& cancellation) {
    CellSums sums;
    const ResultSet& result = *view.result();
    for (const CellBlock& block : blocks) {
        for (std::size_t row = block.top; row <= block.bottom && row < view.rowCount(); ++row) {
            if (row % kRowsBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
            for (std::size_t column = block.left; column <= block.right; ++column) {
                add(sums, result.cell(view.rowAt(row), column), result.columns()[column].type);
            }
        }
    }
    return sums;
}

std::string describe(const CellSums& sums) {
    std::string out = base::counted(sums.cellCount, "cell", "cells");
    if (sums.nullCount > 0) out += fmt::format(" · {} null", base::grouped(sums.nullCount));
    if (sums.numberCount == 0) return out;
    out += " · sum " + (sums.isExact ? base::grouped(sums.integerSum) : fmt::format("{:.6g}", sums.sum));
    return out + fmt::format(" · mean {:.6g}", sums.sum / static_cast<double>(sums.numberCount));
}

}  // namespace pantry::data
