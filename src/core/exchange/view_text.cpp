#include "core/exchange/view_text.h"

#include <algorithm>

#include "core/exchange/json_text.h"
#include "core/exchange/view_row.h"
#include "core/exchange/writers/aligned_writer.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kRowsBetweenChecks = 512;

/// The rows that a view shows, written whole; nothing when cancelled.
std::optional<std::string> writtenBy(RowWriter& writer, const data::ResultView& view,
                                     const std::vector<std::size_t>& columns, std::size_t maxRows,
                                     const base::Cancellation& cancellation) {
    std::vector<data::Column> named;
    for (const std::size_t c : columns) named.push_back(view.result()->columns()[c]);
    std::string out;
    writer.begin(named, out);
    for (std::size_t r = 0; r < std::min(view.rowCount(), maxRows); ++r) {
        if (r % kRowsBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
        writer.row(ViewRow(view, columns, r), out);
    }
    writer.end(out);
    return out;
}

}  // namespace

std::optional<std::string> alignedText(const data::ResultView& view, const std::vector<std::size_t>& columns,
                                       std::size_t maxRows, const base::Cancellation& cancellation,
                                       std::size_t maxCellBytes) {
    AlignedWriter writer({.rowsThatSetWidths = maxRows, .mostCellBytes = maxCellBytes});
    return writtenBy(writer, view, columns, maxRows, cancellation);
}

std::optional<std::string> jsonOf(const data::ResultView& view, const std::vector<std::size_t>& columns,
                                  std::size_t maxRows, const base::Cancellation& cancellation) {
    JsonWriter writer;
    return writtenBy(writer, view, columns, maxRows, cancellation);
}

}  // namespace pantry::exchange
