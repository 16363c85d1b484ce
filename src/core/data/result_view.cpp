#include "core/data/result_view.h"

#include <algorithm>
#include <charconv>
#include <numeric>
#include <string_view>

#include "core/base/text.h"

namespace pantry::data {
namespace {

using Rows = std::vector<std::uint32_t>;

constexpr std::size_t kRowsBetweenChecks = 4096;

/// Order of kinds where a column mixes them: numbers, text, binary; NULL last.
int rankOf(CellKind kind) {
    switch (kind) {
        case CellKind::Integer:
        case CellKind::Real: return 0;
        case CellKind::Text: return 1;
        case CellKind::Binary: return 2;
        case CellKind::Null: break;
    }
    return 3;
}

/// A column's values as a sort needs them: read once, so that the comparisons touch plain memory.
struct Keys {
    std::vector<int> ranks;
    std::vector<double> numbers;
    std::vector<std::string_view> texts;
    std::vector<std::int64_t> integers;  // when all values are integers, for exactness beyond 2^53
    bool isAllInteger = true;
    bool isAllNumber = true;
};

bool looksDecimal(ColumnType type) { return type == ColumnType::Decimal; }

/// Reads “12.30” as a number so that decimals that came as text sort by value.
std::optional<double> numberIn(std::string_view text) {
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code != std::errc() || end != text.data() + text.size()) return std::nullopt;
    return value;
}

std::optional<Keys> readKeys(const ResultSet& result, std::size_t column, std::size_t rows,
                             const base::Cancellation& cancellation) {
    Keys keys;
    keys.ranks.reserve(rows);
    const bool isDecimal = looksDecimal(result.columns()[column].type);
    for (std::size_t c = 0; keys.ranks.size() < rows; ++c) {
        if (cancellation.isRequested()) return std::nullopt;
        const Chunk& chunk = result.chunk(c);
        for (std::size_t r = 0; r < chunk.rowCount() && keys.ranks.size() < rows; ++r) {
            Cell cell = chunk.cell(r, column);
            if (isDecimal && cell.kind == CellKind::Text) {
                if (const auto number = numberIn(cell.bytes)) cell = {.kind = CellKind::Real, .real = *number};
            }
            keys.ranks.push_back(rankOf(cell.kind));
            keys.integers.push_back(cell.integer);
            keys.numbers.push_back(cell.kind == CellKind::Integer ? static_cast<double>(cell.integer) : cell.real);
            keys.texts.push_back(cell.bytes);
            if (cell.kind != CellKind::Null) {
                keys.isAllInteger = keys.isAllInteger && cell.kind == CellKind::Integer;
                keys.isAllNumber = keys.isAllNumber && rankOf(cell.kind) == 0;
            }
        }
    }
    return keys;
}

/// Thrown through std::stable_sort, whose comparisons are the only place to notice a wish to stop.
struct SortCancelled {};

template <class Less>
void sortRows(Rows& rows, Less less, const base::Cancellation& cancellation) {
    std::size_t comparisons = 0;
    std::ranges::stable_sort(rows, [&](std::uint32_t a, std::uint32_t b) {
        if (++comparisons % 65536 == 0 && cancellation.isRequested()) throw SortCancelled{};
        return less(a, b);
    });
}

void sortBy(Rows& rows, const Keys& k, bool isDescending, const base::Cancellation& cancellation) {
    const auto directed = [&](auto valueLess) {
        return [&k, isDescending, valueLess](std::uint32_t a, std::uint32_t b) {
            const bool aNull = k.ranks[a] == 3;
            const bool bNull = k.ranks[b] == 3;
            if (aNull || bNull) return !aNull && bNull;
            return isDescending ? valueLess(b, a) : valueLess(a, b);
        };
    };
    if (k.isAllInteger) {
        return sortRows(rows, directed([&](auto a, auto b) { return k.integers[a] < k.integers[b]; }), cancellation);
    }
    if (k.isAllNumber) {
        return sortRows(rows, directed([&](auto a, auto b) { return k.numbers[a] < k.numbers[b]; }), cancellation);
    }
    sortRows(rows, directed([&](auto a, auto b) {
                 if (k.ranks[a] != k.ranks[b]) return k.ranks[a] < k.ranks[b];
                 return k.ranks[a] == 0 ? k.numbers[a] < k.numbers[b] : k.texts[a] < k.texts[b];
             }),
             cancellation);
}

bool rowContains(const Chunk& chunk, std::size_t row, std::string_view needle, std::string& scratch) {
    for (std::size_t column = 0; column < chunk.columnCount(); ++column) {
        if (cellContains(chunk.cell(row, column), needle, scratch)) return true;
    }
    return false;
}

std::optional<Rows> filteredRows(const ResultSet& result, std::size_t rowCount, const std::string& text,
                                 const base::Cancellation& cancellation) {
    Rows rows;
    if (text.empty()) {
        rows.resize(rowCount);
        std::iota(rows.begin(), rows.end(), 0U);
        return rows;
    }
    const std::string needle = base::toLower(text);
    std::string scratch;
    for (std::size_t c = 0; c < result.chunkCount(); ++c) {
        const std::size_t first = result.firstRowOf(c);
        for (std::size_t r = 0; r < result.chunk(c).rowCount() && first + r < rowCount; ++r) {
            if (r % kRowsBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
            if (rowContains(result.chunk(c), r, needle, scratch)) rows.push_back(static_cast<std::uint32_t>(first + r));
        }
    }
    return rows;
}

}  // namespace

bool cellContains(const Cell& cell, std::string_view lowerNeedle, std::string& scratch) {
    if (cell.isNull()) return false;
    std::string_view haystack = cell.bytes;
    if (cell.kind == CellKind::Integer || cell.kind == CellKind::Real) {
        scratch.clear();
        appendText(scratch, cell);
        haystack = scratch;
    }
    return base::findIgnoringCase(haystack, lowerNeedle) != std::string_view::npos;
}

ResultView::ResultView(ResultSetPtr result) : result_(std::move(result)) {}

std::optional<ResultView> ResultView::make(ResultSetPtr result, const ViewRequest& request,
                                           const base::Cancellation& cancellation) {
    ResultView view(result);
    if (request.order.empty() && request.filterText.empty()) return view;
    const std::size_t rowCount = result->rowCount();
    auto rows = filteredRows(*result, rowCount, request.filterText, cancellation);
    if (!rows) return std::nullopt;
    try {
        // The least important key first: every sort is stable.
        for (auto key = request.order.rbegin(); key != request.order.rend(); ++key) {
            const auto keys = readKeys(*result, key->column, rowCount, cancellation);
            if (!keys) return std::nullopt;
            sortBy(*rows, *keys, key->isDescending, cancellation);
        }
    } catch (const SortCancelled&) {
        return std::nullopt;
    }
    view.rows_ = std::make_shared<const Rows>(std::move(*rows));
    view.sourceRows_ = rowCount;
    return view;
}

std::optional<CellPlace> findCell(const ResultView& view, std::string_view text, CellPlace from, bool forward,
                                  const base::Cancellation& cancellation) {
    const std::size_t rows = view.rowCount();
    const std::size_t columns = view.result()->columns().size();
    if (rows == 0 || columns == 0 || text.empty()) return std::nullopt;
    const std::size_t cells = rows * columns;
    const std::string needle = base::toLower(text);
    std::string scratch;
    std::size_t at = std::min(from.row, rows - 1) * columns + std::min(from.column, columns - 1);
    for (std::size_t n = 0; n < cells; ++n) {
        if (n % kRowsBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
        at = forward ? (at + 1) % cells : (at + cells - 1) % cells;
        const CellPlace place{at / columns, at % columns};
        const Cell cell = view.result()->cell(view.rowAt(place.row), place.column);
        if (cellContains(cell, needle, scratch)) return place;
    }
    return std::nullopt;
}

}  // namespace pantry::data
