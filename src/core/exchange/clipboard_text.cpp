#include "core/exchange/clipboard_text.h"

#include "core/exchange/view_row.h"
#include "core/exchange/writers/csv_writer.h"

namespace pantry::exchange {
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
    for (const std::size_t row : range.rows) writer.row(ViewRow(view, range.columns, row), out);
    if (out.ends_with('\n')) out.pop_back();
    return out;
}

}  // namespace pantry::exchange
