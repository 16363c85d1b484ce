#include "core/exchange/writers/aligned_writer.h"

#include <algorithm>

#include "core/base/utf8.h"
#include "core/exchange/table_text.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kRowsThatSetWidths = 1000;
constexpr std::size_t kNothingCut = static_cast<std::size_t>(-1);

void appendPadded(std::string& out, const std::string& text, std::size_t width, bool atRight) {
    const std::size_t own = base::displayWidth(text);
    const std::size_t blanks = width > own ? width - own : 0;
    if (atRight) out.append(blanks, ' ');
    out += text;
    if (!atRight) out.append(blanks, ' ');
}

}  // namespace

void AlignedWriter::begin(const std::vector<data::Column>& columns, std::string& /*out*/) {
    for (const data::Column& column : columns) {
        names_.push_back(column.name);
        areNumbers_.push_back(data::isNumeric(column.type) ? 1 : 0);
    }
}

std::vector<std::string> AlignedWriter::cellsOf(const RowSource& source) const {
    std::vector<std::string> cells(names_.size());
    for (std::size_t i = 0; i < cells.size(); ++i) cells[i] = displayText(source.cell(i), kNothingCut);
    return cells;
}

void AlignedWriter::row(const RowSource& source, std::string& out) {
    if (isSettled_) return line(cellsOf(source), out);
    waiting_.push_back(cellsOf(source));
    if (waiting_.size() == kRowsThatSetWidths) settle(out);
}

void AlignedWriter::settle(std::string& out) {
    isSettled_ = true;
    for (std::size_t i = 0; i < names_.size(); ++i) {
        std::size_t width = base::displayWidth(names_[i]);
        for (const auto& cells : waiting_) width = std::max(width, base::displayWidth(cells[i]));
        widths_.push_back(width);
    }
    line(names_, out);
    for (std::size_t i = 0; i < widths_.size(); ++i) {
        if (i > 0) out += "  ";
        for (std::size_t n = 0; n < widths_[i]; ++n) out += "─";
    }
    out += "\n";
    for (const auto& cells : waiting_) line(cells, out);
    waiting_.clear();
}

void AlignedWriter::line(const std::vector<std::string>& cells, std::string& out) const {
    for (std::size_t i = 0; i < cells.size(); ++i) {
        if (i > 0) out += "  ";
        appendPadded(out, cells[i], widths_[i], areNumbers_[i] != 0);
    }
    while (out.ends_with(' ')) out.pop_back();
    out += "\n";
}

void AlignedWriter::end(std::string& out) {
    if (!isSettled_) settle(out);
}

}  // namespace pantry::exchange
