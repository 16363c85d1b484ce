#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/data/view/result_view.h"
#include "core/data/view/value_order.h"

namespace pantry::data {

/// What a column's values are like. Values are told as they were sent, or, where they are worked out, in the same form.
struct ColumnProfile {
    ValueOrder order = ValueOrder::Text;
    std::size_t rows = 0;
    std::size_t nulls = 0;
    std::size_t empties = 0;   ///< texts of no characters
    std::size_t distinct = 0;  ///< different values other than NULL
    bool isDistinctEstimated = false;

    // Of everything but NULL; empty when there is nothing else.
    std::string minimum;
    std::string maximum;

    // Of numbers and moments, where at least one was there.
    std::string mean;
    std::string median;
    std::string lowerQuartile;
    std::string upperQuartile;

    // Of numbers only.
    std::string sum;        ///< exact, unless a value was a floating-point number
    std::string deviation;  ///< of the whole population

    /// Values that lie more than three times the distance of the quartiles beyond them (“far out”: Tukey, Exploratory
    /// Data Analysis, 1977).
    std::size_t farBelow = 0;
    std::size_t farAbove = 0;
    std::string lowerFence;  ///< where far out begins
    std::string upperFence;

    struct Common {
        std::string text;
        std::size_t count = 0;
        friend bool operator==(const Common&, const Common&) = default;
    };
    std::vector<Common> commonest;    ///< the commonest first
    bool isCommonestPartial = false;  ///< there are too many different values to count each

    // Of texts, in characters.
    std::size_t shortest = 0;
    std::size_t longest = 0;
    double meanLength = 0;

    std::vector<std::size_t>
        histogram;  ///< counts from the minimum to the maximum in equal steps; of numbers and moments
};

/// Goes through one column of the rows that a view shows. Nothing when cancelled.
[[nodiscard]] std::optional<ColumnProfile> profileColumn(const ResultView& view, std::size_t column,
                                                         const base::Cancellation& cancellation);

/// The commonest values of a column and how often each is there, without the rest of a profile.
[[nodiscard]] std::optional<std::vector<ColumnProfile::Common>> commonestValues(const ResultView& view,
                                                                                std::size_t column, std::size_t most,
                                                                                const base::Cancellation& cancellation);

}  // namespace pantry::data
