#include "core/work/result_change.h"

#include <fmt/format.h>

#include <numeric>
#include <utility>

#include "core/base/joined.h"
#include "core/base/text.h"

namespace pantry::work {
namespace {

std::string grouped(std::size_t count) { return base::grouped(static_cast<std::int64_t>(count)); }

/// Added rows in whole, of changed ones the cells that are other.
void markRow(ResultChange& change, const data::RowPair& pair, const data::ResultSet& before, const data::ResultSet& now,
             const std::vector<data::ColumnPair>& columns) {
    if (pair.change == data::RowChange::Same || pair.change == data::RowChange::Removed) return;
    std::vector<CellChange>& marks = change.marks[pair.after];
    const bool isAdded = pair.change == data::RowChange::Added;
    marks.assign(now.columns().size(), isAdded ? CellChange::Added : CellChange::None);
    if (isAdded) return;
    for (const data::ColumnPair& column : columns) {
        const bool isSame = data::areSame(before.cell(pair.before, column.before), before.columns()[column.before],
                                          now.cell(pair.after, column.after), now.columns()[column.after]);
        if (!isSame) marks[column.after] = CellChange::Changed;
    }
}

}  // namespace

std::string differenceText(const data::Comparison& found, const std::vector<data::ColumnPair>& pairs,
                           const std::vector<data::Column>& columns) {
    std::vector<std::string> parts;
    if (found.added > 0) parts.push_back(grouped(found.added) + " added");
    if (found.removed > 0) parts.push_back(grouped(found.removed) + " removed");
    if (found.changed > 0) {
        std::vector<std::string> counts;
        for (std::size_t i = 0; i < pairs.size(); ++i) {
            if (found.changesByColumn[i] == 0) continue;
            counts.push_back(columns[pairs[i].before].name + " " + grouped(found.changesByColumn[i]));
        }
        parts.push_back(fmt::format("{} changed ({})", grouped(found.changed), base::joined(counts, ", ")));
    }
    const std::string same = base::counted(static_cast<std::int64_t>(found.same), "row", "rows");
    if (parts.empty()) return "no difference in " + same;
    return fmt::format("{}, {} the same", base::joined(parts, ", "), grouped(found.same));
}

std::optional<ResultChange> changeBetween(const data::ResultSetPtr& before, const data::ResultSetPtr& now,
                                          const base::Cancellation& cancellation) {
    const data::ResultView left(before);
    const data::ResultView right(now);
    data::ComparisonRequest request{.columns = data::matchColumns(before->columns(), now->columns()).pairs, .keys = {}};
    if (request.columns.empty()) return std::nullopt;
    auto keys = data::proposedKeys(left, right, request.columns, cancellation);
    if (!keys) return std::nullopt;
    request.keys = std::move(*keys);
    if (request.keys.empty()) {
        request.keys.resize(request.columns.size());
        std::iota(request.keys.begin(), request.keys.end(), std::size_t{0});
    }
    auto found = data::compareResults(left, right, request, cancellation);
    if (!found) return std::nullopt;
    ResultChange change;
    change.differences = data::differencesOf(*found, left, right, request, false, cancellation);
    if (!change.differences) return std::nullopt;
    for (const data::RowPair& pair : found->rows) markRow(change, pair, *before, *now, request.columns);
    change.text = differenceText(*found, request.columns, before->columns());
    found->rows = {};
    change.counts = std::move(*found);
    return change;
}

}  // namespace pantry::work
