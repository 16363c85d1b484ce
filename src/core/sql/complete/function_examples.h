#pragma once

#include <span>
#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// One use of a function that shows what it does. Each is run on its engine by a test.
struct FunctionExample {
    std::string_view name;    ///< of the function
    std::string_view call;    ///< trim('  ripe ')
    std::string_view result;  ///< ripe: as the engine writes it
};

/// In no order; not every function has one, and none is about rows of others or the clock.
[[nodiscard]] std::span<const FunctionExample> functionExamples(Dialect dialect);

/// That of a function, in whatever case its name is; nullptr where there is none.
[[nodiscard]] const FunctionExample* exampleOf(std::string_view function, Dialect dialect);

}  // namespace pantry::sql
