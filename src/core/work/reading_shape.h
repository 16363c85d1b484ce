#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "core/sql/meaning/pairs.h"
#include "core/work/text_reading.h"

namespace pantry::work {

/// The bracket or word that a byte of a text touches and what it belongs to, by the language that the text is in.
/// Cost: grows with its statement; in JSON with the brackets.
[[nodiscard]] std::optional<sql::TextPair> pairIn(const TextReading& reading, std::size_t offset);

/// How deep each line of a text lies in what can be folded, by the language that the text is in. One for each line.
/// Cost: grows with the text.
[[nodiscard]] std::vector<sql::FoldLine> foldLinesOf(const TextReading& reading);

}  // namespace pantry::work
