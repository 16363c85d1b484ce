#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/base/time.h"
#include "core/data/store/result_set.h"
#include "core/data/view/row_sort.h"

namespace pantry::data {

/// What a condition asks of a column's values.
enum class Test : std::uint8_t {
    Equals,
    OneOf,
    Below,
    AtMost,
    Above,
    AtLeast,
    Between,  ///< both ends count
    Contains,
    StartsWith,
    Matches,  ///< a regular expression, somewhere in the text
    IsNull,
    IsEmpty,    ///< a text of no characters, which is not NULL
    OlderThan,  ///< a span of time before now: 30 days
    Largest,    ///< the n largest values, and those equal to the last of them
    Smallest,
};

/// How many values a test wants; nullopt: any number.
[[nodiscard]] std::optional<std::size_t> operandCount(Test test);
[[nodiscard]] std::string_view testText(Test test);  ///< for people: is at least
[[nodiscard]] std::optional<Test> testFromWord(std::string_view text);
/// The tests that make sense for a column, in the order to offer them.
[[nodiscard]] std::vector<Test> testsFor(const Column& column);

/// One typed condition on one column. NULL fulfils only IsNull, also when negated.
struct Condition {
    std::size_t column = 0;
    Test test = Test::Equals;
    bool isNegated = false;
    std::vector<std::string> values;  ///< as somebody types them
    friend bool operator==(const Condition&, const Condition&) = default;
};

/// Conditions of which all must hold, or any.
struct Filter {
    std::vector<Condition> conditions;
    bool isAnyEnough = false;
    friend bool operator==(const Filter&, const Filter&) = default;
};

/// Whether a condition can be asked of that column. Errors: InvalidInput with what is wrong about its values.
Status checkCondition(const Condition& condition, const std::vector<Column>& columns);

/// “height is at least 3”, “variety is one of Belle, Cox”.
[[nodiscard]] std::string describe(const Condition& condition, const std::vector<Column>& columns);

/// Whether a cell of that column passes a condition, for one look at a time; nothing for tests that need all rows.
/// Requires: the condition passes checkCondition().
[[nodiscard]] std::function<bool(const Cell&)> cellTest(const Condition& condition, const Column& column,
                                                        base::Moment now);

/// The rows below `rowCount` that pass. Values are read as their column's type means them; where that cannot be, as
/// text. Nothing when cancelled. Requires: every condition passes checkCondition().
[[nodiscard]] std::optional<Rows> filterRows(const ResultSet& result, std::size_t rowCount, const Filter& filter,
                                             base::Moment now, const base::Cancellation& cancellation,
                                             const base::Progress& progress = {});

}  // namespace pantry::data
