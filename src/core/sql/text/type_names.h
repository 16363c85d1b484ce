#pragma once

#include <span>
#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// Types that columns mostly have, as the dialect writes them; the usual ones first.
[[nodiscard]] std::span<const std::string_view> usualTypes(Dialect dialect);

}  // namespace pantry::sql
