#pragma once

#include <optional>
#include <string_view>
#include <vector>

namespace pantry::base {

/// How well a typed pattern fits a name, and which bytes of the name it took.
struct FuzzyMatch {
    int score = 0;  ///< higher is better; only comparable for the same pattern
    std::vector<std::size_t> places;
};

/// Matches the characters of `pattern` in order within `text`, ignoring the case of ASCII letters.
/// Prefixes, whole words and unbroken runs score higher; long leftovers lower. Nothing when it does not fit;
/// an empty pattern fits everything with score 0.
///
/// Cost: |pattern| * |text|, after the usual dynamic programme for approximate subsequence scoring.
[[nodiscard]] std::optional<FuzzyMatch> fuzzyMatch(std::string_view pattern, std::string_view text);

/// The score alone, without asking for memory: for lists of thousands.
[[nodiscard]] std::optional<int> fuzzyScore(std::string_view pattern, std::string_view text);

/// The score of a pattern of words, each of which must be found as people abbreviate: from the beginnings of words on,
/// or three letters and more that stand together. Letters that are strewn over a sentence fit nothing. An empty pattern
/// fits everything with score 0.
[[nodiscard]] std::optional<int> wordScore(std::string_view pattern, std::string_view text);

/// How well a word fits a name from the beginnings of the name's words on (frale: frost_alert), or as three letters and
/// more that stand together in it; higher is better, and an exact name the best. Nothing when it does not fit. For many
/// thousands of names: asks for no memory.
[[nodiscard]] std::optional<int> wordStartScore(std::string_view word, std::string_view name);

/// Number of single-letter edits (insert, remove, change, swap neighbours) between two names, ignoring case;
/// `limit` + 1 when there are more. (Damerau 1964, restricted form.)
[[nodiscard]] std::size_t editDistance(std::string_view a, std::string_view b, std::size_t limit);

}  // namespace pantry::base
