#pragma once

#include <cstdint>
#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A word that means something to some dialect; None for every other word.
enum class Keyword : std::uint16_t {
    None,
#define PANTRY_KEYWORD(enumerator, spelling, dialects) enumerator,
#include "core/sql/text/keywords.def"
#undef PANTRY_KEYWORD
};

/// The keyword that `word` spells in any case, or Keyword::None.
[[nodiscard]] Keyword keywordOf(std::string_view word);

/// How many there are, with Keyword::None.
inline constexpr std::size_t kKeywordCount = 0
#define PANTRY_KEYWORD(enumerator, spelling, dialects) +1  // NOLINT(bugprone-macro-parentheses): summands
#include "core/sql/text/keywords.def"
#undef PANTRY_KEYWORD
                                             + 1;

/// No keyword is longer.
inline constexpr std::size_t kLongestKeyword = 20;

/// Its spelling in capitals; empty for Keyword::None.
[[nodiscard]] std::string_view spellingOf(Keyword keyword);

/// The same in small letters.
[[nodiscard]] std::string_view smallSpellingOf(Keyword keyword);

/// Whether the word must be quoted to serve as a name.
[[nodiscard]] bool isReserved(Keyword keyword, Dialect dialect);

}  // namespace pantry::sql
