#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/data/chunk.h"
#include "core/data/column.h"

namespace pantry::exchange {

/// The cells of one row, by column number.
class RowSource {
public:
    virtual ~RowSource() = default;
    [[nodiscard]] virtual std::size_t columnCount() const = 0;
    [[nodiscard]] virtual data::Cell cell(std::size_t column) const = 0;
};

/// A row of a chunk.
class ChunkRow final : public RowSource {
public:
    ChunkRow(const data::Chunk& chunk, std::size_t row) : chunk_(chunk), row_(row) {}
    [[nodiscard]] std::size_t columnCount() const override { return chunk_.columnCount(); }
    [[nodiscard]] data::Cell cell(std::size_t column) const override { return chunk_.cell(row_, column); }

private:
    const data::Chunk& chunk_;
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
    /// The first `count` rows of a chunk; the same as row() for each of them.
    virtual void rows(const data::Chunk& chunk, std::size_t count, std::string& out) {
        for (std::size_t i = 0; i < count; ++i) row(ChunkRow(chunk, i), out);
    }
    virtual void end(std::string& out) = 0;
    /// Characters that the format's encoding could not hold.
    [[nodiscard]] virtual std::size_t lostCharacters() const { return 0; }
};

}  // namespace pantry::exchange
