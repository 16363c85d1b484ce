#pragma once

#include <algorithm>
#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/data/store/page_buffer.h"

namespace pantry::data {

enum class CellKind : std::uint8_t { Null, Integer, Real, Text, Binary };

/// A look at one cell. `bytes` is set for Text and Binary and lives as long as the chunk.
struct Cell {
    CellKind kind = CellKind::Null;
    std::int64_t integer = 0;
    double real = 0;
    std::string_view bytes = {};

    [[nodiscard]] bool isNull() const { return kind == CellKind::Null; }
};

/// The cell as text, appended to `out`: numbers in their shortest exact form, binary as its raw bytes, nothing
/// for NULL.
void appendText(std::string& out, const Cell& cell);
[[nodiscard]] std::string toText(const Cell& cell);

/// One column of a chunk: values of one kind packed, or a mixture with a tag each.
class ChunkColumn {
public:
    [[nodiscard]] Cell cell(std::size_t row) const {
        if (storage_ == Storage::AllNull || isNull(row)) return {};
        switch (storage_) {
            case Storage::Integer: return {.kind = CellKind::Integer, .integer = integers_[row]};
            case Storage::Real: return {.kind = CellKind::Real, .real = reals_[row]};
            case Storage::Text: return {.kind = CellKind::Text, .bytes = bytesAt(row)};
            case Storage::Binary: return {.kind = CellKind::Binary, .bytes = bytesAt(row)};
            default: return mixedCell(row);
        }
    }
    [[nodiscard]] std::uint64_t memoryBytes() const;
    /// The bytes of all its values behind each other, for looking through all at once; nothing for packed numbers.
    [[nodiscard]] std::string_view allBytes() const { return viewOf(bytes_); }
    /// Bytes of allBytes() that belong to the values of some rows.
    [[nodiscard]] std::size_t bytesOfRows(std::size_t first, std::size_t last) const {
        if (ends_.empty() || first >= last) return 0;
        return ends_[last - 1] - (first == 0 ? 0 : ends_[first - 1]);
    }
    /// Whether allBytes() is nothing but texts, or bytes, one after another.
    [[nodiscard]] bool isPlainBytes() const { return storage_ == Storage::Text || storage_ == Storage::Binary; }
    [[nodiscard]] bool isPlainNumbers() const { return storage_ == Storage::Integer || storage_ == Storage::Real; }
    /// The row whose value holds a byte of allBytes(), and where its value ends. Requires: isPlainBytes().
    [[nodiscard]] std::size_t rowOfByte(std::size_t byteOffset) const {
        return static_cast<std::size_t>(std::upper_bound(ends_.begin(), ends_.end(), byteOffset) - ends_.begin());
    }
    [[nodiscard]] std::size_t endOf(std::size_t row) const { return ends_[row]; }

    // For going through many values of one kind without a Cell for each.
    [[nodiscard]] bool isPlainTexts() const { return storage_ == Storage::Text; }
    [[nodiscard]] bool isPlainIntegers() const { return storage_ == Storage::Integer; }
    [[nodiscard]] bool isNull(std::size_t row) const {
        return !nulls_.empty() && (nulls_[row / 64] >> (row % 64) & 1U) != 0;
    }
    /// Requires: isPlainBytes(), and the row is not NULL.
    [[nodiscard]] std::string_view bytesAt(std::size_t row) const {
        const std::uint32_t start = row == 0 ? 0 : ends_[row - 1];
        return {bytes_.data() + start, ends_[row] - start};
    }
    /// Requires: isPlainIntegers(), and the row is not NULL.
    [[nodiscard]] std::int64_t integerAt(std::size_t row) const { return integers_[row]; }

    /// Moves what is large into a file, see PageMemory::moveTo(); how many bytes went.
    Result<std::uint64_t> moveTo(int file, std::int64_t& end) const;

private:
    friend class ChunkBuilder;
    void clear();
    enum class Storage : std::uint8_t { AllNull, Integer, Real, Text, Binary, Mixed };

    [[nodiscard]] Cell mixedCell(std::size_t row) const;

    Storage storage_ = Storage::AllNull;
    PageBuffer<std::uint64_t> nulls_;  // a bit a row; empty while there is none
    PageBuffer<std::int64_t> integers_;
    PageBuffer<double> reals_;
    PageBuffer<std::uint32_t> ends_;  // of each value in bytes_
    PageBuffer<CellKind> kinds_;      // for Mixed
    PageBuffer<char> bytes_;
};

/// A run of rows, column by column.
///
/// Threads: immutable once built.
class Chunk {
public:
    [[nodiscard]] std::size_t rowCount() const { return rowCount_; }
    [[nodiscard]] std::size_t columnCount() const { return columns_.size(); }
    [[nodiscard]] Cell cell(std::size_t row, std::size_t column) const { return columns_[column].cell(row); }
    [[nodiscard]] const ChunkColumn& column(std::size_t column) const { return columns_[column]; }
    [[nodiscard]] std::uint64_t memoryBytes() const;
    /// Moves what is large into a file at `end`; how many bytes went. Readers notice nothing. Errors: Io.
    Result<std::uint64_t> moveTo(int file, std::int64_t& end) const;

private:
    friend class ChunkBuilder;
    std::size_t rowCount_ = 0;
    std::vector<ChunkColumn> columns_;
};

using ChunkPtr = std::shared_ptr<const Chunk>;

/// Takes values as a driver reads them, row by row, and packs them into chunks. No value is boxed on the way.
///
/// Threads: one at a time.
class ChunkBuilder {
public:
    explicit ChunkBuilder(std::size_t columnCount);

    // Each row: one call for every column, in order, then endRow().
    void addNull();
    void addInteger(std::int64_t value);
    void addReal(double value);
    void addText(std::string_view value) { addBytes(value, CellKind::Text); }
    void addBinary(std::string_view value) { addBytes(value, CellKind::Binary); }
    void endRow();

    [[nodiscard]] std::size_t rowCount() const { return rowCount_; }
    /// Whether enough is gathered to hand on: some thousand rows, or some megabytes.
    [[nodiscard]] bool isFull() const { return rowCount_ >= rowsPerChunk_ || bytes_ >= kBytesPerChunk; }

    /// The rows so far as a chunk; the builder is empty afterwards.
    [[nodiscard]] ChunkPtr take();

    /// Takes back a chunk that nobody reads any more, so that the memory for rows that only pass through is asked for
    /// once. One that somebody still holds stays his.
    void reuse(ChunkPtr spent);

private:
    static constexpr std::size_t kBytesPerChunk = std::size_t{4} << 20;

    void addBytes(std::string_view value, CellKind kind);
    ChunkColumn& columnFor(CellKind kind);
    void mix(ChunkColumn& column);
    void backfill(ChunkColumn& column, std::size_t rows);
    void setNull(ChunkColumn& column) const;
    void reserveLikeLast(ChunkColumn& column, std::size_t index) const;

    std::size_t columnCount_;
    std::size_t rowsPerChunk_;
    std::size_t rowCount_ = 0;
    std::size_t at_ = 0;  // the column whose value comes next
    std::size_t bytes_ = 0;
    std::vector<ChunkColumn> columns_;
    std::vector<ChunkColumn> spare_;      // emptied, for the next chunk; none when nothing was taken back
    bool isPassing_ = false;              // chunks are taken back: their memory is not cut to what it holds
    std::size_t lastRows_ = 0;            // of the chunk before: the next one is likely to be as large
    std::vector<std::size_t> lastBytes_;  // the same for each column's bytes
};

}  // namespace pantry::data
