#include "core/data/view/filter.h"

#include <fmt/format.h>
#include <re2/re2.h>

#include <algorithm>
#include <charconv>
#include <functional>
#include <limits>
#include <span>
#include <unordered_set>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/data/view/decimal.h"
#include "core/data/view/text_search.h"
#include "core/data/view/typed_text.h"
#include "core/data/view/value_order.h"

namespace pantry::data {
namespace {

using Predicate = std::function<bool(const Cell&)>;

struct TestInfo {
    Test test;
    std::string_view text;
    std::string_view negated;
    std::optional<std::size_t> operands;
};
constexpr TestInfo kTests[] = {{Test::Equals, "is", "is not", 1},
                               {Test::OneOf, "is one of", "is not one of", std::nullopt},
                               {Test::Below, "is less than", "is not less than", 1},
                               {Test::AtMost, "is at most", "is not at most", 1},
                               {Test::Above, "is greater than", "is not greater than", 1},
                               {Test::AtLeast, "is at least", "is not at least", 1},
                               {Test::Between, "is between", "is not between", 2},
                               {Test::Contains, "contains", "does not contain", 1},
                               {Test::StartsWith, "starts with", "does not start with", 1},
                               {Test::Matches, "matches", "does not match", 1},
                               {Test::IsNull, "is null", "is not null", 0},
                               {Test::IsEmpty, "is empty text", "is not empty text", 0},
                               {Test::OlderThan, "is older than", "is not older than", 1},
                               {Test::Largest, "is among the largest", "is not among the largest", 1},
                               {Test::Smallest, "is among the smallest", "is not among the smallest", 1}};

const TestInfo& infoOf(Test test) { return kTests[static_cast<std::size_t>(test)]; }

/// A typed-in value as a cell of the column would hold it.
Cell operandCell(const std::string& text) { return {.kind = CellKind::Text, .bytes = text}; }

/// A column without a type says nothing of its values: a number among them is compared as one with a typed-in number.
ValueOrder orderFor(const Cell& cell, bool isNumber, ValueOrder order) {
    const bool isBareNumber = cell.kind == CellKind::Integer || cell.kind == CellKind::Real;
    return order == ValueOrder::Text && isBareNumber && isNumber ? ValueOrder::Number : order;
}

/// A typed-in value, compared with cells of a column.
struct Operand {
    Operand(std::string text, ValueOrder columnOrder)
        : value(std::move(text)), isNumber(doubleIn(value).has_value()), order(columnOrder) {}
    /// How a cell stands to it.
    [[nodiscard]] std::strong_ordering compare(const Cell& cell) const {
        return compareCells(cell, operandCell(value), orderFor(cell, isNumber, order));
    }

    std::string value;
    bool isNumber;
    ValueOrder order;
};

Predicate compares(const std::string& value, ValueOrder order, bool (*holds)(std::strong_ordering)) {
    return [operand = Operand(value, order), holds](const Cell& cell) { return holds(operand.compare(cell)); };
}

/// Whether a cell's text fulfils something; numbers as they are shown.
Predicate ofText(std::function<bool(std::string_view)> holds) {
    return [holds = std::move(holds), scratch = std::string()](const Cell& cell) mutable {
        if (cell.kind == CellKind::Text || cell.kind == CellKind::Binary) return holds(cell.bytes);
        scratch.clear();
        appendText(scratch, cell);
        return holds(scratch);
    };
}

/// Among values that are compared by what they mean, equality is too: 1.0 is 1.
Predicate isOneOf(const std::vector<std::string>& values, ValueOrder order) {
    const bool hasNumber = std::ranges::any_of(values, [](const auto& value) { return doubleIn(value).has_value(); });
    if (order == ValueOrder::Text && !hasNumber) {
        return ofText([set = std::unordered_set<std::string>(values.begin(), values.end())](std::string_view text) {
            return set.contains(std::string(text));
        });
    }
    std::vector<Operand> operands;
    for (const std::string& value : values) operands.emplace_back(value, order);
    return [operands = std::move(operands)](const Cell& cell) {
        return std::ranges::any_of(operands, [&](const Operand& one) { return one.compare(cell) == 0; });
    };
}

Predicate isOlderThan(const std::string& span, base::Moment now) {
    const auto microseconds = std::chrono::duration_cast<std::chrono::microseconds>(now.time_since_epoch()).count();
    const std::int64_t limit = microseconds - intervalIn(span).value_or(0);
    return [limit](const Cell& cell) {
        const auto moment = cell.kind == CellKind::Text ? momentIn(cell.bytes) : std::nullopt;
        return moment && *moment < limit;
    };
}

std::optional<std::size_t> countIn(std::string_view text) {
    std::size_t count = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), count);
    if (code != std::errc() || end != text.data() + text.size() || count == 0) return std::nullopt;
    return count;
}

/// The n largest or smallest values: everything on this side of the n-th.
std::optional<Predicate> isAmongFirst(const Condition& condition, const ResultSet& result, std::size_t rowCount,
                                      ValueOrder order, const base::Cancellation& cancellation) {
    Rows rows(rowCount);
    for (std::size_t i = 0; i < rowCount; ++i) rows[i] = static_cast<std::uint32_t>(i);
    const bool isLargest = condition.test == Test::Largest;
    const RowOrder by{.column = condition.column, .isDescending = isLargest};
    if (!sortRows(rows, result, rowCount, by, {}, cancellation)) return std::nullopt;
    std::size_t n = std::min(countIn(condition.values[0]).value_or(1), rowCount);
    while (n > 0 && result.cell(rows[n - 1], condition.column).isNull()) --n;  // fewer values than that
    if (n == 0) return Predicate([](const Cell&) { return false; });
    const Cell border = result.cell(rows[n - 1], condition.column);
    return Predicate([border, order, isLargest](const Cell& cell) {
        const auto compared = compareCells(cell, border, order);
        return isLargest ? compared >= 0 : compared <= 0;
    });
}

/// Of a cell that is not NULL; nothing for tests that need all rows.
Predicate predicateFor(const Condition& condition, const Column& column, base::Moment now) {
    const ValueOrder order = valueOrderOf(column);
    const auto& values = condition.values;
    switch (condition.test) {
        case Test::Equals:
        case Test::OneOf: return isOneOf(values, order);
        case Test::Below: return compares(values[0], order, [](auto c) { return c < 0; });
        case Test::AtMost: return compares(values[0], order, [](auto c) { return c <= 0; });
        case Test::Above: return compares(values[0], order, [](auto c) { return c > 0; });
        case Test::AtLeast: return compares(values[0], order, [](auto c) { return c >= 0; });
        case Test::Between:
            return [low = Operand(values[0], order), high = Operand(values[1], order)](const Cell& cell) {
                return low.compare(cell) >= 0 && high.compare(cell) <= 0;
            };
        case Test::Contains:
            return [finder = TextFinder(values[0]), scratch = std::string()](const Cell& cell) mutable {
                return finder.isIn(cell, scratch);
            };
        case Test::StartsWith:
            return ofText(
                [start = values[0]](std::string_view text) { return base::startsWithIgnoringCase(text, start); });
        case Test::Matches:
            return ofText([pattern = std::make_shared<re2::RE2>(values[0], re2::RE2::Quiet)](std::string_view text) {
                return re2::RE2::PartialMatch(re2::StringPiece(text.data(), text.size()), *pattern);
            });
        case Test::IsNull: return Predicate([](const Cell& cell) { return cell.isNull(); });
        case Test::IsEmpty:
            return Predicate([](const Cell& cell) { return cell.kind == CellKind::Text && cell.bytes.empty(); });
        case Test::OlderThan: return isOlderThan(values[0], now);
        case Test::Largest:
        case Test::Smallest: break;
    }
    return {};
}

struct Compiled {
    const Condition* condition;
    Predicate holds;
};

bool passes(const Compiled& one, const Cell& cell) {
    if (cell.isNull()) return one.condition->test == Test::IsNull && !one.condition->isNegated;
    return one.holds(cell) != one.condition->isNegated;
}

Error badValue(const Condition& condition, const std::vector<Column>& columns, std::string_view what,
               std::string_view value) {
    if (base::trimmed(value).empty()) {
        const bool isSecond = condition.test == Test::Between && !condition.values[0].empty();
        return {.kind = ErrorKind::InvalidInput,
                .message = fmt::format("The {} is missing.", isSecond                          ? "second value"
                                                             : condition.test == Test::Between ? "first value"
                                                                                               : "value"),
                .hint = fmt::format("“{} {}” needs {}.", columns[condition.column].name, testText(condition.test),
                                    condition.test == Test::Between ? "two values" : "a value")};
    }
    return {.kind = ErrorKind::InvalidInput,
            .message = fmt::format("“{}” is not {}.", value, what),
            .hint = fmt::format("It is for the column {}.", columns[condition.column].name)};
}

Status checkTyped(const Condition& condition, const std::vector<Column>& columns) {
    for (const std::string& value : condition.values) {
        switch (valueOrderOf(columns[condition.column])) {
            case ValueOrder::Number:
                if (!doubleIn(value)) return badValue(condition, columns, "a number such as 12.5", value);
                break;
            case ValueOrder::Moment:
                if (!momentIn(value))
                    return badValue(condition, columns, "a date such as 2026-11-17 or 2026-11-17 08:30", value);
                break;
            case ValueOrder::ClockTime:
                if (!clockTimeIn(value)) return badValue(condition, columns, "a time such as 08:30", value);
                break;
            case ValueOrder::Interval:
                if (!intervalIn(value))
                    return badValue(condition, columns, "a span of time such as 2 days 04:00", value);
                break;
            default: break;
        }
    }
    return {};
}

}  // namespace

std::optional<std::size_t> operandCount(Test test) { return infoOf(test).operands; }
std::string_view testText(Test test) { return infoOf(test).text; }

std::optional<Test> testFromWord(std::string_view text) {
    if (text == "is below") return Test::Below;  // as files of earlier versions have it
    if (text == "is above") return Test::Above;
    const auto found = std::ranges::find(kTests, text, &TestInfo::text);
    if (found == std::end(kTests)) return std::nullopt;
    return found->test;
}

std::vector<Test> testsFor(const Column& column) {
    std::vector<Test> tests{Test::Equals, Test::OneOf};
    const ValueOrder order = valueOrderOf(column);
    if (order == ValueOrder::Boolean) return {Test::Equals, Test::IsNull};
    const auto add = [&](std::initializer_list<Test> more) { tests.insert(tests.end(), more); };
    if (order == ValueOrder::Text) add({Test::Contains, Test::StartsWith, Test::Matches});
    if (order != ValueOrder::Bytes) add({Test::Below, Test::AtMost, Test::Above, Test::AtLeast, Test::Between});
    if (order == ValueOrder::Moment) add({Test::OlderThan});
    if (order != ValueOrder::Text && order != ValueOrder::Bytes) {
        add({Test::Largest, Test::Smallest, Test::Contains, Test::Matches});
    }
    add({Test::IsNull});
    if (order == ValueOrder::Text) add({Test::IsEmpty});
    return tests;
}

Status checkCondition(const Condition& condition, const std::vector<Column>& columns) {
    if (condition.column >= columns.size()) {
        return Error{.kind = ErrorKind::InvalidInput, .message = "The condition names a column that is not there."};
    }
    const auto wanted = operandCount(condition.test);
    if (condition.values.size() < wanted.value_or(1)) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{} {}” needs {}.", columns[condition.column].name,
                                            testText(condition.test), wanted == 2 ? "two values" : "a value")};
    }
    switch (condition.test) {
        case Test::Matches: {
            const re2::RE2 pattern(condition.values[0], re2::RE2::Quiet);
            if (pattern.ok()) return {};
            return Error{
                .kind = ErrorKind::InvalidInput,
                .message = fmt::format("“{}” is no regular expression: {}.", condition.values[0], pattern.error())};
        }
        case Test::OlderThan:
            if (!intervalIn(condition.values[0]))
                return badValue(condition, columns, "a span of time such as 30 days", condition.values[0]);
            return {};
        case Test::Largest:
        case Test::Smallest:
            if (!countIn(condition.values[0]))
                return badValue(condition, columns, "a number of values such as 10", condition.values[0]);
            return {};
        case Test::Contains:
        case Test::StartsWith:
        case Test::IsNull:
        case Test::IsEmpty: return {};
        default: return checkTyped(condition, columns);
    }
}

std::string describe(const Condition& condition, const std::vector<Column>& columns) {
    const TestInfo& info = infoOf(condition.test);
    std::string text =
        fmt::format("{} {}", columns[condition.column].name, condition.isNegated ? info.negated : info.text);
    if (condition.test == Test::Between)
        return fmt::format("{} {} and {}", text, condition.values[0], condition.values[1]);
    constexpr std::size_t kMaxShown = 4;
    const std::size_t count = std::min(condition.values.size(), kMaxShown);
    if (count > 0) text += " " + base::joined(std::span(condition.values).first(count), ", ");
    if (condition.values.size() > count) text += fmt::format(" and {} more", condition.values.size() - count);
    return text;
}

std::function<bool(const Cell&)> cellTest(const Condition& condition, const Column& column, base::Moment now) {
    Predicate holds = predicateFor(condition, column, now);
    if (!holds) return {};
    return [condition, holds = std::move(holds)](const Cell& cell) { return passes({&condition, holds}, cell); };
}

std::optional<Rows> filterRows(const ResultSet& result, std::size_t rowCount, const Filter& filter, base::Moment now,
                               const base::Cancellation& cancellation, const base::Progress& progress) {
    std::vector<Compiled> all;
    for (const Condition& condition : filter.conditions) {
        const Column& column = result.columns()[condition.column];
        Predicate predicate = predicateFor(condition, column, now);
        if (!predicate) {
            auto first = isAmongFirst(condition, result, rowCount, valueOrderOf(column), cancellation);
            if (!first) return std::nullopt;
            predicate = std::move(*first);
        }
        all.push_back({&condition, std::move(predicate)});
    }
    Rows rows;
    for (std::size_t c = 0; c < result.chunkCount() && result.firstRowOf(c) < rowCount; ++c) {
        if (cancellation.isRequested()) return std::nullopt;
        const Chunk& chunk = result.chunk(c);
        const std::size_t first = result.firstRowOf(c);
        progress.note(first, rowCount);
        for (std::size_t r = 0; r < std::min(chunk.rowCount(), rowCount - first); ++r) {
            const auto holds = [&](const Compiled& one) { return passes(one, chunk.cell(r, one.condition->column)); };
            const bool isIn =
                filter.isAnyEnough && !all.empty() ? std::ranges::any_of(all, holds) : std::ranges::all_of(all, holds);
            if (isIn) rows.push_back(static_cast<std::uint32_t>(first + r));
        }
    }
    return rows;
}

}  // namespace pantry::data
