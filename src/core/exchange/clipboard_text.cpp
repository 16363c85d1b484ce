#include "core/exchange/clipboard_text.h"

#include <algorithm>
#include <iterator>
#include <set>

#include "core/exchange/view_row.h"
#include "core/exchange/writers/csv_writer.h"

namespace pantry::exchange {
namespace {

bool isBetween(std::size_t place, std::size_t first, std::size_t last) { return place >= first && place <= last; }

/// Where blocks begin and where they have ended.
std::set<std::size_t> rowEdges(const std::vector<data::CellBlock>& blocks) {
    std::set<std::size_t> edges;
    for (const data::CellBlock& block : blocks) edges.insert({block.top, block.bottom + 1});
    return edges;
}

/// A row of which only the selected cells are seen.
class SelectedRow final : public RowSource {
public:
    SelectedRow(const data::ResultView& view, const CellRange& range, std::size_t row)
        : row_(view, range.columns, row), range_(range), position_(row) {}
    [[nodiscard]] std::size_t columnCount() const override { return row_.columnCount(); }
    [[nodiscard]] data::Cell cell(std::size_t column) const override {
        return range_.holds(position_, range_.columns[column]) ? row_.cell(column) : data::Cell{};
    }

private:
    ViewRow row_;
    const CellRange& range_;
    std::size_t position_;
};

}  // namespace

bool CellRange::holds(std::size_t row, std::size_t column) const {
    return blocks.empty() || std::ranges::any_of(blocks, [&](const data::CellBlock& block) {
               return isBetween(row, block.top, block.bottom) && isBetween(column, block.left, block.right);
           });
}

std::size_t CellRange::cellCount() const {
    if (blocks.empty()) return rows.size() * columns.size();
    // Between two edges every row has the same cells.
    const std::set<std::size_t> edges = rowEdges(blocks);
    std::size_t count = 0;
    for (auto edge = edges.begin(); std::next(edge) != edges.end(); ++edge) {
        const auto held = std::ranges::count_if(columns, [&](std::size_t column) { return holds(*edge, column); });
        count += static_cast<std::size_t>(held) * (*std::next(edge) - *edge);
    }
    return count;
}

CellRange rangeOf(std::vector<data::CellBlock> blocks, const std::vector<std::size_t>& shownColumns) {
    CellRange range;
    if (blocks.empty()) return range;
    const auto isIn = [&](std::size_t column) {
        return std::ranges::any_of(blocks,
                                   [&](const auto& block) { return isBetween(column, block.left, block.right); });
    };
    std::ranges::copy_if(shownColumns, std::back_inserter(range.columns), isIn);
    const std::set<std::size_t> edges = rowEdges(blocks);
    for (auto edge = edges.begin(); std::next(edge) != edges.end(); ++edge) {
        const bool isHeld =
            std::ranges::any_of(blocks, [&](const auto& block) { return isBetween(*edge, block.top, block.bottom); });
        for (std::size_t row = *edge; isHeld && row < *std::next(edge); ++row) range.rows.push_back(row);
    }
    range.blocks = std::move(blocks);
    if (range.cellCount() == range.rows.size() * range.columns.size()) range.blocks.clear();
    return range;
}

std::string clipboardText(const data::ResultView& view, const CellRange& range, bool hasHeadings) {
    std::string out;
    const bool isSingleCell = range.rows.size() == 1 && range.columns.size() == 1 && !hasHeadings;
    if (isSingleCell) {  // one value is copied as it is: nobody wants quotes around it
        const data::Cell cell = view.result()->cell(view.rowAt(range.rows[0]), range.columns[0]);
        if (cell.kind != data::CellKind::Binary) return data::toText(cell);
    }
    CsvWriter writer({.delimiter = "\t", .hasHeadings = hasHeadings, .nullText = {}, .lineEnd = "\n"});
    std::vector<data::Column> columns;
    for (const std::size_t c : range.columns) columns.push_back(view.result()->columns()[c]);
    writer.begin(columns, out);
    for (const std::size_t row : range.rows) {
        if (range.blocks.empty()) {
            writer.row(ViewRow(view, range.columns, row), out);
        } else {
            writer.row(SelectedRow(view, range, row), out);
        }
    }
    if (out.ends_with('\n')) out.pop_back();
    return out;
}

}  // namespace pantry::exchange
