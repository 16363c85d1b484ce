#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/dialect.h"

namespace pantry::sql {

enum class Severity { Error, Warning, Hint };

/// Something in a text that is, or is likely to be, a mistake.
struct Finding {
    std::string rule;  ///< its name, such as syntax or unknown-backslash-line
    Severity severity = Severity::Error;
    std::size_t start = 0;  ///< byte range in the text
    std::size_t length = 0;
    std::string message;  ///< what and why, one sentence or two
};

[[nodiscard]] std::string_view severityName(Severity severity);

/// Everything that can be found out from the text alone, in the order of the text.
[[nodiscard]] std::vector<Finding> checkScript(std::string_view text, Language dialect);

}  // namespace pantry::sql
