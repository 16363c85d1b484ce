#include "core/exchange/table_text.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::exchange {
namespace {

std::string padded(const std::string& text, std::size_t width, bool atRight) {
    const std::size_t own = base::displayWidth(text);
    const std::string blanks(width > own ? width - own : 0, ' ');
    return atRight ? blanks + text : text + blanks;
}

std::string withoutTrailingBlanks(std::string line) {
    while (!line.empty() && line.back() == ' ') line.pop_back();
    return line + "\n";
}

}  // namespace

std::string displayText(const data::Cell& cell, std::size_t maxBytes) {
    if (cell.isNull()) return "null";
    if (cell.kind == data::CellKind::Binary) return fmt::format("binary, {}", base::readableBytes(cell.bytes.size()));
    if (cell.kind != data::CellKind::Text) return data::toText(cell);
    const std::string_view text = base::prefixOf(cell.bytes, maxBytes);
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const base::CodePoint point = base::decodeAt(text, i);
        i += point.length;
        switch (point.value) {
            case '\n': out += "⏎"; break;
            case '\r': break;
            case '\t': out += "⇥"; break;
            default: base::appendUtf8(out, point.value < 0x20 ? 0x2400 + point.value : point.value);
        }
    }
    if (text.size() < cell.bytes.size()) out += "…";
    return out;
}

std::string tableText(const data::ResultSet& result, std::size_t maxRows, std::size_t maxCellWidth) {
    const auto& columns = result.columns();
    const std::size_t rows = std::min(result.rowCount(), maxRows);
    std::vector<std::vector<std::string>> cells(rows);
    std::vector<std::size_t> widths;
    std::vector<bool> atRight;
    for (std::size_t c = 0; c < columns.size(); ++c) {
        widths.push_back(base::displayWidth(columns[c].name));
        bool isNumber = data::isNumeric(columns[c].type);
        for (std::size_t r = 0; r < rows; ++r) {
            const data::Cell cell = result.cell(r, c);
            if (columns[c].type == data::ColumnType::Unknown && !cell.isNull()) {
                isNumber = cell.kind == data::CellKind::Integer || cell.kind == data::CellKind::Real;
            }
            cells[r].push_back(displayText(cell, maxCellWidth));
            widths[c] = std::max(widths[c], base::displayWidth(cells[r].back()));
        }
        atRight.push_back(isNumber);
    }
    const auto line = [&](const auto& textOf) {
        std::string out;
        for (std::size_t c = 0; c < columns.size(); ++c) {
            if (c > 0) out += "  ";
            out += padded(textOf(c), widths[c], atRight[c]);
        }
        return withoutTrailingBlanks(std::move(out));
    };
    std::string out = line([&](std::size_t c) { return columns[c].name; });
    std::string rule;
    for (std::size_t c = 0; c < columns.size(); ++c) {
        if (c > 0) rule += "  ";
        for (std::size_t i = 0; i < widths[c]; ++i) rule += "─";
    }
    out += rule + "\n";
    for (std::size_t r = 0; r < rows; ++r) out += line([&](std::size_t c) { return cells[r][c]; });
    return out;
}

}  // namespace pantry::exchange
