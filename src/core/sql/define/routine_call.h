#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/object_details.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// What somebody gives for a parameter of a routine.
struct Argument {
    enum class Kind {
        Text,  ///< as a value: quoted, unless the type is a number or a truth value
        Null,
        Default,     ///< left out, where the routine has a default
        Expression,  ///< as it stands: now(), 3 * 4
    };
    Kind kind = Kind::Text;
    std::string text;
};

/// The statement that calls a routine with these arguments, one for each parameter that takes a value: SELECT for a
/// function, CALL for a procedure, and what reads the values that it hands back. Without terminators, in their order.
/// Errors: InvalidInput for text that is no value of its type, with the parameter's name.
[[nodiscard]] Result<std::vector<std::string>> callOf(const catalog::ObjectName& routine,
                                                      const catalog::ObjectDetails& details,
                                                      const std::vector<Argument>& arguments, Dialect dialect);

/// The parameters for which somebody gives a value, in their order.
[[nodiscard]] std::vector<const catalog::RoutineParameter*> parametersToFill(const catalog::ObjectDetails& details);

/// The values that a parameter's type has, where they are few: truth values, those of an enumeration. `catalog`: where
/// types are looked up; may be null.
[[nodiscard]] std::vector<std::string> choicesFor(const catalog::RoutineParameter& parameter,
                                                  const catalog::Catalog* catalog, Dialect dialect);

}  // namespace pantry::sql
