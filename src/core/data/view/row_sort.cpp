#include "core/data/view/row_sort.h"

#include <algorithm>
#include <array>
#include <bit>
#include <numeric>

namespace pantry::data {
namespace {

constexpr std::size_t kFewRows = 512;  // below it the passes of a radix sort cost more than they save
constexpr std::size_t kSortedBetweenChecks = 65'536;

/// Thrown through std::stable_sort, whose comparisons are the only place to notice a wish to stop.
struct SortCancelled {};

struct Entry {
    std::uint64_t key;
    std::uint32_t row;
};
using Entries = std::vector<Entry>;

// Digits of eleven bits: six passes at most, and the counts of one still stay near the processor.
constexpr std::size_t kDigitBits = 11;
constexpr std::size_t kDigits = (64 + kDigitBits - 1) / kDigitBits;
constexpr std::size_t kDigitValues = std::size_t{1} << kDigitBits;

std::size_t digitOf(std::uint64_t key, std::size_t digit) { return key >> (kDigitBits * digit) & (kDigitValues - 1); }

/// Stable, one pass for each digit in which the keys differ.
bool radixSort(Entries& entries, const base::Cancellation& cancellation) {
    if (entries.size() < kFewRows) {
        std::ranges::stable_sort(entries, {}, &Entry::key);
        return true;
    }
    std::vector<std::array<std::uint32_t, kDigitValues>> counts(kDigits);
    for (const Entry& entry : entries) {
        for (std::size_t digit = 0; digit < kDigits; ++digit) ++counts[digit][digitOf(entry.key, digit)];
    }
    Entries other(entries.size());
    for (std::size_t digit = 0; digit < kDigits; ++digit) {
        if (cancellation.isRequested()) return false;
        auto& count = counts[digit];
        if (count[digitOf(entries.front().key, digit)] == entries.size()) continue;  // all the same here
        std::exclusive_scan(count.begin(), count.end(), count.begin(), 0U);
        for (const Entry& entry : entries) other[count[digitOf(entry.key, digit)]++] = entry;
        entries.swap(other);
    }
    return true;
}

/// Rows of one rank with their keys, and whether these decide everything.
struct Group {
    Entries entries;
    bool isExact = true;
};

/// One column of a result, read once.
class SortColumn {
public:
    SortColumn(const ResultSet& result, std::size_t rowCount, const RowOrder& order, const TextKey& textKey,
               const base::Cancellation& cancellation, const base::Progress& progress)
        : result_(result),
          order_(order),
          valueOrder_(valueOrderOf(result.columns()[order.column])),
          textKey_(textKey),
          cancellation_(cancellation),
          progress_(progress) {
        keys_.reserve(rowCount);
        ranks_.reserve(rowCount);
    }

    bool read(std::size_t rowCount) {
        const bool isWhole = holdsWholeNumbers(rowCount);
        for (std::size_t c = 0; keys_.size() < rowCount; ++c) {
            if (cancellation_.isRequested()) return false;
            progress_.part(0, 2).note(keys_.size(), rowCount);
            const Chunk& chunk = result_.chunk(c);
            const std::size_t rows = std::min(chunk.rowCount(), rowCount - keys_.size());
            const ChunkColumn& column = chunk.column(order_.column);
            for (std::size_t r = 0; r < rows; ++r) {
                if (isWhole) {
                    addWhole(column.cell(r));
                } else {
                    add(column.cell(r));
                }
            }
        }
        return true;
    }

    /// Parts rows by rank, in their order.
    [[nodiscard]] std::array<Group, 4> groups(const Rows& rows) const {
        std::array<std::size_t, 4> sizes{};
        for (const std::uint32_t row : rows) ++sizes[static_cast<std::size_t>(ranks_[row])];
        std::array<Group, 4> groups;
        for (std::size_t i = 0; i < 4; ++i) {
            groups[i].entries.reserve(sizes[i]);
            groups[i].isExact = isExact_[i];
        }
        const std::uint64_t flip = order_.isDescending ? ~std::uint64_t{0} : 0;
        for (const std::uint32_t row : rows) {
            groups[static_cast<std::size_t>(ranks_[row])].entries.push_back({keys_[row] ^ flip, row});
        }
        return groups;
    }

    bool sort(Group& group, ValueRank rank) const {
        if (!radixSort(group.entries, cancellation_)) return false;
        if (group.isExact) return true;
        // Sorting n rows by comparing takes about n log2 n of them (Knuth 5.3.1).
        const std::size_t expected = group.entries.size() * std::bit_width(group.entries.size());
        std::size_t seen = 0;
        const auto isBefore = [&](const Entry& a, const Entry& b) {
            if (++seen % kSortedBetweenChecks == 0) {
                progress_.part(1, 2).note(seen, expected);
                if (cancellation_.isRequested()) throw SortCancelled{};
            }
            const auto compared = compare(a.row, b.row, rank);
            return order_.isDescending ? compared > 0 : compared < 0;
        };
        for (auto first = group.entries.begin(); first != group.entries.end();) {
            const auto last =
                std::find_if(first + 1, group.entries.end(), [&](const Entry& e) { return e.key != first->key; });
            if (last - first > 1) std::stable_sort(first, last, isBefore);
            first = last;
        }
        return true;
    }

private:
    /// Nothing but whole numbers and NULLs: their keys differ in fewer bytes than those of doubles.
    [[nodiscard]] bool holdsWholeNumbers(std::size_t rowCount) const {
        for (std::size_t c = 0; c < result_.chunkCount() && result_.firstRowOf(c) < rowCount; ++c) {
            const Chunk& chunk = result_.chunk(c);
            const ChunkColumn& column = chunk.column(order_.column);
            std::size_t first = 0;
            while (first < chunk.rowCount() && column.cell(first).isNull()) ++first;
            if (first == chunk.rowCount()) continue;
            if (!column.isPlainNumbers() || column.cell(first).kind != CellKind::Integer) return false;
        }
        return true;
    }

    void addWhole(const Cell& cell) {
        keys_.push_back(coarseKey(cell.integer).value);
        ranks_.push_back(cell.isNull() ? ValueRank::Null : ValueRank::Typed);
    }

    void add(const Cell& cell) {
        OrderedValue value = orderedValue(cell, valueOrder_);
        const auto rank = static_cast<std::size_t>(value.rank);
        if (value.rank == ValueRank::Text && textKey_) {
            textKey_(cell.bytes, scratch_);
            value.key = coarseKey(std::string_view(scratch_));
            textEnds_.resize(keys_.size(), arena_.size());
            arena_ += scratch_;
            textEnds_.push_back(arena_.size());
        }
        if (!value.key.isExact) isExact_[rank] = false;
        keys_.push_back(value.key.value);
        ranks_.push_back(value.rank);
    }

    [[nodiscard]] std::string_view textKeyOf(std::uint32_t row) const {
        const std::size_t start = row == 0 ? 0 : textEnds_[row - 1];
        return std::string_view(arena_).substr(start, textEnds_[row] - start);
    }

    [[nodiscard]] std::strong_ordering compare(std::uint32_t a, std::uint32_t b, ValueRank rank) const {
        if (rank == ValueRank::Text && textKey_) return textKeyOf(a).compare(textKeyOf(b)) <=> 0;
        return compareExactly(result_.cell(a, order_.column), result_.cell(b, order_.column), valueOrder_);
    }

    const ResultSet& result_;
    const RowOrder& order_;
    ValueOrder valueOrder_;
    const TextKey& textKey_;
    const base::Cancellation& cancellation_;
    const base::Progress& progress_;
    std::vector<std::uint64_t> keys_;
    std::vector<ValueRank> ranks_;
    std::array<bool, 4> isExact_{true, true, true, true};
    std::string scratch_;
    std::string arena_;                    // the keys of texts, one after another
    std::vector<std::uint64_t> textEnds_;  // by row
};

}  // namespace

bool sortRows(Rows& rows, const ResultSet& result, std::size_t rowCount, const RowOrder& order, const TextKey& textKey,
              const base::Cancellation& cancellation, const base::Progress& progress) {
    SortColumn column(result, rowCount, order, textKey, cancellation, progress);
    if (!column.read(rowCount)) return false;
    auto groups = column.groups(rows);
    try {
        for (std::size_t rank = 0; rank < 3; ++rank) {
            if (!column.sort(groups[rank], static_cast<ValueRank>(rank))) return false;
        }
    } catch (const SortCancelled&) {
        return false;
    }
    rows.clear();
    const auto take = [&](const Group& group) {
        for (const Entry& entry : group.entries) rows.push_back(entry.row);
    };
    const Group& nulls = groups[3];
    if (order.areNullsFirst) take(nulls);
    for (std::size_t i = 0; i < 3; ++i) take(groups[order.isDescending ? 2 - i : i]);
    if (!order.areNullsFirst) take(nulls);
    progress.note(1, 1);
    return true;
}

}  // namespace pantry::data
