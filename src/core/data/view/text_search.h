#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/progress.h"
#include "core/data/view/result_view.h"

namespace pantry::data {

/// Looks for a text, ignoring the case of ASCII letters.
///
/// Cost: some bytes a cycle: sixteen places are compared at once by the text's first and last byte (Muła,
/// “SIMD-friendly algorithms for substring searching”, 2016).
class TextFinder {
public:
    explicit TextFinder(std::string_view needle);

    static constexpr std::size_t kNone = static_cast<std::size_t>(-1);

    /// Where the text begins in `haystack`, not before `from`; kNone when it is not in there.
    [[nodiscard]] std::size_t find(std::string_view haystack, std::size_t from = 0) const;
    [[nodiscard]] bool isIn(const Cell& cell, std::string& scratch) const;

    [[nodiscard]] const std::string& needle() const { return needle_; }
    /// Whether a number's text can hold it at all.
    [[nodiscard]] bool mayBeInNumber() const { return mayBeInNumber_; }

private:
    [[nodiscard]] bool matchesAt(const char* place) const;

    std::string needle_;  // in small letters
    bool mayBeInNumber_ = false;
};

/// Calls `hit` with the row in the chunk for each cell of a column that holds the text, in order.
template <class Hit>
void findInColumn(const ChunkColumn& column, std::size_t rowCount, const TextFinder& finder, std::string& scratch,
                  const Hit& hit) {
    if (!column.isPlainBytes()) {
        if (column.isPlainNumbers() && !finder.mayBeInNumber()) return;
        for (std::size_t row = 0; row < rowCount; ++row) {
            if (finder.isIn(column.cell(row), scratch)) hit(row);
        }
        return;
    }
    const std::string_view bytes = column.allBytes();
    for (std::size_t at = finder.find(bytes); at != TextFinder::kNone;) {
        const std::size_t row = column.rowOfByte(at);
        const std::size_t end = column.endOf(row);
        if (at + finder.needle().size() <= end) {  // else it goes over the border of two values
            hit(row);
            at = finder.find(bytes, end);
        } else {
            at = finder.find(bytes, at + 1);
        }
    }
}

/// All cells of a view that hold a text.
struct SearchHits {
    std::string text;
    std::vector<CellPlace> places;  ///< in reading order; at most kMaxPlaces
    std::size_t count = 0;          ///< all of them

    static constexpr std::size_t kMaxPlaces = 1'000'000;

    /// The number of the hit after `from` in reading order, or before it, going round; nothing when there is none.
    [[nodiscard]] std::optional<std::size_t> next(CellPlace from, bool forward) const;
};

/// Nothing when cancelled. Looks at the rows that the view shows now.
[[nodiscard]] std::optional<SearchHits> searchCells(const ResultView& view, std::string_view text,
                                                    const base::Cancellation& cancellation,
                                                    const base::Progress& progress = {});

}  // namespace pantry::data
