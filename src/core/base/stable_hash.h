#pragma once

#include <cstdint>
#include <string_view>

namespace pantry::base {

/// A hash that is the same on every machine and in every version: FNV-1a with 64 bits (Fowler, Noll, Vo). For names of
/// files and keys of tables; nothing for secrets.
class StableHash {
public:
    constexpr void add(char c) { value_ = (value_ ^ static_cast<unsigned char>(c)) * 1099511628211ULL; }
    constexpr void add(std::string_view bytes) {
        for (const char c : bytes) add(c);
    }
    /// What was added before ends here: “a” and “bc” are not “ab” and “c”.
    constexpr void endPart() { add('\0'); }
    [[nodiscard]] constexpr std::uint64_t value() const { return value_; }

private:
    std::uint64_t value_ = 14695981039346656037ULL;
};

}  // namespace pantry::base
