#include "core/exchange/view_text.h"

#include <algorithm>

#include "core/base/utf8.h"
#include "core/exchange/json_text.h"
#include "core/exchange/table_text.h"
#include "core/exchange/view_row.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kRowsBetweenChecks = 512;

std::string padded(const std::string& text, std::size_t width, bool atRight) {
    const std::size_t own = base::displayWidth(text);
    const std::string blanks(width > own ? width - own : 0, ' ');
    return atRight ? blanks + text : text + blanks;
}

std::string withoutTrailingBlanks(std::string line) {
    while (!line.empty() && line.back() == ' ') line.pop_back();
    return line + "\n";
}

/// Whether a column's values stand at the right.
bool standsAtRight(const data::ResultView& view, std::size_t column, std::size_t rows) {
    const data::ColumnType type = view.result()->columns()[column].type;
    if (type != data::ColumnType::Unknown) return data::isNumeric(type);
    bool isNumber = false;  // an expression has no declared type: its values tell
    for (std::size_t r = 0; r < rows; ++r) {
        const data::Cell cell = view.result()->cell(view.rowAt(r), column);
        if (!cell.isNull()) isNumber = cell.kind == data::CellKind::Integer || cell.kind == data::CellKind::Real;
    }
    return isNumber;
}

}  // namespace

std::optional<std::string> alignedText(const data::ResultView& view, const std::vector<std::size_t>& columns,
                                       std::size_t maxRows, const base::Cancellation& cancellation,
                                       std::size_t maxCellBytes) {
    const std::size_t rows = std::min(view.rowCount(), maxRows);
    std::vector<std::vector<std::string>> cells(rows);
    std::vector<std::size_t> widths;
    std::vector<bool> atRight;
    for (const std::size_t column : columns) {
        widths.push_back(base::displayWidth(view.result()->columns()[column].name));
        for (std::size_t r = 0; r < rows; ++r) {
            if (r % kRowsBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
            cells[r].push_back(displayText(view.result()->cell(view.rowAt(r), column), maxCellBytes));
            widths.back() = std::max(widths.back(), base::displayWidth(cells[r].back()));
        }
        atRight.push_back(standsAtRight(view, column, rows));
    }
    const auto line = [&](const auto& textOf) {
        std::string out;
        for (std::size_t c = 0; c < columns.size(); ++c) {
            if (c > 0) out += "  ";
            out += padded(textOf(c), widths[c], atRight[c]);
        }
        return withoutTrailingBlanks(std::move(out));
    };
    std::string out = line([&](std::size_t c) { return view.result()->columns()[columns[c]].name; });
    std::string rule;
    for (std::size_t c = 0; c < columns.size(); ++c) {
        if (c > 0) rule += "  ";
        for (std::size_t i = 0; i < widths[c]; ++i) rule += "─";
    }
    out += rule + "\n";
    for (std::size_t r = 0; r < rows; ++r) out += line([&](std::size_t c) { return cells[r][c]; });
    return out;
}

std::optional<std::string> jsonOf(const data::ResultView& view, const std::vector<std::size_t>& columns,
                                  std::size_t maxRows, const base::Cancellation& cancellation) {
    std::vector<data::Column> named;
    for (const std::size_t c : columns) named.push_back(view.result()->columns()[c]);
    std::string out;
    JsonWriter writer;
    writer.begin(named, out);
    for (std::size_t r = 0; r < std::min(view.rowCount(), maxRows); ++r) {
        if (r % kRowsBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
        writer.row(ViewRow(view, columns, r), out);
    }
    writer.end(out);
    return out;
}

}  // namespace pantry::exchange
