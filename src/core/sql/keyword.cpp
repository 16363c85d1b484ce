#include "core/sql/keyword.h"

#include <array>

#include "core/base/text.h"

namespace pantry::sql {
namespace {

struct Entry {
    std::string_view spelling;
    std::string_view dialects;
};

constexpr auto kEntries = std::to_array<Entry>({
    {"", ""},
#define PANTRY_KEYWORD(enumerator, spelling, dialects) {spelling, dialects},
#include "core/sql/keywords.def"
#undef PANTRY_KEYWORD
});

constexpr std::size_t kSlots = 4096;  // a power of two, so sparse that a look-up ends after a step or two

/// Length, first three letters and last two in capitals, mixed: enough to tell keywords apart, whatever their length.
constexpr std::size_t slotOf(std::string_view word) {
    const auto letter = [&](std::size_t i) -> std::uint32_t { return static_cast<unsigned char>(word[i]) & 0xDFU; };
    const std::size_t n = word.size();
    std::uint32_t hash = letter(0) | letter(n > 1 ? 1 : 0) << 8U | letter(n > 2 ? 2 : 0) << 16U | letter(n - 1) << 24U;
    hash ^= static_cast<std::uint32_t>(n) << 5U;
    hash = hash * 2654435761U ^ (letter(n / 2) * 40503U);
    return (hash ^ (hash >> 15U)) % kSlots;
}

constexpr std::array<std::uint16_t, kSlots> makeTable() {
    std::array<std::uint16_t, kSlots> table{};
    for (std::size_t i = 1; i < kEntries.size(); ++i) {
        std::size_t slot = slotOf(kEntries[i].spelling);
        while (table[slot] != 0) slot = (slot + 1) % kSlots;
        table[slot] = static_cast<std::uint16_t>(i);
    }
    return table;
}

constexpr auto kTable = makeTable();

bool spells(std::string_view word, std::string_view spelling) {
    if (word.size() != spelling.size()) return false;
    for (std::size_t i = 0; i < word.size(); ++i) {
        // Spellings are letters and _, so a small letter differs from its capital in one bit.
        if (word[i] != spelling[i] && (word[i] ^ 0x20) != spelling[i]) return false;
        if (spelling[i] == '_' && word[i] != '_') return false;
    }
    return true;
}

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

}  // namespace

Keyword keywordOf(std::string_view word) {
    if (word.size() > kLongestKeyword || word.empty()) return Keyword::None;
    for (std::size_t slot = slotOf(word); kTable[slot] != 0; slot = (slot + 1) % kSlots) {
        if (spells(word, kEntries[kTable[slot]].spelling)) return static_cast<Keyword>(kTable[slot]);
    }
    return Keyword::None;
}

std::string_view spellingOf(Keyword keyword) { return kEntries[static_cast<std::size_t>(keyword)].spelling; }

std::string_view smallSpellingOf(Keyword keyword) {
    const auto i = static_cast<std::size_t>(keyword);
    return {kSmall.letters.data() + kSmall.starts[i], static_cast<std::size_t>(kSmall.starts[i + 1] - kSmall.starts[i])};
}

bool isReserved(Keyword keyword, Dialect dialect) {
    constexpr std::string_view kLetters = "PMSA";
    const char letter = kLetters[static_cast<std::size_t>(dialect)];
    return kEntries[static_cast<std::size_t>(keyword)].dialects.find(letter) != std::string_view::npos;
}

}  // namespace pantry::sql
