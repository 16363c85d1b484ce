#include "core/data/view/value_order.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>

#include "core/base/text.h"
#include "core/data/view/decimal.h"
#include "core/data/view/typed_text.h"

namespace pantry::data {
namespace {

constexpr std::uint64_t kSignBit = std::uint64_t{1} << 63;
constexpr std::size_t kPrefixBytes = 7;  // of a text; the eighth byte of its key tells whether there is more

/// A double tells numbers of so few digits apart without fail.
constexpr std::size_t kDigitsOfDouble = 15;

OrderedValue typed(CoarseKey key) { return {ValueRank::Typed, key}; }

OrderedValue numberFrom(std::string_view text) {
    const auto number = doubleIn(text);
    if (!number) return {ValueRank::Text, coarseKey(text)};
    CoarseKey key = coarseKey(*number);
    key.isExact = text.size() <= kDigitsOfDouble;
    return typed(key);
}

template <class Value>
OrderedValue timeFrom(const std::optional<Value>& value, std::string_view text) {
    if (!value) return {ValueRank::Text, coarseKey(text)};
    return typed(coarseKey(static_cast<std::int64_t>(*value)));
}

OrderedValue textAs(std::string_view text, ValueOrder order) {
    switch (order) {
        case ValueOrder::Number: return numberFrom(text);
        case ValueOrder::Moment: return timeFrom(momentIn(text), text);
        case ValueOrder::ClockTime: return timeFrom(clockTimeIn(text), text);
        case ValueOrder::Interval: return timeFrom(intervalIn(text), text);
        case ValueOrder::Boolean: return timeFrom(booleanIn(text), text);
        case ValueOrder::Text:
        case ValueOrder::Bytes: break;
    }
    return {ValueRank::Text, coarseKey(text)};
}

std::string numberText(const Cell& cell) {
    return cell.kind == CellKind::Text ? std::string(cell.bytes) : toText(cell);
}

}  // namespace

ValueOrder valueOrderOf(const Column& column) {
    switch (column.type) {
        case ColumnType::Integer:
        case ColumnType::Real:
        case ColumnType::Decimal: return ValueOrder::Number;
        case ColumnType::Boolean: return ValueOrder::Boolean;
        case ColumnType::Date:
        case ColumnType::Timestamp: return ValueOrder::Moment;
        case ColumnType::Time: return ValueOrder::ClockTime;
        case ColumnType::Binary: return ValueOrder::Bytes;
        default: break;
    }
    return column.typeName.starts_with("interval") ? ValueOrder::Interval : ValueOrder::Text;
}

CoarseKey coarseKey(std::int64_t number) { return {static_cast<std::uint64_t>(number) ^ kSignBit}; }

CoarseKey coarseKey(double number) {
    if (std::isnan(number)) return {~std::uint64_t{0}};
    const auto bits = std::bit_cast<std::uint64_t>(number == 0 ? 0.0 : number);  // -0 is 0
    return {(bits & kSignBit) != 0 ? ~bits : bits | kSignBit};
}

CoarseKey coarseKey(std::string_view bytes) {
    std::uint64_t value = 0;
    std::memcpy(&value, bytes.data(), std::min(bytes.size(), kPrefixBytes));
    value = __builtin_bswap64(value) & ~std::uint64_t{0xFF};
    const bool isWhole = bytes.size() <= kPrefixBytes;
    return {value | (isWhole ? bytes.size() : kPrefixBytes + 1), isWhole};
}

OrderedValue orderedValue(const Cell& cell, ValueOrder order) {
    switch (cell.kind) {
        case CellKind::Null: return {};
        // As a double, so that integers and fractions of one column stand in one order; exact where a double is.
        case CellKind::Integer: {
            if (order == ValueOrder::Boolean) return typed(coarseKey(cell.integer));
            CoarseKey key = coarseKey(static_cast<double>(cell.integer));
            key.isExact = std::abs(cell.integer) < (std::int64_t{1} << 53);
            return typed(key);
        }
        case CellKind::Real: return typed(coarseKey(cell.real));
        case CellKind::Text: return textAs(cell.bytes, order);
        case CellKind::Binary: return {ValueRank::Bytes, coarseKey(cell.bytes)};
    }
    return {};
}

std::strong_ordering compareExactly(const Cell& a, const Cell& b, ValueOrder order) {
    if (a.kind == CellKind::Integer && b.kind == CellKind::Integer) return a.integer <=> b.integer;
    if (a.kind == CellKind::Real && b.kind == CellKind::Real) return std::strong_ordering::equal;
    const bool isNumber = order == ValueOrder::Number || a.kind != CellKind::Text || b.kind != CellKind::Text;
    if (isNumber && a.kind != CellKind::Binary) {
        const std::string left = numberText(a);
        const std::string right = numberText(b);
        if (isDecimal(left) && isDecimal(right)) return compareDecimals(left, right);
        return left.compare(right) <=> 0;
    }
    return a.bytes.compare(b.bytes) <=> 0;
}

std::strong_ordering compareCells(const Cell& a, const Cell& b, ValueOrder order) {
    const OrderedValue left = orderedValue(a, order);
    const OrderedValue right = orderedValue(b, order);
    if (left.rank != right.rank) return left.rank <=> right.rank;
    if (left.rank == ValueRank::Null) return std::strong_ordering::equal;
    if (left.key.value != right.key.value) return left.key.value <=> right.key.value;
    if (left.key.isExact && right.key.isExact) return std::strong_ordering::equal;
    return compareExactly(a, b, order);
}

}  // namespace pantry::data
