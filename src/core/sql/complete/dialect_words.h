#pragma once

#include <string_view>

#include "core/sql/text/dialect.h"
#include "core/sql/text/keyword.h"

namespace pantry::sql {

/// Whether an engine of that dialect understands the keyword anywhere. The parser takes words of all dialects where
/// they do no harm, so that it cannot tell; from the engines' public manuals.
[[nodiscard]] bool isWordOf(Keyword keyword, Dialect dialect);

/// The version of a server, as far as it decides about words.
struct ServerVersion {
    bool isMariaDb = false;  ///< of the engines that share a dialect
    int major = 0;           ///< 0 where it is not known: then every word passes
    int minor = 0;
};

/// Reads what servers say of themselves: “PostgreSQL 15.6”, “10.11.6-MariaDB”, “8.0.36”, “SQLite 3.40”.
[[nodiscard]] ServerVersion serverVersionIn(std::string_view told);

/// Whether a server of that version understands a keyword that its engine learned late.
[[nodiscard]] bool isWordSince(Keyword keyword, Dialect dialect, const ServerVersion& version);

}  // namespace pantry::sql
