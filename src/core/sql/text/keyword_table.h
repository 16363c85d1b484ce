#pragma once

#include <array>
#include <bit>
#include <cstdint>
#include <cstring>
#include <string_view>

#include "core/sql/text/keyword.h"

/// How a word is found among the keywords without a loop and without a branch that cannot be foreseen.
///
/// Source: hash and displace (Belazzougui, Botelho, Dietzfelbinger, "Hash, displace, and compress", 2009), in its
/// plainest form: a bucket's displacement is chosen, when this is compiled, so that no two keywords share a slot.
namespace pantry::sql::keyword_table {

struct Entry {
    std::string_view spelling;
    std::string_view dialects;
};

inline constexpr auto kEntries = std::to_array<Entry>({
    {"", ""},
#define PANTRY_KEYWORD(enumerator, spelling, dialects) {spelling, dialects},
#include "core/sql/text/keywords.def"
#undef PANTRY_KEYWORD
});

/// The first sixteen letters of a word in capitals, the rest zero. Words that are not longer are equal exactly when
/// these are, but for case: of all bytes that a name may have only letters lose the bit that makes them small.
struct PackedWord {
    static constexpr std::size_t kLetters = 16;
    std::uint64_t low = 0;
    std::uint64_t high = 0;
    friend constexpr bool operator==(const PackedWord&, const PackedWord&) = default;
};

constexpr PackedWord packed(std::string_view word) {
    PackedWord out;
    for (std::size_t i = 0; i < word.size() && i < PackedWord::kLetters; ++i) {
        const std::uint64_t letter = static_cast<unsigned char>(word[i]) & 0xDFU;
        (i < 8 ? out.low : out.high) |= letter << (i % 8 * 8);
    }
    return out;
}

/// The same for the `length` bytes at `text`. Requires: sixteen bytes can be read there; length is at most sixteen.
inline PackedWord packedAt(const char* text, std::size_t length) {
    static_assert(std::endian::native == std::endian::little);
    alignas(16) static constexpr auto kMasks = [] {
        std::array<unsigned char, 2 * PackedWord::kLetters> bytes{};
        for (std::size_t i = 0; i < PackedWord::kLetters; ++i) bytes[i] = 0xDF;
        return bytes;
    }();
    PackedWord word;
    PackedWord mask;
    std::memcpy(&word, text, sizeof word);
    std::memcpy(&mask, kMasks.data() + PackedWord::kLetters - length, sizeof mask);
    return {word.low & mask.low, word.high & mask.high};
}

inline constexpr std::size_t kBuckets = 512;
inline constexpr std::size_t kSlots = 2048;

constexpr std::uint64_t mixed(const PackedWord& word) {
    const std::uint64_t folded = word.low ^ (word.high << 7U | word.high >> 57U);
    const std::uint64_t product = folded * 0x9E3779B97F4A7C15U;
    return product ^ (product >> 29U);
}
constexpr std::size_t bucketOf(std::uint64_t mix) { return (mix >> 50U) % kBuckets; }
constexpr std::size_t slotOf(std::uint64_t mix, std::uint16_t displacement) {
    return ((mix >> 32U) ^ displacement) % kSlots;
}

struct Table {
    std::array<PackedWord, kEntries.size()> words{};
    std::array<std::uint16_t, kBuckets> displacements{};
    std::array<std::uint16_t, kSlots> slots{};  // indices of kEntries; 0 for a free one
    bool isPerfect = true;

    /// Puts the keywords of one bucket where all of them find a free slot.
    constexpr bool place(const std::uint16_t* keywords, std::size_t count, std::uint16_t displacement) {
        std::size_t placed = 0;
        while (placed < count) {
            std::uint16_t& slot = slots[slotOf(mixed(words[keywords[placed]]), displacement)];
            if (slot != 0) break;
            slot = keywords[placed++];
        }
        if (placed == count) return true;
        while (placed-- > 0) slots[slotOf(mixed(words[keywords[placed]]), displacement)] = 0;
        return false;
    }
};

constexpr Table makeTable() {
    constexpr std::size_t kFullest = 12;
    Table table;
    std::array<std::array<std::uint16_t, kFullest>, kBuckets> members{};
    std::array<std::size_t, kBuckets> counts{};
    for (std::size_t i = 1; i < kEntries.size(); ++i) {
        table.words[i] = packed(kEntries[i].spelling);
        if (kEntries[i].spelling.size() > PackedWord::kLetters) continue;
        const std::size_t bucket = bucketOf(mixed(table.words[i]));
        members[bucket][counts[bucket]++] = static_cast<std::uint16_t>(i);
    }
    for (std::size_t count = kFullest; count > 0; --count) {  // the fullest first, while there is room
        for (std::size_t bucket = 0; bucket < kBuckets; ++bucket) {
            if (counts[bucket] != count) continue;
            std::uint16_t displacement = 0;
            while (displacement < kSlots && !table.place(members[bucket].data(), count, displacement)) ++displacement;
            table.isPerfect = table.isPerfect && displacement < kSlots;
            table.displacements[bucket] = displacement;
        }
    }
    return table;
}

inline constexpr Table kTable = makeTable();
static_assert(kTable.isPerfect, "two keywords share a slot: change the constants of mixed()");

/// The keyword of at most sixteen letters that the word is, or Keyword::None.
inline Keyword find(const PackedWord& word) {
    const std::uint64_t mix = mixed(word);
    const std::uint16_t index = kTable.slots[slotOf(mix, kTable.displacements[bucketOf(mix)])];
    const PackedWord& there = kTable.words[index];
    const bool isSame = ((there.low ^ word.low) | (there.high ^ word.high)) == 0;
    return static_cast<Keyword>(isSame ? index : 0);
}

}  // namespace pantry::sql::keyword_table
