#include "core/data/store/chunk.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <utility>

namespace pantry::data {
namespace {

constexpr std::size_t kCellsPerChunk = 65536;
constexpr std::size_t kMaxRows = 8192;
constexpr std::size_t kFewestRows = 64;

template <class Number>
void appendNumber(std::string& out, Number value) {
    char buffer[32];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, value).ptr;
    out.append(buffer, end);
}

void appendReal(std::string& out, double value) {
    if (std::isnan(value)) {
        out += "NaN";
    } else if (std::isinf(value)) {
        out += value < 0 ? "-Infinity" : "Infinity";
    } else {
        const std::size_t before = out.size();
        appendNumber(out, value);
        // 3 is an integer, 3.0 a real: keep them apart.
        if (out.find_first_of(".e", before) == std::string::npos) out += ".0";
    }
}

}  // namespace

void appendText(std::string& out, const Cell& cell) {
    switch (cell.kind) {
        case CellKind::Null: return;
        case CellKind::Integer: return appendNumber(out, cell.integer);
        case CellKind::Real: return appendReal(out, cell.real);
        case CellKind::Text:
        case CellKind::Binary: out.append(cell.bytes); return;
    }
}

std::string toText(const Cell& cell) {
    std::string out;
    appendText(out, cell);
    return out;
}

Cell ChunkColumn::mixedCell(std::size_t row) const {
    Cell cell{.kind = kinds_[row]};
    const std::string_view raw = bytesAt(row);
    if (cell.kind == CellKind::Integer) std::memcpy(&cell.integer, raw.data(), sizeof cell.integer);
    if (cell.kind == CellKind::Real) std::memcpy(&cell.real, raw.data(), sizeof cell.real);
    if (cell.kind == CellKind::Text || cell.kind == CellKind::Binary) cell.bytes = raw;
    return cell;
}

void ChunkColumn::clear() {
    storage_ = Storage::AllNull;
    nulls_.clear();
    integers_.clear();
    reals_.clear();
    ends_.clear();
    kinds_.clear();
    bytes_.clear();
}

std::uint64_t ChunkColumn::memoryBytes() const {
    return sizeof *this + nulls_.capacityBytes() + integers_.capacityBytes() + reals_.capacityBytes() +
           ends_.capacityBytes() + kinds_.capacityBytes() + bytes_.capacityBytes();
}

Result<std::uint64_t> ChunkColumn::moveTo(int file, std::int64_t& end) const {
    std::uint64_t moved = 0;
    for (const PageMemory* memory : {&nulls_.memory(), &integers_.memory(), &reals_.memory(), &ends_.memory(),
                                     &kinds_.memory(), &bytes_.memory()}) {
        const auto bytes = memory->moveTo(file, end);
        if (!bytes) return bytes.error();
        moved += *bytes;
    }
    return moved;
}

Result<std::uint64_t> Chunk::moveTo(int file, std::int64_t& end) const {
    std::uint64_t moved = 0;
    for (const ChunkColumn& column : columns_) {
        const auto bytes = column.moveTo(file, end);
        if (!bytes) return bytes.error();
        moved += *bytes;
    }
    return moved;
}

std::uint64_t Chunk::memoryBytes() const {
    std::uint64_t sum = sizeof *this;
    for (const ChunkColumn& column : columns_) sum += column.memoryBytes();
    return sum;
}

ChunkBuilder::ChunkBuilder(std::size_t columnCount)
    : columnCount_(columnCount),
      rowsPerChunk_(std::clamp(kCellsPerChunk / std::max<std::size_t>(columnCount, 1), kFewestRows, kMaxRows)),
      columns_(columnCount) {}

void ChunkBuilder::setNull(ChunkColumn& column) const {
    const std::size_t words = rowCount_ / 64 + 1;
    if (column.nulls_.size() < words) column.nulls_.resize(words, 0);
    column.nulls_[rowCount_ / 64] |= std::uint64_t{1} << (rowCount_ % 64);
}

/// Gives a column that held only NULLs so far a place for each of them in its new storage.
void ChunkBuilder::backfill(ChunkColumn& column, std::size_t rows) {
    using Storage = ChunkColumn::Storage;
    switch (column.storage_) {
        case Storage::Integer: column.integers_.resize(rows, std::int64_t{0}); break;
        case Storage::Real: column.reals_.resize(rows, 0); break;
        case Storage::Mixed: column.kinds_.resize(rows, CellKind::Null); [[fallthrough]];
        case Storage::Text:
        case Storage::Binary: column.ends_.resize(rows, static_cast<std::uint32_t>(column.bytes_.size())); break;
        case Storage::AllNull: break;
    }
}

/// Turns a column of one kind into one with a tag for each value.
void ChunkBuilder::mix(ChunkColumn& column) {
    ChunkColumn mixed;
    mixed.storage_ = ChunkColumn::Storage::Mixed;
    mixed.nulls_ = column.nulls_.copy();
    for (std::size_t row = 0; row < rowCount_; ++row) {
        const Cell cell = column.cell(row);
        mixed.kinds_.push_back(cell.kind);
        if (cell.kind == CellKind::Integer) {
            mixed.bytes_.append(reinterpret_cast<const char*>(&cell.integer), sizeof cell.integer);
        } else if (cell.kind == CellKind::Real) {
            mixed.bytes_.append(reinterpret_cast<const char*>(&cell.real), sizeof cell.real);
        } else {
            mixed.bytes_.append(cell.bytes.data(), cell.bytes.size());
        }
        mixed.ends_.push_back(static_cast<std::uint32_t>(mixed.bytes_.size()));
    }
    column = std::move(mixed);
}

/// The column whose value comes next, ready to take one of that kind.
ChunkColumn& ChunkBuilder::columnFor(CellKind kind) {
    using Storage = ChunkColumn::Storage;
    constexpr Storage kStorages[] = {Storage::AllNull, Storage::Integer, Storage::Real, Storage::Text, Storage::Binary};
    ChunkColumn& column = columns_[at_++];
    const Storage wanted = kStorages[static_cast<std::size_t>(kind)];
    if (column.storage_ == wanted || column.storage_ == Storage::Mixed) {
        return column;
    }
    if (column.storage_ == Storage::AllNull) {
        column.storage_ = wanted;
        reserveLikeLast(column, at_ - 1);
        backfill(column, rowCount_);
    } else {
        mix(column);
    }
    return column;
}

void ChunkBuilder::reserveLikeLast(ChunkColumn& column, std::size_t index) const {
    if (lastRows_ == 0) return;
    if (column.storage_ == ChunkColumn::Storage::Integer) return column.integers_.reserve(lastRows_);
    if (column.storage_ == ChunkColumn::Storage::Real) return column.reals_.reserve(lastRows_);
    column.ends_.reserve(lastRows_);
    column.bytes_.reserve(lastBytes_[index] + lastBytes_[index] / 16);
}

void ChunkBuilder::addNull() {
    ChunkColumn& column = columns_[at_++];
    setNull(column);
    backfill(column, rowCount_ + 1);
}

void ChunkBuilder::addInteger(std::int64_t value) {
    ChunkColumn& column = columnFor(CellKind::Integer);
    bytes_ += sizeof value;
    if (column.storage_ == ChunkColumn::Storage::Integer) return column.integers_.push_back(value);
    column.kinds_.push_back(CellKind::Integer);
    column.bytes_.append(reinterpret_cast<const char*>(&value), sizeof value);
    column.ends_.push_back(static_cast<std::uint32_t>(column.bytes_.size()));
}

void ChunkBuilder::addReal(double value) {
    ChunkColumn& column = columnFor(CellKind::Real);
    bytes_ += sizeof value;
    if (column.storage_ == ChunkColumn::Storage::Real) return column.reals_.push_back(value);
    column.kinds_.push_back(CellKind::Real);
    column.bytes_.append(reinterpret_cast<const char*>(&value), sizeof value);
    column.ends_.push_back(static_cast<std::uint32_t>(column.bytes_.size()));
}

void ChunkBuilder::addBytes(std::string_view value, CellKind kind) {
    ChunkColumn& column = columnFor(kind);
    bytes_ += value.size();
    column.bytes_.append(value.data(), value.size());
    column.ends_.push_back(static_cast<std::uint32_t>(column.bytes_.size()));
    if (column.storage_ == ChunkColumn::Storage::Mixed) column.kinds_.push_back(kind);
}

void ChunkBuilder::endRow() {
    ++rowCount_;
    at_ = 0;
}

void ChunkBuilder::reuse(ChunkPtr spent) {
    if (spent.use_count() != 1 || spent->columnCount() != columnCount_) return;
    spare_ = std::move(std::const_pointer_cast<Chunk>(spent)->columns_);  // ours alone, and made by a builder
    for (ChunkColumn& column : spare_) column.clear();
    isPassing_ = true;
}

ChunkPtr ChunkBuilder::take() {
    auto chunk = std::make_shared<Chunk>();
    chunk->rowCount_ = rowCount_;
    const std::size_t words = (rowCount_ + 63) / 64;
    lastBytes_.clear();
    for (ChunkColumn& column : columns_) {
        if (!column.nulls_.empty()) column.nulls_.resize(words, 0);
        lastBytes_.push_back(column.bytes_.size());
        if (isPassing_) continue;
        column.integers_.shrinkIfLoose();
        column.reals_.shrinkIfLoose();
        column.ends_.shrinkIfLoose();
        column.kinds_.shrinkIfLoose();
        column.bytes_.shrinkIfLoose();
    }
    lastRows_ = rowCount_;
    if (spare_.empty()) spare_.resize(columnCount_);
    chunk->columns_ = std::exchange(columns_, std::exchange(spare_, {}));
    rowCount_ = 0;
    bytes_ = 0;
    return chunk;
}

}  // namespace pantry::data
