#include "core/data/view/cell_sums.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <unordered_set>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/data/view/decimal.h"
#include "core/data/view/distinct_count.h"
#include "core/data/view/value_order.h"

namespace pantry::data {
namespace {

constexpr std::size_t kCellsBetweenChecks = 1024;
constexpr std::size_t kSumsCountedExactly = 50'000;  // different values; beyond, their number is estimated
constexpr std::size_t kShownBytes = 24;              // of a smallest or largest text

class Summer {
public:
    explicit Summer(std::optional<ValueOrder> order) : order_(order) {}

    void add(const Cell& cell, ValueOrder order) {
        ++out_.cellCount;
        if (cell.isNull()) {
            ++out_.nullCount;
            return;
        }
        noteDifferent(cell);
        if (order_) noteExtremes(cell);
        if (cell.kind == CellKind::Integer) {
            exact_.add(cell.integer);
            approximate_ += static_cast<double>(cell.integer);
        } else if (cell.kind == CellKind::Real) {
            out_.isExact = false;
            approximate_ += cell.real;
        } else if (cell.kind != CellKind::Text || order != ValueOrder::Number || !exact_.add(cell.bytes)) {
            return;
        } else {
            approximate_ += doubleIn(cell.bytes).value_or(0);
        }
        ++out_.numberCount;
    }

    CellSums finish() {
        out_.isDistinctEstimated = hashes_.size() > kSumsCountedExactly;
        out_.distinct = out_.isDistinctEstimated ? estimate_.count() : hashes_.size();
        if (minimum_) out_.minimum = toText(*minimum_);
        if (maximum_) out_.maximum = toText(*maximum_);
        if (out_.numberCount == 0) return std::move(out_);
        constexpr int kFurtherDigits = 4;
        out_.sum = out_.isExact ? exact_.text() : fmt::format("{:.10g}", approximate_);
        out_.mean = out_.isExact ? withoutEndZeros(exact_.mean(out_.numberCount, kFurtherDigits))
                                 : fmt::format("{:.10g}", approximate_ / static_cast<double>(out_.numberCount));
        return std::move(out_);
    }

private:
    static std::string withoutEndZeros(std::string text) {
        if (text.find('.') == std::string::npos) return text;
        text.erase(text.find_last_not_of('0') + 1);
        if (text.ends_with('.')) text.pop_back();
        return text;
    }

    void noteDifferent(const Cell& cell) {
        std::string_view text = cell.bytes;
        if (cell.kind == CellKind::Integer || cell.kind == CellKind::Real) {
            scratch_.clear();
            appendText(scratch_, cell);
            text = scratch_;
        }
        const std::uint64_t hash = hashOf(text);
        estimate_.add(hash);
        if (hashes_.size() <= kSumsCountedExactly) hashes_.insert(hash);
    }

    void noteExtremes(const Cell& cell) {
        if (!minimum_ || compareCells(cell, *minimum_, *order_) < 0) minimum_ = cell;
        if (!maximum_ || compareCells(cell, *maximum_, *order_) > 0) maximum_ = cell;
    }

    std::optional<ValueOrder> order_;  // that all columns share
    CellSums out_;
    DecimalSum exact_;
    double approximate_ = 0;
    DistinctEstimate estimate_;
    std::unordered_set<std::uint64_t> hashes_;
    std::optional<Cell> minimum_;
    std::optional<Cell> maximum_;
    std::string scratch_;
};

std::optional<ValueOrder> sharedOrder(const ResultSet& result, const std::vector<CellBlock>& blocks) {
    std::set<ValueOrder> orders;
    for (const CellBlock& block : blocks) {
        for (std::size_t c = block.left; c <= block.right; ++c) orders.insert(valueOrderOf(result.columns()[c]));
    }
    return orders.size() == 1 ? std::optional(*orders.begin()) : std::nullopt;
}

/// With its thousands apart, when it is a plain number.
std::string shownNumber(const std::string& text) {
    const std::size_t start = text.starts_with('-') ? 1 : 0;
    const std::size_t end = std::min(text.find_first_not_of("0123456789", start), text.size());
    if (end - start > 18 || end == start || (end < text.size() && text[end] != '.')) return text;
    const std::string whole = base::grouped(std::stoll(text.substr(start, end - start)));
    return text.substr(0, start) + whole + text.substr(end);
}

std::string shownValue(const std::string& text, bool isNumber) {
    if (isNumber) return shownNumber(text);
    return base::oneLine(text, kShownBytes);
}

}  // namespace

std::optional<CellSums> sumCells(const ResultView& view, const std::vector<CellBlock>& blocks,
                                 const base::Cancellation& cancellation) {
    const ResultSet& result = *view.result();
    Summer summer(sharedOrder(result, blocks));
    for (const CellBlock& block : blocks) {
        for (std::size_t row = block.top; row <= block.bottom && row < view.rowCount(); ++row) {
            if (row % kCellsBetweenChecks == 0 && cancellation.isRequested()) return std::nullopt;
            for (std::size_t column = block.left; column <= block.right; ++column) {
                summer.add(result.cell(view.rowAt(row), column), valueOrderOf(result.columns()[column]));
            }
        }
    }
    return summer.finish();
}

std::string describe(const CellSums& sums) {
    std::string out = base::counted(sums.cellCount, "cell", "cells");
    if (sums.nullCount > 0) out += fmt::format(" · {} null", base::grouped(sums.nullCount));
    const auto filled = static_cast<std::size_t>(sums.cellCount - sums.nullCount);
    if (filled > 1) {
        out += fmt::format(" · {}{} distinct", sums.isDistinctEstimated ? "about " : "",
                           base::grouped(static_cast<std::int64_t>(sums.distinct)));
    }
    if (!sums.sum.empty()) out += fmt::format(" · sum {} · mean {}", shownNumber(sums.sum), shownNumber(sums.mean));
    if (filled > 1 && !sums.minimum.empty()) {
        const bool areNumbers = sums.numberCount > 0;
        out +=
            fmt::format(" · from {} to {}", shownValue(sums.minimum, areNumbers), shownValue(sums.maximum, areNumbers));
    }
    return out;
}

}  // namespace pantry::data
