#include "core/work/reading_shape.h"

#include <algorithm>

#include "core/base/line_starts.h"

namespace pantry::work {
namespace {

/// Behind it before in front of it, as everywhere.
std::optional<std::uint32_t> bracketAt(const exchange::JsonOutline& json, std::size_t offset) {
    std::optional<std::uint32_t> found;
    for (const exchange::JsonToken& token : json.tokens) {
        if (token.start > offset) break;
        if (token.kind != exchange::JsonTokenKind::Bracket) continue;
        if (token.start + 1 == offset) return token.start;
        if (token.start == offset) found = token.start;
    }
    return found;
}

std::optional<sql::TextPair> pairOf(const exchange::JsonOutline& json, std::size_t offset) {
    const auto bracket = bracketAt(json, offset);
    if (!bracket) return std::nullopt;
    const auto pair = std::ranges::find_if(
        json.pairs, [&](const exchange::JsonPair& one) { return one.open == *bracket || one.close == *bracket; });
    if (pair == json.pairs.end()) return sql::TextPair{{*bracket, 1}, std::nullopt};
    const std::uint32_t other = pair->open == *bracket ? pair->close : pair->open;
    return sql::TextPair{{*bracket, 1}, sql::TextRange{other, 1}};
}

/// One for each line at which brackets open that close further down; of several the one that closes last.
std::vector<sql::FoldRange> foldsOf(const exchange::JsonOutline& json, const base::LineStarts& lines) {
    std::vector<sql::FoldRange> folds;
    for (const exchange::JsonPair& pair : json.pairs) {
        const sql::FoldRange fold{lines.lineOf(pair.open), lines.lineOf(pair.close)};
        if (fold.lastLine > fold.firstLine) folds.push_back(fold);
    }
    std::ranges::sort(folds, [](const auto& a, const auto& b) {
        return a.firstLine != b.firstLine ? a.firstLine < b.firstLine : a.lastLine > b.lastLine;
    });
    const auto areOfOneLine = [](const auto& a, const auto& b) { return a.firstLine == b.firstLine; };
    folds.erase(std::unique(folds.begin(), folds.end(), areOfOneLine), folds.end());
    return folds;
}

}  // namespace

std::optional<sql::TextPair> pairIn(const TextReading& reading, std::size_t offset) {
    return reading.json() ? pairOf(*reading.json(), offset) : sql::pairAt(reading.script(), offset);
}

std::vector<sql::FoldLine> foldLinesOf(const TextReading& reading) {
    const base::LineStarts lines(reading.script().text());
    std::vector<sql::FoldRange> folds =
        reading.json() ? foldsOf(*reading.json(), lines) : sql::foldsOf(reading.script());
    if (reading.markdown()) {
        for (const markdown::Fold& one : reading.markdown()->folds) folds.push_back({one.firstLine, one.lastLine});
    }
    return sql::foldLines(folds, lines.count());
}

}  // namespace pantry::work
