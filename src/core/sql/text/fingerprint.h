#pragma once

#include <cstdint>
#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// By what statements are the same though their bytes differ: layout, comments, the case of words and a terminator say
/// nothing. The same text gives the same numbers on every machine and in every version; they are kept on disk.
struct Fingerprint {
    std::int64_t exact = 0;  ///< values included
    std::int64_t form = 0;   ///< each value stands for any, and several in a row for any number of them
    friend bool operator==(const Fingerprint&, const Fingerprint&) = default;
};

/// Cost: one pass of the lexer.
[[nodiscard]] Fingerprint fingerprintOf(std::string_view statement, const Language& language);

}  // namespace pantry::sql
