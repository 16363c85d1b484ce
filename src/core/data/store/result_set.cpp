#include "core/data/store/result_set.h"

#include <cassert>

#include "core/data/store/temporary_file.h"

namespace pantry::data {

ResultSet::ResultSet(std::vector<Column> columns) : columns_(std::move(columns)), blocks_(kBlocks) {}

ResultSet::~ResultSet() {
    for (auto& block : blocks_) delete[] block.load(std::memory_order_relaxed);
}

Cell ResultSet::cell(std::size_t row, std::size_t column) const {
    assert(row < rowCount() && column < columns_.size());
    std::size_t low = 0;
    std::size_t high = chunkCount();
    while (high - low > 1) {  // the last chunk whose first row is not after `row`
        const std::size_t middle = (low + high) / 2;
        (slot(middle).firstRow <= row ? low : high) = middle;
    }
    const Slot& found = slot(low);
    return found.chunk->cell(row - found.firstRow, column);
}

Status ResultSet::moveToDisk(const std::filesystem::path& folder, std::uint64_t wanted) const {
    if (!file_) {
        auto file = TemporaryFile::make(folder);
        if (!file) return file.error();
        file_ = std::make_unique<TemporaryFile>(std::move(*file));
    }
    std::uint64_t moved = 0;
    for (; movedChunks_ < chunkCount() && moved < wanted; ++movedChunks_) {
        const auto bytes = chunk(movedChunks_).moveTo(file_->descriptor(), endOnDisk_);
        if (!bytes) return bytes.error();
        moved += *bytes;
        memoryBytes_.fetch_sub(*bytes, std::memory_order_relaxed);
        diskBytes_.fetch_add(*bytes, std::memory_order_relaxed);
    }
    return {};
}

void ResultSet::append(ChunkPtr chunk) {
    if (chunk->rowCount() == 0) return;
    const std::size_t index = chunkCount_.load(std::memory_order_relaxed);
    assert(index < kSlotsPerBlock * kBlocks);
    auto& block = blocks_[index / kSlotsPerBlock];
    if (block.load(std::memory_order_relaxed) == nullptr) {
        block.store(new Slot[kSlotsPerBlock], std::memory_order_release);
    }
    const std::size_t firstRow = rowCount_.load(std::memory_order_relaxed);
    const std::size_t rows = chunk->rowCount();
    memoryBytes_.fetch_add(chunk->memoryBytes(), std::memory_order_relaxed);
    block.load(std::memory_order_relaxed)[index % kSlotsPerBlock] = {firstRow, std::move(chunk)};
    chunkCount_.store(index + 1, std::memory_order_release);
    rowCount_.store(firstRow + rows, std::memory_order_release);
}

}  // namespace pantry::data
