#pragma once

#include <deque>

#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// Rows as a table for the eye: columns below each other, numbers at the right, NULL as null, values of several lines
/// on one. Widths come from the first thousand rows, so that any number of rows takes little memory; a longer value
/// behind them pushes its line to the right, and nothing is cut.
class AlignedWriter final : public RowWriter {
public:
    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;

private:
    [[nodiscard]] std::vector<std::string> cellsOf(const RowSource& source) const;
    void settle(std::string& out);
    void line(const std::vector<std::string>& cells, std::string& out) const;

    std::vector<std::string> names_;
    std::vector<char> areNumbers_;
    std::vector<std::size_t> widths_;
    std::vector<std::vector<std::string>> waiting_;  // until the widths are settled
    bool isSettled_ = false;
};

}  // namespace pantry::exchange
