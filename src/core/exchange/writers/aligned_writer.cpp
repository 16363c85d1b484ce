#include "core/exchange/writers/aligned_writer.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/utf8.h"
#include "core/exchange/table_text.h"

namespace pantry::exchange {
namespace {

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
        sides_.push_back(column.type == data::ColumnType::Unknown ? Side::Unknown
                         : data::isNumeric(column.type)           ? Side::Right
                                                                  : Side::Left);
    }
}

std::vector<std::string> AlignedWriter::cellsOf(const RowSource& source) const {
    std::vector<std::string> cells(names_.size());
    for (std::size_t i = 0; i < cells.size(); ++i) cells[i] = displayText(source.cell(i), options_.mostCellBytes);
    return cells;
}

void AlignedWriter::row(const RowSource& source, std::string& out) {
    if (isSettled_) return line(cellsOf(source), out);
    noteKinds(source);
    waiting_.push_back(cellsOf(source));
    if (waiting_.size() == options_.rowsThatSetWidths) settle(out);
}

/// An expression has no declared type: its first value tells.
void AlignedWriter::noteKinds(const RowSource& source) {
    for (std::size_t i = 0; i < sides_.size(); ++i) {
        if (sides_[i] != Side::Unknown) continue;
        const data::CellKind kind = source.cell(i).kind;
        if (kind == data::CellKind::Null) continue;
        const bool isNumber = kind == data::CellKind::Integer || kind == data::CellKind::Real;
        sides_[i] = isNumber ? Side::Right : Side::Left;
    }
}

void AlignedWriter::settle(std::string& out) {
    isSettled_ = true;
    for (std::size_t i = 0; i < names_.size(); ++i) {
        std::size_t width = base::displayWidth(names_[i]);
        for (const auto& cells : waiting_) width = std::max(width, base::displayWidth(cells[i]));
        widths_.push_back(std::min(width, std::max(options_.widestColumn, base::displayWidth(names_[i]))));
    }
    pushed_.assign(names_.size(), 0);
    line(names_, out);
    for (std::size_t i = 0; i < widths_.size(); ++i) {
        if (i > 0) out += "  ";
        for (std::size_t n = 0; n < widths_[i]; ++n) out += "─";
    }
    out += "\n";
    for (const auto& cells : waiting_) line(cells, out);
    waiting_.clear();
}

void AlignedWriter::line(const std::vector<std::string>& cells, std::string& out) {
    for (std::size_t i = 0; i < cells.size(); ++i) {
        if (i > 0) out += "  ";
        appendPadded(out, cells[i], widths_[i], sides_[i] == Side::Right);
        pushed_[i] += base::displayWidth(cells[i]) > widths_[i] && i + 1 < cells.size() ? 1 : 0;
    }
    while (out.ends_with(' ')) out.pop_back();
    out += "\n";
}

std::string AlignedWriter::remark() const {
    std::string columns;
    for (std::size_t i = 0; i < pushed_.size(); ++i) {
        if (pushed_[i] > 0) columns += (columns.empty() ? "" : ", ") + names_[i];
    }
    if (columns.empty()) return {};
    return fmt::format("Values longer than their column push what follows to the right: {}.", columns);
}

void AlignedWriter::end(std::string& out) {
    if (!isSettled_) settle(out);
}

}  // namespace pantry::exchange
