#pragma once

#include <span>
#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A day that people often compare with.
struct DateWord {
    std::string_view text;     ///< in the engine's own words
    std::string_view meaning;  ///< first of this month
};

[[nodiscard]] std::span<const DateWord> dateWordsOf(Dialect dialect);

/// Whether a type holds dates or moments, as engines write it.
[[nodiscard]] bool isDateType(std::string_view type);
/// Whether a type holds numbers, so that its values are written without quotes.
[[nodiscard]] bool isNumericType(std::string_view type);

}  // namespace pantry::sql
