#include "core/data/view/column_shape.h"

#include <algorithm>
#include <charconv>
#include <string_view>
#include <unordered_map>

#include "core/base/text.h"

namespace pantry::data {
namespace {

constexpr std::size_t kSample = 20'000;
constexpr std::size_t kShapeBins = 8;
constexpr std::size_t kShares = 6;
constexpr std::size_t kShapedBetweenChecks = 4096;

/// 2026-11-17 as the number 20261117: good enough to see where dates crowd.
std::optional<double> dateNumber(std::string_view text) {
    if (text.size() < 10 || text[4] != '-' || text[7] != '-') return std::nullopt;
    int year = 0;
    int month = 0;
    int day = 0;
    std::from_chars(text.data(), text.data() + 4, year);
    std::from_chars(text.data() + 5, text.data() + 7, month);
    std::from_chars(text.data() + 8, text.data() + 10, day);
    return year * 372.0 + month * 31.0 + day;
}

std::optional<double> numberOf(const Cell& cell, ColumnType type) {
    if (cell.kind == CellKind::Integer) return static_cast<double>(cell.integer);
    if (cell.kind == CellKind::Real) return cell.real;
    if (cell.kind != CellKind::Text) return std::nullopt;
    if (isNumeric(type)) {
        double value = 0;
        const char* end = cell.bytes.data() + cell.bytes.size();
        return std::from_chars(cell.bytes.data(), end, value).ptr == end ? std::optional(value) : std::nullopt;
    }
    return dateNumber(cell.bytes);
}

ColumnShape histogram(const std::vector<double>& numbers) {
    ColumnShape shape{.isDistribution = true};
    const auto [low, high] = std::ranges::minmax(numbers);
    std::vector<std::size_t> counts(high > low ? kShapeBins : 1, 0);
    for (const double n : numbers) {
        const auto bin =
            static_cast<std::size_t>((n - low) / std::max(high - low, 1e-300) * static_cast<double>(counts.size()));
        ++counts[std::min(bin, counts.size() - 1)];
    }
    const auto most = static_cast<float>(*std::ranges::max_element(counts));
    for (const std::size_t count : counts) shape.bars.push_back(static_cast<float>(count) / most);
    return shape;
}

ColumnShape shares(const std::unordered_map<std::string_view, std::size_t>& counts, std::size_t rows) {
    ColumnShape shape;
    for (const auto& [text, count] : counts) shape.bars.push_back(static_cast<float>(count) / static_cast<float>(rows));
    std::ranges::sort(shape.bars, std::greater{});
    if (shape.bars.size() > kShares) shape.bars.resize(kShares);
    return shape;
}

}  // namespace

std::optional<std::vector<ColumnShape>> shapesOf(const ResultSet& result, std::size_t maxColumns,
                                                 const base::Cancellation& cancellation) {
    std::vector<ColumnShape> shapes;
    const std::size_t rows = result.rowCount();
    const std::size_t step = rows / kSample + 1;
    for (std::size_t column = 0; column < std::min(result.columns().size(), maxColumns); ++column) {
        std::vector<double> numbers;
        std::unordered_map<std::string_view, std::size_t> texts;
        std::size_t nulls = 0;
        std::size_t seen = 0;
        bool isAllNumbers = true;
        for (std::size_t row = 0; row < rows; row += step) {
            if (seen++ % kShapedBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
            const Cell cell = result.cell(row, column);
            if (cell.isNull()) {
                ++nulls;
            } else if (const auto number = numberOf(cell, result.columns()[column].type)) {
                numbers.push_back(*number);
            } else {
                isAllNumbers = false;
            }
            if (!cell.isNull() && cell.kind == CellKind::Text) ++texts[cell.bytes.substr(0, 64)];
        }
        ColumnShape shape;
        if (!numbers.empty() && isAllNumbers) {
            shape = histogram(numbers);
        } else if (!texts.empty()) {
            shape = shares(texts, seen);
        }
        shape.nullShare = seen == 0 ? 0 : static_cast<float>(nulls) / static_cast<float>(seen);
        shapes.push_back(std::move(shape));
    }
    return shapes;
}

}  // namespace pantry::data
