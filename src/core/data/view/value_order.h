#pragma once

#include <compare>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/data/store/result_set.h"

namespace pantry::data {

/// By what the values of a column are ordered and compared.
enum class ValueOrder : std::uint8_t {
    Number,     ///< exactly, whatever their size
    Moment,     ///< dates and times of a day, by the moment that they mean
    ClockTime,  ///< times without a day
    Interval,
    Boolean,  ///< false before true
    Text,
    Bytes,
};
[[nodiscard]] ValueOrder valueOrderOf(const Column& column);

/// Makes a key out of a text: bytes that stand in the order that people expect of the texts. May be slow; nothing of it
/// is kept. Threads: any.
using TextKey = std::function<void(std::string_view text, std::string& key)>;

/// A place in an order as a number: of two values the smaller never has the larger number. Values whose numbers are
/// equal are the same only when `isExact`.
struct CoarseKey {
    std::uint64_t value = 0;
    bool isExact = true;
};
[[nodiscard]] CoarseKey coarseKey(std::int64_t number);
[[nodiscard]] CoarseKey coarseKey(double number);           ///< NaN is the largest
[[nodiscard]] CoarseKey coarseKey(std::string_view bytes);  ///< by bytes

/// Groups that never mix in an order: what was read as its column means it, other text, bytes, NULL.
enum class ValueRank : std::uint8_t { Typed, Text, Bytes, Null };

/// What decides about a cell's place in its column.
struct OrderedValue {
    ValueRank rank = ValueRank::Null;
    CoarseKey key;
};
[[nodiscard]] OrderedValue orderedValue(const Cell& cell, ValueOrder order);

/// Exactly, where the coarse keys leave it open. Cells of other ranks never meet here.
[[nodiscard]] std::strong_ordering compareExactly(const Cell& a, const Cell& b, ValueOrder order);

/// Two cells of one column: by rank, coarse key, and then exactly. NULLs are equal and last.
[[nodiscard]] std::strong_ordering compareCells(const Cell& a, const Cell& b, ValueOrder order);

}  // namespace pantry::data
