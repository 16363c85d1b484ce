#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/data/view/result_view.h"

namespace pantry::data {

/// A column of the one result and the column of the other that it is laid beside.
struct ColumnPair {
    std::size_t before = 0;
    std::size_t after = 0;
    friend bool operator==(const ColumnPair&, const ColumnPair&) = default;
};

/// The columns of two results that belong together: those of the same name, whatever the case of its letters; of
/// several of one name the first and the first, the second and the second.
struct ColumnMatch {
    std::vector<ColumnPair> pairs;        ///< in the order of `before`
    std::vector<std::size_t> onlyBefore;  ///< columns without a counterpart
    std::vector<std::size_t> onlyAfter;
};
[[nodiscard]] ColumnMatch matchColumns(const std::vector<Column>& before, const std::vector<Column>& after);

struct ComparisonRequest {
    std::vector<ColumnPair> columns;
    std::vector<std::size_t> keys;  ///< positions in `columns` whose values tell which rows belong together; empty: the
                                    ///< first row with the first, the second with the second
};

enum class RowChange : std::uint8_t { Same, Changed, Removed, Added };

/// A row of one or both results, by positions in their views.
struct RowPair {
    std::uint32_t before = 0;  ///< not for Added
    std::uint32_t after = 0;   ///< not for Removed
    RowChange change = RowChange::Same;
};

/// What two results have and have not in common.
struct Comparison {
    std::vector<RowPair> rows;  ///< in the order of `before`; added ones behind the row they follow in `after`
    std::vector<std::size_t> changesByColumn;  ///< for each of the request's columns
    std::size_t same = 0;
    std::size_t changed = 0;
    std::size_t removed = 0;
    std::size_t added = 0;
    std::size_t repeatedKeys =
        0;  ///< rows of `after` whose key stood in an earlier one too; such are compared in their order
};

/// Lays two results beside each other. Values are compared by what their columns mean: numbers by value, moments as
/// moments; other values, and columns of different meaning, by their text. NULLs are equal to each other only.
/// Nothing when cancelled. Time grows with the number of rows: a hash join (build and probe) on the key columns.
/// `progress` hears rows of both that are done, now and then, on this thread. Threads: any.
[[nodiscard]] std::optional<Comparison> compareResults(const ResultView& before, const ResultView& after,
                                                       const ComparisonRequest& request,
                                                       const base::Cancellation& cancellation,
                                                       const std::function<void(std::size_t rows)>& progress = {});

/// Whether two cells of columns that are laid beside each other are the same, as compareResults() sees it.
[[nodiscard]] bool areSame(const Cell& before, const Column& beforeColumn, const Cell& after,
                           const Column& afterColumn);

/// Columns that could tell rows apart: the first whose values are all there and all different in both; empty when there
/// is none. Looks at no more than the first hundred thousand rows. Nothing when cancelled.
[[nodiscard]] std::optional<std::vector<std::size_t>> proposedKeys(const ResultView& before, const ResultView& after,
                                                                   const std::vector<ColumnPair>& columns,
                                                                   const base::Cancellation& cancellation);

/// The comparison as rows of its own: a column “change” that says before, after, added, removed or same, then the
/// columns that both have (keys first, then those with changes), then those that only one has. A changed row stands
/// twice, as it was and as it is. Nothing when cancelled.
[[nodiscard]] ResultSetPtr differencesOf(const Comparison& comparison, const ResultView& before,
                                         const ResultView& after, const ComparisonRequest& request, bool hasSameRows,
                                         const base::Cancellation& cancellation);

// What stands in the first column of such rows.
inline constexpr std::size_t kChangeColumn = 0;
inline constexpr std::string_view kSameWord = "same";
inline constexpr std::string_view kBeforeWord = "before";
inline constexpr std::string_view kAfterWord = "after";
inline constexpr std::string_view kRemovedWord = "removed";
inline constexpr std::string_view kAddedWord = "added";

/// Whether a cell of such rows is one that changed: it stands in a row as it was or as it is, and differs from its
/// counterpart. `row` is one of the result, not of a view.
[[nodiscard]] bool isChangedCell(const ResultSet& differences, std::size_t row, std::size_t column);

}  // namespace pantry::data
