#include "core/data/view/text_search.h"

#if defined(__SSE2__)
#include <emmintrin.h>
#endif

#include <algorithm>
#include <cstring>

#include "core/base/text.h"

namespace pantry::data {
namespace {

constexpr std::uint32_t kNotShown = static_cast<std::uint32_t>(-1);

/// Where each row of the result stands in the view.
std::vector<std::uint32_t> positionsIn(const ResultView& view, std::size_t sourceRows) {
    std::vector<std::uint32_t> positions(sourceRows, kNotShown);
    for (std::size_t i = 0; i < view.rowCount(); ++i) positions[view.rowAt(i)] = static_cast<std::uint32_t>(i);
    return positions;
}

}  // namespace

TextFinder::TextFinder(std::string_view needle) : needle_(base::toLower(needle)) {
    mayBeInNumber_ = needle_.find_first_not_of("0123456789.-+einfaty") == std::string::npos;
}

bool TextFinder::matchesAt(const char* place) const {
    for (std::size_t i = 0; i < needle_.size(); ++i) {
        if (base::asciiLower(place[i]) != needle_[i]) return false;
    }
    return true;
}

std::size_t TextFinder::find(std::string_view haystack, std::size_t from) const {
    const std::size_t length = needle_.size();
    if (length == 0 || haystack.size() < length || from > haystack.size() - length) return kNone;
    const std::size_t last = haystack.size() - length;  // where it can begin at the latest
    std::size_t at = from;
#if defined(__SSE2__)
    // A letter in small and in capital differs by one bit: with that bit set, both look the same.
    const auto isLetter = [](char c) { return c >= 'a' && c <= 'z'; };
    const char foldFirst = isLetter(needle_.front()) ? 0x20 : 0;
    const char foldLast = isLetter(needle_.back()) ? 0x20 : 0;
    const __m128i first = _mm_set1_epi8(needle_.front());
    const __m128i final = _mm_set1_epi8(needle_.back());
    const __m128i firstBit = _mm_set1_epi8(foldFirst);
    const __m128i finalBit = _mm_set1_epi8(foldLast);
    for (; at + 15 <= last; at += 16) {
        const char* place = haystack.data() + at;
        const __m128i begins = _mm_loadu_si128(reinterpret_cast<const __m128i*>(place));
        const __m128i ends = _mm_loadu_si128(reinterpret_cast<const __m128i*>(place + length - 1));
        const __m128i both = _mm_and_si128(_mm_cmpeq_epi8(_mm_or_si128(begins, firstBit), first),
                                           _mm_cmpeq_epi8(_mm_or_si128(ends, finalBit), final));
        for (auto mask = static_cast<unsigned>(_mm_movemask_epi8(both)); mask != 0; mask &= mask - 1) {
            const std::size_t candidate = at + static_cast<std::size_t>(__builtin_ctz(mask));
            if (matchesAt(haystack.data() + candidate)) return candidate;
        }
    }
#endif
    for (; at <= last; ++at) {
        if (matchesAt(haystack.data() + at)) return at;
    }
    return kNone;
}

bool TextFinder::isIn(const Cell& cell, std::string& scratch) const {
    if (cell.isNull()) return false;
    std::string_view haystack = cell.bytes;
    if (cell.kind == CellKind::Integer || cell.kind == CellKind::Real) {
        if (!mayBeInNumber_) return false;
        scratch.clear();
        appendText(scratch, cell);
        haystack = scratch;
    }
    return find(haystack) != kNone;
}

std::optional<std::size_t> SearchHits::next(CellPlace from, bool forward) const {
    if (places.empty()) return std::nullopt;
    const auto isBefore = [](const CellPlace& a, const CellPlace& b) {
        return a.row != b.row ? a.row < b.row : a.column < b.column;
    };
    if (forward) {
        const auto found = std::upper_bound(places.begin(), places.end(), from, isBefore);
        return found == places.end() ? 0 : static_cast<std::size_t>(found - places.begin());
    }
    const auto found = std::lower_bound(places.begin(), places.end(), from, isBefore);
    return found == places.begin() ? places.size() - 1 : static_cast<std::size_t>(found - places.begin()) - 1;
}

std::optional<SearchHits> searchCells(const ResultView& view, std::string_view text,
                                      const base::Cancellation& cancellation, const base::Progress& progress) {
    SearchHits hits{.text = std::string(text)};
    const TextFinder finder(text);
    const ResultSet& result = *view.result();
    const std::size_t sourceRows = view.sourceRowCount();
    const auto positions = view.isWhole() ? std::vector<std::uint32_t>() : positionsIn(view, sourceRows);
    std::string scratch;
    for (std::size_t c = 0; c < result.chunkCount() && result.firstRowOf(c) < sourceRows; ++c) {
        if (cancellation.isRequested()) return std::nullopt;
        const Chunk& chunk = result.chunk(c);
        const std::size_t firstRow = result.firstRowOf(c);
        progress.note(firstRow, sourceRows);
        for (std::size_t column = 0; column < chunk.columnCount(); ++column) {
            findInColumn(chunk.column(column), chunk.rowCount(), finder, scratch, [&](std::size_t row) {
                const std::size_t source = firstRow + row;
                if (source >= sourceRows) return;
                const std::size_t position = positions.empty() ? source : positions[source];
                if (position == kNotShown) return;
                ++hits.count;
                if (hits.places.size() < SearchHits::kMaxPlaces) hits.places.push_back({position, column});
            });
        }
    }
    std::ranges::sort(hits.places, [](const CellPlace& a, const CellPlace& b) {
        return a.row != b.row ? a.row < b.row : a.column < b.column;
    });
    return hits;
}

}  // namespace pantry::data
