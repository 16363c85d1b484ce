#pragma once

#include <functional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/data/store/chunk.h"
#include "core/data/store/column.h"

namespace pantry::exchange {

/// The cells of one row, by column number.
class RowSource {
public:
    virtual ~RowSource() = default;
    [[nodiscard]] virtual std::size_t columnCount() const = 0;
    [[nodiscard]] virtual data::Cell cell(std::size_t column) const = 0;
};

/// Some columns of a result, by their numbers, in the order in which they are written.
using ColumnOrder = std::span<const std::size_t>;

/// A row of a chunk.
///
/// Lifetime: views both.
class ChunkRow final : public RowSource {
public:
    ChunkRow(const data::Chunk& chunk, ColumnOrder columns, std::size_t row)
        : chunk_(chunk), columns_(columns), row_(row) {}
    [[nodiscard]] std::size_t columnCount() const override { return columns_.size(); }
    [[nodiscard]] data::Cell cell(std::size_t column) const override { return chunk_.cell(row_, columns_[column]); }

private:
    const data::Chunk& chunk_;
    ColumnOrder columns_;
    std::size_t row_;
};

/// Turns rows into the bytes of a file format, appended to a buffer that the caller empties.
///
/// Threads: one at a time.
class RowWriter {
public:
    virtual ~RowWriter() = default;
    virtual void begin(const std::vector<data::Column>& columns, std::string& out) = 0;
    virtual void row(const RowSource& source, std::string& out) = 0;
    /// The first `count` rows of a chunk with these columns; the same as row() for each of them.
    virtual void rows(const data::Chunk& chunk, std::size_t count, ColumnOrder columns, std::string& out) {
        for (std::size_t i = 0; i < count; ++i) row(ChunkRow(chunk, columns, i), out);
    }
    virtual void end(std::string& out) = 0;

    /// What could not be written so far; rows after it are in vain.
    [[nodiscard]] virtual Status status() const { return {}; }
    /// After end(): the bytes of a form that can be put together only then, in pieces. Errors: Io, and those of `take`.
    virtual Status handOver(const std::function<Status(std::string_view piece)>& /*take*/) { return {}; }
    /// What the user should know of what was written, as sentences; empty when there is nothing to tell.
    [[nodiscard]] virtual std::string remark() const { return {}; }
};

}  // namespace pantry::exchange
