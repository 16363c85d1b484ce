#pragma once

#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// How many steps deeper than a line the next one begins while it is written, as the formatter would lay it out: behind
/// an open bracket, or behind a word whose list or body comes next (SELECT, VALUES, BEGIN, THEN). Less than nothing
/// where the line closes more than it opens behind its first word.
[[nodiscard]] int indentBehind(std::string_view line, const Language& language);

}  // namespace pantry::sql
