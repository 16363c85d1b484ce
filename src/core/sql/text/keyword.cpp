#include "core/sql/text/keyword.h"

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/sql/text/keyword_table.h"

namespace pantry::sql {
namespace {

using keyword_table::kEntries;

/// All spellings in small letters, one after the other.
struct SmallSpellings {
    std::array<char, 16384> letters{};
    std::array<std::uint16_t, kEntries.size() + 1> starts{};
};

constexpr SmallSpellings makeSmallSpellings() {
    SmallSpellings out;
    std::size_t at = 0;
    for (std::size_t i = 0; i < kEntries.size(); ++i) {
        out.starts[i] = static_cast<std::uint16_t>(at);
        for (const char c : kEntries[i].spelling) out.letters[at++] = base::asciiLower(c);
    }
    out.starts[kEntries.size()] = static_cast<std::uint16_t>(at);
    return out;
}

constexpr auto kSmall = makeSmallSpellings();

/// Those that the table does not hold.
constexpr auto kLongKeywords = [] {
    constexpr auto isLong = [](const auto& entry) {
        return entry.spelling.size() > keyword_table::PackedWord::kLetters;
    };
    std::array<Keyword, std::ranges::count_if(kEntries, isLong)> found{};
    std::size_t count = 0;
    for (std::size_t i = 0; i < kEntries.size(); ++i) {
        if (isLong(kEntries[i])) found[count++] = static_cast<Keyword>(i);
    }
    return found;
}();

}  // namespace

Keyword keywordOf(std::string_view word) {
    if (word.size() > kLongestKeyword || word.empty()) return Keyword::None;
    if (word.size() <= keyword_table::PackedWord::kLetters) {
        const Keyword found = keyword_table::find(keyword_table::packed(word));
        return spellingOf(found).size() == word.size() ? found : Keyword::None;  // a blank looks like the word's end
    }
    for (const Keyword keyword : kLongKeywords) {
        if (base::equalsIgnoringCase(word, spellingOf(keyword))) return keyword;
    }
    return Keyword::None;
}

std::string_view spellingOf(Keyword keyword) { return kEntries[static_cast<std::size_t>(keyword)].spelling; }

std::string_view smallSpellingOf(Keyword keyword) {
    const auto i = static_cast<std::size_t>(keyword);
    return {kSmall.letters.data() + kSmall.starts[i],
            static_cast<std::size_t>(kSmall.starts[i + 1] - kSmall.starts[i])};
}

bool isReserved(Keyword keyword, Dialect dialect) {
    constexpr std::string_view kLetters = "PMSA";
    const char letter = kLetters[static_cast<std::size_t>(dialect)];
    return kEntries[static_cast<std::size_t>(keyword)].dialects.find(letter) != std::string_view::npos;
}

}  // namespace pantry::sql
