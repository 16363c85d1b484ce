#pragma once

#include <span>
#include <string_view>

#include "core/sql/layout/formatter.h"

namespace pantry::sql {

/// A choice of the style, under the names it has on the command line and in the settings.
struct FormatChoice {
    std::string_view name;     ///< keywords
    std::string_view setting;  ///< formatKeywords
    std::string_view help;
    std::span<const std::string_view> words;  ///< the values, the first one is the default
    std::size_t (*get)(const FormatOptions&);
    void (*set)(FormatOptions&, std::size_t word);
};

/// All choices between words; width and indent are numbers and stand apart.
[[nodiscard]] std::span<const FormatChoice> formatChoices();

/// Sets a choice by its word; false when it has no such value.
bool choose(FormatOptions& options, const FormatChoice& choice, std::string_view word);

}  // namespace pantry::sql
