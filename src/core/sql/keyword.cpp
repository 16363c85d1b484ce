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
constexpr std::size_t kLongest = 20;

/// FNV-1a over the word in capitals.
constexpr std::size_t slotOf(std::string_view word) {
    std::uint32_t hash = 2166136261U;
    for (const char c : word) hash = (hash ^ static_cast<unsigned char>(base::asciiUpper(c))) * 16777619U;
    return (hash ^ (hash >> 15)) % kSlots;
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
        if (base::asciiUpper(word[i]) != spelling[i]) return false;
    }
    return true;
}

}  // namespace

Keyword keywordOf(std::string_view word) {
    if (word.size() > kLongest || word.empty()) return Keyword::None;
    for (std::size_t slot = slotOf(word); kTable[slot] != 0; slot = (slot + 1) % kSlots) {
        if (spells(word, kEntries[kTable[slot]].spelling)) return static_cast<Keyword>(kTable[slot]);
    }
    return Keyword::None;
}

std::string_view spellingOf(Keyword keyword) { return kEntries[static_cast<std::size_t>(keyword)].spelling; }

bool isReserved(Keyword keyword, Dialect dialect) {
    constexpr std::string_view kLetters = "PMSA";
    const char letter = kLetters[static_cast<std::size_t>(dialect)];
    return kEntries[static_cast<std::size_t>(keyword)].dialects.find(letter) != std::string_view::npos;
}

}  // namespace pantry::sql
