#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/layout/formatter.h"

namespace pantry::sql {

/// A part of a text, formatted, with what it takes the place of.
struct FormattedPart {
    std::size_t start = 0;  ///< byte range of the text, widened to whole tokens
    std::size_t end = 0;
    std::string text;
    std::vector<UnreadStatement> unread;
};

/// Formats what somebody selected: blanks around it stay. Of a statement that is selected in part, only that part is
/// laid out, as it would be in the whole, from the indent of its first line on. A part of a statement that cannot be
/// read is tried by itself, such as a subquery.
[[nodiscard]] FormattedPart formatPart(std::string_view text, std::size_t start, std::size_t end,
                                       const Language& language, const FormatOptions& options = {});

}  // namespace pantry::sql
