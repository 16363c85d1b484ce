#include "core/exchange/writers/record_writer.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/utf8.h"
#include "core/exchange/cell_text.h"

namespace pantry::exchange {

void RecordWriter::begin(const std::vector<data::Column>& columns, std::string& /*out*/) {
    for (const data::Column& column : columns) width_ = std::max(width_, base::displayWidth(column.name));
    for (const data::Column& column : columns) {
        names_.push_back(column.name + std::string(width_ - base::displayWidth(column.name), ' '));
    }
}

void RecordWriter::row(const RowSource& source, std::string& out) {
    out += fmt::format("── row {} ──\n", ++rows_);
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        const data::Cell cell = source.cell(i);
        out += names_[i];
        out += "  ";
        for (const char c : cell.isNull() ? std::string("null") : cellText(cell)) {
            out += c;
            if (c == '\n') out.append(width_ + 2, ' ');
        }
        out += "\n";
    }
}

void RecordWriter::end(std::string& /*out*/) {}

}  // namespace pantry::exchange
