#pragma once

#include "core/sql/text/dialect.h"
#include "core/sql/text/keyword.h"

namespace pantry::sql {

/// Whether an engine of that dialect understands the keyword anywhere. The parser takes words of all dialects where
/// they do no harm, so that it cannot tell; from the engines' public manuals.
[[nodiscard]] bool isWordOf(Keyword keyword, Dialect dialect);

}  // namespace pantry::sql
