#pragma once

#include <atomic>
#include <cstddef>
#include <filesystem>
#include <memory>
#include <vector>

#include "core/data/store/chunk.h"
#include "core/data/store/column.h"

namespace pantry::data {

class TemporaryFile;

/// The rows that one statement returned, as the server sent them.
///
/// Ownership: owns its cells; a Cell's bytes live as long as this ResultSet.
/// Threads:   one writer appends; any number of readers see the rows published so far, without locks.
/// Cost:      cell() is logarithmic in the number of chunks and allocates nothing.
/// Left out:  order, filter and display, which belong to a ResultView.
class ResultSet {
public:
    explicit ResultSet(std::vector<Column> columns);
    ~ResultSet();
    ResultSet(const ResultSet&) = delete;
    ResultSet& operator=(const ResultSet&) = delete;

    [[nodiscard]] const std::vector<Column>& columns() const { return columns_; }

    /// Rows published so far; never shrinks.
    [[nodiscard]] std::size_t rowCount() const { return rowCount_.load(std::memory_order_acquire); }

    /// Requires: row < rowCount() and column < columns().size(), both counted from 0.
    [[nodiscard]] Cell cell(std::size_t row, std::size_t column) const;

    /// Chunks published so far, in order; for passes over everything.
    [[nodiscard]] std::size_t chunkCount() const { return chunkCount_.load(std::memory_order_acquire); }
    [[nodiscard]] const Chunk& chunk(std::size_t index) const { return *slot(index).chunk; }
    [[nodiscard]] std::size_t firstRowOf(std::size_t chunkIndex) const { return slot(chunkIndex).firstRow; }

    /// What its rows take in memory, without those that were moved to disk.
    [[nodiscard]] std::uint64_t memoryBytes() const { return memoryBytes_.load(std::memory_order_relaxed); }
    [[nodiscard]] std::uint64_t diskBytes() const { return diskBytes_.load(std::memory_order_relaxed); }

    /// Moves at least `wanted` bytes of the rows published so far, if there are as many, into a file in `folder` that
    /// nobody else can open and that goes when this does. Reading goes on as before. One at a time; not for the
    /// window's thread. Errors: Io; what was not moved stays in memory.
    Status moveToDisk(const std::filesystem::path& folder, std::uint64_t wanted) const;

    /// Publishes a chunk. Only the writer calls this.
    void append(ChunkPtr chunk);

private:
    struct Slot {
        std::size_t firstRow = 0;
        ChunkPtr chunk;
    };
    // Slots stand in blocks that never move, so that readers need no lock while the writer adds one.
    static constexpr std::size_t kSlotsPerBlock = 1024;
    static constexpr std::size_t kBlocks = 4096;
    [[nodiscard]] const Slot& slot(std::size_t index) const {
        return blocks_[index / kSlotsPerBlock].load(std::memory_order_acquire)[index % kSlotsPerBlock];
    }

    std::vector<Column> columns_;
    std::vector<std::atomic<Slot*>> blocks_;
    std::atomic<std::size_t> chunkCount_{0};
    std::atomic<std::size_t> rowCount_{0};
    mutable std::atomic<std::uint64_t> memoryBytes_{0};
    mutable std::atomic<std::uint64_t> diskBytes_{0};
    mutable std::size_t movedChunks_ = 0;          // of moveToDisk() only
    mutable std::int64_t endOnDisk_ = 0;           // of moveToDisk() only
    mutable std::unique_ptr<TemporaryFile> file_;  // of moveToDisk() only
};

using ResultSetPtr = std::shared_ptr<const ResultSet>;

}  // namespace pantry::data
