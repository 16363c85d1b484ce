#include "core/data/view/result_view.h"

#include <algorithm>
#include <numeric>

#include "core/base/time.h"
#include "core/data/view/row_sort.h"
#include "core/data/view/text_search.h"

namespace pantry::data {
namespace {

/// Rows that pass the conditions; all of them when there is none.
std::optional<Rows> passingRows(const ResultSet& result, std::size_t rowCount, const ViewRequest& request,
                                const base::Cancellation& cancellation, const base::Progress& progress) {
    if (!request.filter.conditions.empty()) {
        return filterRows(result, rowCount, request.filter, base::now(), cancellation, progress);
    }
    Rows rows(rowCount);
    std::iota(rows.begin(), rows.end(), 0U);
    return rows;
}

/// Which rows hold a text somewhere.
std::optional<std::vector<bool>> rowsWithText(const ResultSet& result, std::size_t rowCount, const std::string& text,
                                              const base::Cancellation& cancellation, const base::Progress& progress) {
    std::vector<bool> holds(rowCount, false);
    const TextFinder finder(text);
    std::string scratch;
    for (std::size_t c = 0; c < result.chunkCount() && result.firstRowOf(c) < rowCount; ++c) {
        if (cancellation.isRequested()) return std::nullopt;
        const Chunk& chunk = result.chunk(c);
        const std::size_t first = result.firstRowOf(c);
        progress.note(first, rowCount);
        for (std::size_t column = 0; column < chunk.columnCount(); ++column) {
            findInColumn(chunk.column(column), chunk.rowCount(), finder, scratch, [&](std::size_t row) {
                if (first + row < rowCount) holds[first + row] = true;
            });
        }
    }
    return holds;
}

}  // namespace

ResultView::ResultView(ResultSetPtr result) : result_(std::move(result)) {}

std::optional<ResultView> ResultView::make(ResultSetPtr result, const ViewRequest& request,
                                           const base::Cancellation& cancellation, const TextKey& textKey,
                                           const base::Progress& progress) {
    ResultView view(result);
    const bool isPlain = request.order.empty() && request.filterText.empty() && request.filter.conditions.empty();
    if (isPlain) return view;
    const std::size_t rowCount = result->rowCount();
    const bool hasConditions = !request.filter.conditions.empty();
    const bool hasText = !request.filterText.empty();
    const std::size_t stages = (hasConditions ? 1U : 0U) + (hasText ? 1U : 0U) + request.order.size();
    std::size_t stage = 0;
    auto rows = passingRows(*result, rowCount, request, cancellation, progress.part(0, stages));
    if (!rows) return std::nullopt;
    if (hasConditions) ++stage;
    if (hasText) {
        const auto holds =
            rowsWithText(*result, rowCount, request.filterText, cancellation, progress.part(stage++, stages));
        if (!holds) return std::nullopt;
        std::erase_if(*rows, [&](std::uint32_t row) { return !(*holds)[row]; });
    }
    // The last key first: each further sort keeps the order of what is equal to it.
    for (auto key = request.order.rbegin(); key != request.order.rend(); ++key) {
        const RowOrder by{key->column, key->isDescending, request.areNullsFirst};
        const base::Progress part = progress.part(stage++, stages);
        if (!sortRows(*rows, *result, rowCount, by, textKey, cancellation, part)) return std::nullopt;
    }
    view.rows_ = std::make_shared<const Rows>(std::move(*rows));
    view.sourceRows_ = rowCount;
    return view;
}

}  // namespace pantry::data
