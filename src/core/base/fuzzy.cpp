#include "core/base/fuzzy.h"

#include <algorithm>
#include <array>

#include "core/base/text.h"

namespace pantry::base {
namespace {

constexpr int kImpossible = -1'000'000;
constexpr int kHit = 8;
constexpr int kRun = 12;        // directly after the previous hit
constexpr int kWordStart = 10;  // at the start, after _ or . or a blank, or a capital after a small letter
constexpr int kFirst = 8;       // at the very start

bool startsWord(std::string_view text, std::size_t i) {
    if (i == 0) return true;
    const char before = text[i - 1];
    if (before == '_' || before == '.' || before == ' ' || before == '-' || before == '/') return true;
    return asciiLower(before) == before && asciiLower(text[i]) != text[i];
}

int gainAt(std::string_view text, std::size_t i) {
    return kHit + (startsWord(text, i) ? kWordStart : 0) + (i == 0 ? kFirst : 0);
}

constexpr std::size_t kLongestOnStack = 128;

/// Whether the pattern's letters come in the text in their order at all: most candidates fail here.
bool isScattered(std::string_view pattern, std::string_view text) {
    std::size_t p = 0;
    for (std::size_t i = 0; i < text.size() && p < pattern.size(); ++i) {
        if (asciiLower(text[i]) == asciiLower(pattern[p])) ++p;
    }
    return p == pattern.size();
}

}  // namespace

std::optional<int> fuzzyScore(std::string_view pattern, std::string_view text) {
    if (pattern.empty()) return 0;
    if (pattern.size() > text.size() || !isScattered(pattern, text)) return std::nullopt;
    const std::size_t n = text.size();
    if (n > kLongestOnStack) {
        const auto match = fuzzyMatch(pattern, text);
        return match ? std::optional(match->score) : std::nullopt;
    }
    // As in fuzzyMatch(), but only the row before is kept.
    std::array<int, kLongestOnStack> rows[2];
    for (std::size_t p = 0; p < pattern.size(); ++p) {
        auto& row = rows[p % 2];
        const auto& before = rows[(p + 1) % 2];
        std::fill_n(row.begin(), n, kImpossible);
        int best = kImpossible;
        for (std::size_t i = p; i < n; ++i) {
            if (p > 0 && i >= 2) best = std::max(best, before[i - 2]);
            if (asciiLower(pattern[p]) != asciiLower(text[i])) continue;
            const int run = p > 0 ? before[i - 1] + kRun : 0;
            row[i] = (p == 0 ? 0 : std::max(run, best)) + gainAt(text, i);
        }
    }
    const auto& last = rows[(pattern.size() - 1) % 2];
    const int top = *std::max_element(last.begin(), last.begin() + static_cast<std::ptrdiff_t>(n));
    if (top < 0) return std::nullopt;
    return top - static_cast<int>(n - pattern.size());
}

std::optional<FuzzyMatch> fuzzyMatch(std::string_view pattern, std::string_view text) {
    if (pattern.empty()) return FuzzyMatch{};
    if (pattern.size() > text.size()) return std::nullopt;
    const std::size_t n = text.size();
    // ending[p][i]: best score with pattern[p] matched exactly at text[i].
    std::vector<std::vector<int>> ending(pattern.size(), std::vector<int>(n, kImpossible));
    std::vector<std::vector<std::size_t>> from(pattern.size(), std::vector<std::size_t>(n, 0));
    for (std::size_t p = 0; p < pattern.size(); ++p) {
        int best = kImpossible;
        std::size_t bestAt = 0;
        for (std::size_t i = p; i < n; ++i) {
            if (p > 0 && i >= 2 && ending[p - 1][i - 2] > best) {
                best = ending[p - 1][i - 2];
                bestAt = i - 2;
            }
            if (asciiLower(pattern[p]) != asciiLower(text[i])) continue;
            if (p == 0) {
                ending[p][i] = gainAt(text, i);
                continue;
            }
            const int run = i >= 1 ? ending[p - 1][i - 1] + kRun : kImpossible;
            ending[p][i] = std::max(run, best) + gainAt(text, i);
            from[p][i] = run >= best ? i - 1 : bestAt;
        }
    }
    const auto& last = ending.back();
    const auto top = std::ranges::max_element(last);
    if (*top < 0) return std::nullopt;
    FuzzyMatch match{*top - static_cast<int>(n - pattern.size()), {}};
    match.places.resize(pattern.size());
    auto at = static_cast<std::size_t>(top - last.begin());
    for (std::size_t p = pattern.size(); p-- > 0; at = from[p][at]) match.places[p] = at;
    return match;
}

std::optional<int> wordScore(std::string_view pattern, std::string_view text) {
    int sum = 0;
    while (!pattern.empty()) {
        const std::size_t blank = std::min(pattern.find(' '), pattern.size());
        const std::string_view word = pattern.substr(0, blank);
        pattern.remove_prefix(std::min(blank + 1, pattern.size()));
        if (word.empty()) continue;
        const auto match = fuzzyMatch(word, text);
        if (!match) return std::nullopt;
        constexpr std::size_t kLongRun = 3;
        for (std::size_t first = 0; first < match->places.size();) {
            std::size_t end = first + 1;
            while (end < match->places.size() && match->places[end] == match->places[end - 1] + 1) ++end;
            if (!startsWord(text, match->places[first]) && end - first < kLongRun) return std::nullopt;
            first = end;
        }
        sum += match->score;
    }
    return sum;
}

namespace {

std::size_t commonLetters(std::string_view a, std::string_view b) {
    std::size_t n = 0;
    while (n < a.size() && n < b.size() && asciiLower(a[n]) == asciiLower(b[n])) ++n;
    return n;
}

/// Takes the word piece by piece from beginnings of words behind `from`; the fewest pieces, or -1.
int piecesFrom(std::string_view word, std::string_view name, std::size_t from, int allowed) {
    if (word.empty()) return 0;
    if (allowed == 0) return -1;
    int best = -1;
    for (std::size_t i = from; i < name.size(); ++i) {
        if (!startsWord(name, i)) continue;
        for (std::size_t n = commonLetters(word, name.substr(i)); n > 0; --n) {
            const int rest = piecesFrom(word.substr(n), name, i + n, best < 0 ? allowed - 1 : best - 2);
            if (rest >= 0 && (best < 0 || rest + 1 < best)) best = rest + 1;
            if (best == 1) return best;
        }
    }
    return best;
}

}  // namespace

std::optional<int> wordStartScore(std::string_view word, std::string_view name) {
    constexpr int kBest = 1000;
    constexpr int kMaxPieces = 6;
    constexpr std::size_t kLongRun = 3;
    if (word.empty()) return 0;
    if (word.size() > name.size() || !isScattered(word, name)) return std::nullopt;
    const int left = static_cast<int>(std::min<std::size_t>(name.size() - word.size(), 60));
    const std::size_t atStart = commonLetters(word, name);
    if (atStart == word.size()) return left == 0 ? kBest : kBest - 100 - left;
    if (const int pieces = piecesFrom(word, name, 0, kMaxPieces); pieces > 0) return kBest - 200 - 60 * pieces - left;
    if (word.size() < kLongRun || findIgnoringCase(name, word) == std::string_view::npos) return std::nullopt;
    return kBest - 700 - left;
}

std::size_t editDistance(std::string_view a, std::string_view b, std::size_t limit) {
    if (a.size() > b.size()) std::swap(a, b);
    if (b.size() - a.size() > limit) return limit + 1;
    std::vector<std::vector<std::size_t>> d(a.size() + 1, std::vector<std::size_t>(b.size() + 1));
    for (std::size_t i = 0; i <= a.size(); ++i) d[i][0] = i;
    for (std::size_t j = 0; j <= b.size(); ++j) d[0][j] = j;
    for (std::size_t i = 1; i <= a.size(); ++i) {
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t change = asciiLower(a[i - 1]) == asciiLower(b[j - 1]) ? 0 : 1;
            d[i][j] = std::min({d[i - 1][j] + 1, d[i][j - 1] + 1, d[i - 1][j - 1] + change});
            const bool isSwap = i > 1 && j > 1 && asciiLower(a[i - 1]) == asciiLower(b[j - 2]) &&
                                asciiLower(a[i - 2]) == asciiLower(b[j - 1]);
            if (isSwap) d[i][j] = std::min(d[i][j], d[i - 2][j - 2] + 1);
        }
    }
    return std::min(d[a.size()][b.size()], limit + 1);
}

}  // namespace pantry::base
