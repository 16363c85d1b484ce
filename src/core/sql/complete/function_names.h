#pragma once

#include <span>
#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A function that every server of a dialect has.
struct FunctionFact {
    std::string_view name;
    std::string_view arguments;  ///< as a reader wants to see them: “text, from, length”
};

/// Built-in functions by name, after the engines' manuals; not complete, the commonest ones.
[[nodiscard]] std::span<const FunctionFact> functionsOf(Dialect dialect);

}  // namespace pantry::sql
