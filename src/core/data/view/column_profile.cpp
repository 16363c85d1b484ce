#include "core/data/view/column_profile.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <string_view>
#include <unordered_map>

#include "core/base/utf8.h"
#include "core/data/view/decimal.h"
#include "core/data/view/distinct_count.h"
#include "core/data/view/typed_text.h"

namespace pantry::data {
namespace {

constexpr std::size_t kProfiledBetweenChecks = 4096;
constexpr std::size_t kCountedExactly = 100'000;  // different values; beyond, their number is estimated
constexpr std::size_t kCommonest = 12;
constexpr std::size_t kProfileBins = 24;

/// Counts values, each while there are not too many, and all of them by estimate beyond that.
class ValueCounter {
public:
    void add(std::string_view value) {
        estimate_.add(hashOf(value));
        const auto found = counts_.find(value);
        if (found != counts_.end()) {
            ++found->second;
        } else if (counts_.size() < kCountedExactly) {
            counts_.emplace(std::string(value), 1);
        } else {
            isFull_ = true;
        }
    }
    [[nodiscard]] bool isFull() const { return isFull_; }
    [[nodiscard]] std::size_t distinct() const { return isFull_ ? estimate_.count() : counts_.size(); }
    [[nodiscard]] std::vector<ColumnProfile::Common> commonest(std::size_t most) const {
        std::vector<ColumnProfile::Common> all;
        all.reserve(counts_.size());
        for (const auto& [text, count] : counts_) all.push_back({text, count});
        const auto isBefore = [](const ColumnProfile::Common& a, const ColumnProfile::Common& b) {
            return a.count != b.count ? a.count > b.count : a.text < b.text;
        };
        const auto middle = all.begin() + static_cast<std::ptrdiff_t>(std::min(most, all.size()));
        std::partial_sort(all.begin(), middle, all.end(), isBefore);
        all.erase(middle, all.end());
        return all;
    }

private:
    struct Hash {
        using is_transparent = void;
        std::size_t operator()(std::string_view text) const { return std::hash<std::string_view>()(text); }
    };
    std::unordered_map<std::string, std::size_t, Hash, std::equal_to<>> counts_;
    DistinctEstimate estimate_;
    bool isFull_ = false;
};

std::string_view textOf(const Cell& cell, std::string& scratch) {
    if (cell.kind == CellKind::Text || cell.kind == CellKind::Binary) return cell.bytes;
    scratch.clear();
    appendText(scratch, cell);
    return scratch;
}

/// The measure of a value on its column's scale; nothing for what is no number and no moment.
std::optional<double> measureOf(const Cell& cell, ValueOrder order) {
    if (cell.kind == CellKind::Integer) return static_cast<double>(cell.integer);
    if (cell.kind == CellKind::Real) return std::isfinite(cell.real) ? std::optional(cell.real) : std::nullopt;
    if (cell.kind != CellKind::Text) return std::nullopt;
    std::optional<std::int64_t> time;
    switch (order) {
        case ValueOrder::Number: {
            const auto number = doubleIn(cell.bytes);
            return number && std::isfinite(*number) ? number : std::nullopt;
        }
        case ValueOrder::Moment: time = momentIn(cell.bytes); break;
        case ValueOrder::ClockTime: time = clockTimeIn(cell.bytes); break;
        case ValueOrder::Interval: time = intervalIn(cell.bytes); break;
        default: return std::nullopt;
    }
    const bool isEndless = time && (*time == INT64_MAX || *time == INT64_MIN);
    return time && !isEndless ? std::optional(static_cast<double>(*time)) : std::nullopt;
}

class Profiler {
public:
    explicit Profiler(const Column& column) : column_(column) { out_.order = valueOrderOf(column); }

    void add(const Cell& cell) {
        ++out_.rows;
        if (cell.isNull()) {
            ++out_.nulls;
            return;
        }
        counter_.add(textOf(cell, scratch_));
        noteExtremes(cell);
        if (const auto measure = measureOf(cell, out_.order)) measures_.push_back(*measure);
        if (cell.kind == CellKind::Integer) sum_.add(cell.integer);
        if (cell.kind == CellKind::Real) isSumExact_ = false;
        if (cell.kind == CellKind::Text && out_.order == ValueOrder::Number) sum_.add(cell.bytes);
        if (cell.kind == CellKind::Text) noteLength(cell.bytes);
    }

    ColumnProfile finish() {
        out_.distinct = counter_.distinct();
        out_.isDistinctEstimated = counter_.isFull();
        out_.isCommonestPartial = counter_.isFull();
        out_.commonest = counter_.commonest(kCommonest);
        if (minimum_) out_.minimum = toText(*minimum_);
        if (maximum_) out_.maximum = toText(*maximum_);
        if (texts_ > 0) out_.meanLength = static_cast<double>(lengths_) / static_cast<double>(texts_);
        if (!measures_.empty()) measure();
        return std::move(out_);
    }

private:
    void noteExtremes(const Cell& cell) {
        if (!minimum_ || compareCells(cell, *minimum_, out_.order) < 0) minimum_ = cell;
        if (!maximum_ || compareCells(cell, *maximum_, out_.order) > 0) maximum_ = cell;
    }

    void noteLength(std::string_view text) {
        const std::size_t length = base::codePointCount(text);
        if (text.empty()) ++out_.empties;
        out_.shortest = texts_ == 0 ? length : std::min(out_.shortest, length);
        out_.longest = std::max(out_.longest, length);
        lengths_ += length;
        ++texts_;
    }

    /// A place on the scale as the column writes its values.
    [[nodiscard]] std::string written(double measure) const {
        const auto whole = static_cast<std::int64_t>(std::llround(measure));
        switch (out_.order) {
            case ValueOrder::Moment: return momentText(whole, column_.type == ColumnType::Date);
            case ValueOrder::ClockTime:
            case ValueOrder::Interval: return spanText(whole);
            default: return fmt::format("{:.10g}", measure);
        }
    }
    static std::string spanText(std::int64_t microseconds) {
        const std::int64_t seconds = std::abs(microseconds) / 1'000'000;
        return fmt::format("{}{:02}:{:02}:{:02}", microseconds < 0 ? "-" : "", seconds / 3600, seconds / 60 % 60,
                           seconds % 60);
    }

    /// The value below which a share of all lies, between two neighbours in proportion (Hyndman and Fan, 1996, type 7).
    double quantile(double share) {
        const double place = share * static_cast<double>(measures_.size() - 1);
        const auto low = static_cast<std::size_t>(place);
        const auto at = measures_.begin() + static_cast<std::ptrdiff_t>(low);
        std::nth_element(measures_.begin(), at, measures_.end());
        const double value = *at;
        if (low + 1 >= measures_.size()) return value;
        const double above = *std::min_element(at + 1, measures_.end());
        return value + (place - static_cast<double>(low)) * (above - value);
    }

    void measure() {
        const auto count = static_cast<double>(measures_.size());
        // In two passes, so that large values with small differences keep their digits.
        double mean = 0;
        for (const double m : measures_) mean += m / count;
        double squares = 0;
        for (const double m : measures_) squares += (m - mean) * (m - mean);
        const auto [low, high] = std::ranges::minmax(measures_);
        const double lower = quantile(0.25);
        const double middle = quantile(0.5);
        const double upper = quantile(0.75);
        out_.mean = written(mean);
        out_.median = written(middle);
        out_.lowerQuartile = written(lower);
        out_.upperQuartile = written(upper);
        if (out_.order == ValueOrder::Number || isNumberWithoutType()) {
            const double total = mean * count;
            out_.sum = isSumExact_ ? sum_.text() : fmt::format("{:.15g}", total);
            out_.deviation = fmt::format("{:.10g}", std::sqrt(squares / count));
        }
        const double reach = 3 * (upper - lower);
        if (reach > 0) {
            out_.lowerFence = written(lower - reach);
            out_.upperFence = written(upper + reach);
            for (const double m : measures_) {
                if (m < lower - reach) ++out_.farBelow;
                if (m > upper + reach) ++out_.farAbove;
            }
        }
        fillHistogram(low, high);
    }
    [[nodiscard]] bool isNumberWithoutType() const { return out_.order == ValueOrder::Text; }

    void fillHistogram(double low, double high) {
        out_.histogram.assign(high > low ? kProfileBins : 1, 0);
        const auto bins = static_cast<double>(out_.histogram.size());
        for (const double m : measures_) {
            const double share = high > low ? (m - low) / (high - low) : 0;
            ++out_.histogram[std::min(static_cast<std::size_t>(share * bins), out_.histogram.size() - 1)];
        }
    }

    const Column& column_;
    ColumnProfile out_;
    ValueCounter counter_;
    DecimalSum sum_;
    bool isSumExact_ = true;
    std::optional<Cell> minimum_;
    std::optional<Cell> maximum_;
    std::vector<double> measures_;
    std::size_t texts_ = 0;
    std::size_t lengths_ = 0;
    std::string scratch_;
};

template <class Take>
bool forEachCell(const ResultView& view, std::size_t column, const base::Cancellation& cancellation, Take take) {
    const ResultSet& result = *view.result();
    for (std::size_t i = 0; i < view.rowCount(); ++i) {
        if (i % kProfiledBetweenChecks == 0 && cancellation.isRequested()) return false;
        take(result.cell(view.rowAt(i), column));
    }
    return true;
}

}  // namespace

std::optional<ColumnProfile> profileColumn(const ResultView& view, std::size_t column,
                                           const base::Cancellation& cancellation) {
    Profiler profiler(view.result()->columns()[column]);
    if (!forEachCell(view, column, cancellation, [&](const Cell& cell) { profiler.add(cell); })) return std::nullopt;
    return profiler.finish();
}

std::optional<std::vector<ColumnProfile::Common>> commonestValues(const ResultView& view, std::size_t column,
                                                                  std::size_t most,
                                                                  const base::Cancellation& cancellation) {
    ValueCounter counter;
    std::string scratch;
    const bool isWhole = forEachCell(view, column, cancellation, [&](const Cell& cell) {
        if (!cell.isNull()) counter.add(textOf(cell, scratch));
    });
    if (!isWhole) return std::nullopt;
    return counter.commonest(most);
}

}  // namespace pantry::data
