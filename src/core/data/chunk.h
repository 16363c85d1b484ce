#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

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
    [[nodiscard]] std::string_view allBytes() const { return bytes_; }

private:
    friend class ChunkBuilder;
    enum class Storage : std::uint8_t { AllNull, Integer, Real, Text, Binary, Mixed };

    [[nodiscard]] Cell mixedCell(std::size_t row) const;
    [[nodiscard]] bool isNull(std::size_t row) const {
        return !nulls_.empty() && (nulls_[row / 64] >> (row % 64) & 1U) != 0;
    }
    [[nodiscard]] std::string_view bytesAt(std::size_t row) const {
        const std::uint32_t start = row == 0 ? 0 : ends_[row - 1];
        return std::string_view(bytes_).substr(start, ends_[row] - start);
    }

    Storage storage_ = Storage::AllNull;
    std::vector<std::uint64_t> nulls_;  // a bit a row; empty while there is none
    std::vector<std::int64_t> integers_;
    std::vector<double> reals_;
    std::vector<std::uint32_t> ends_;  // of each value in bytes_
    std::vector<CellKind> kinds_;      // for Mixed
    std::string bytes_;
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
    std::size_t lastRows_ = 0;            // of the chunk before: the next one is likely to be as large
    std::vector<std::size_t> lastBytes_;  // the same for each column's bytes
};

}  // namespace pantry::data
