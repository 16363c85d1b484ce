#pragma once

#include <numeric>
#include <vector>

#include "core/exchange/writers/row_writer.h"

namespace pantry::test {

/// A row of a chunk with all its columns.
class WholeRow final : public exchange::RowSource {
public:
    WholeRow(const data::Chunk& chunk, std::size_t row) : chunk_(chunk), row_(row) {}
    [[nodiscard]] std::size_t columnCount() const override { return chunk_.columnCount(); }
    [[nodiscard]] data::Cell cell(std::size_t column) const override { return chunk_.cell(row_, column); }

private:
    const data::Chunk& chunk_;
    std::size_t row_;
};

inline WholeRow rowOf(const data::Chunk& chunk, std::size_t row) { return {chunk, row}; }

}  // namespace pantry::test
