#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

struct AlignedOptions {
    std::size_t rowsThatSetWidths = 1000;
    std::size_t mostCellBytes = static_cast<std::size_t>(-1);  ///< of a value; what is longer is cut with an …
    std::size_t widestColumn = 80;  ///< in characters; a longer value pushes its line to the right
};

/// Rows as a table for the eye: columns below each other, numbers at the right, NULL as null, values of several lines
/// on one. Widths come from the first rows, so that any number of rows takes little memory, and have a limit, so that a
/// long value does not pad all others to its length; a longer one pushes its line to the right, and remark() says so.
class AlignedWriter final : public RowWriter {
public:
    explicit AlignedWriter(AlignedOptions options = {}) : options_(options) {}

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;
    [[nodiscard]] std::string remark() const override;

private:
    [[nodiscard]] std::vector<std::string> cellsOf(const RowSource& source) const;
    void noteKinds(const RowSource& source);
    void settle(std::string& out);
    void line(const std::vector<std::string>& cells, std::string& out);

    /// Where a column's values stand: at the right when its type says so, or, without a type, when they are numbers.
    enum class Side : std::uint8_t { Left, Right, Unknown };

    AlignedOptions options_;
    std::vector<std::string> names_;
    std::vector<Side> sides_;
    std::vector<std::size_t> widths_;
    std::vector<std::vector<std::string>> waiting_;  // until the widths are settled
    std::vector<std::size_t> pushed_;                // values that were wider, by column
    bool isSettled_ = false;
};

}  // namespace pantry::exchange
