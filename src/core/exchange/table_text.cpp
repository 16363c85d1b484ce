#include "core/exchange/table_text.h"

#include <fmt/format.h>

#include <numeric>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/exchange/view_text.h"

namespace pantry::exchange {
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
    std::vector<std::size_t> columns(result.columns().size());
    std::iota(columns.begin(), columns.end(), std::size_t{0});
    // The view lives no longer than this call, and so does not own the result.
    const data::ResultView view(data::ResultSetPtr(std::shared_ptr<const void>(), &result));
    return alignedText(view, columns, maxRows, {}, maxCellWidth).value_or("");
}

}  // namespace pantry::exchange
