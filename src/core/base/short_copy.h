#pragma once

#include <cstddef>
#include <cstring>

namespace pantry::base {

/// Copies bytes that do not overlap. Most values of databases are short, and for these the call of memcpy() costs more
/// than the copying: up to 32 bytes go as two pieces of a fixed size from both ends, which may cover the same bytes.
inline void copyShort(char* to, const char* from, std::size_t count) {
    const auto fromBothEnds = [&]<std::size_t kPiece>() {
        std::memcpy(to, from, kPiece);
        std::memcpy(to + count - kPiece, from + count - kPiece, kPiece);
    };
    if (count > 32) {
        std::memcpy(to, from, count);
    } else if (count >= 16) {
        fromBothEnds.operator()<16>();
    } else if (count >= 8) {
        fromBothEnds.operator()<8>();
    } else if (count >= 4) {
        fromBothEnds.operator()<4>();
    } else {
        for (std::size_t i = 0; i < count; ++i) to[i] = from[i];
    }
}

}  // namespace pantry::base
