#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/time.h"
#include "core/data/view/comparison.h"

namespace pantry::work {

/// What became of one cell since the result before.
enum class CellChange : std::uint8_t { None, Added, Changed };

/// What is other in a result than in an earlier one of the same statement.
struct ResultChange {
    base::Moment since{};                 ///< when the earlier one ran
    data::Comparison counts = {};         ///< without its rows
    std::string text = {};                ///< “3 added, 1 removed, 2 changed (jars 2), 18 the same”
    data::ResultSetPtr differences = {};  ///< the rows, as data::differencesOf() makes them
    std::unordered_map<std::size_t, std::vector<CellChange>> marks = {};  ///< by row of the later result

    [[nodiscard]] bool isNone() const { return counts.added + counts.removed + counts.changed == 0; }
    /// By row and column of the later result.
    [[nodiscard]] CellChange of(std::size_t row, std::size_t column) const {
        const auto found = marks.find(row);
        return found == marks.end() ? CellChange::None : found->second[column];
    }
};
using ResultChangePtr = std::shared_ptr<const ResultChange>;

/// Compares all rows of two results. Rows belong together by the first column that tells them apart in both; where
/// there is none, by all their values, so that nothing counts as changed. Nothing when cancelled, and for results that
/// have no column in common. Time grows with the rows. Threads: any.
[[nodiscard]] std::optional<ResultChange> changeBetween(const data::ResultSetPtr& before, const data::ResultSetPtr& now,
                                                        const base::Cancellation& cancellation);

/// A comparison in words: “3 added, 1 removed, 12 changed (jars 10, kettle 2), 400 the same”. `columns`: of the earlier
/// result.
[[nodiscard]] std::string differenceText(const data::Comparison& found, const std::vector<data::ColumnPair>& pairs,
                                         const std::vector<data::Column>& columns);

}  // namespace pantry::work
