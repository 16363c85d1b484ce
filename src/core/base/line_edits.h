#pragma once

#include <string>
#include <string_view>

namespace pantry::base {

/// The lines as one: blanks around each line's end become one space.
[[nodiscard]] std::string joinedLines(std::string_view lines);

/// The lines in the order of their letters, numbers by their value, large and small letters alike; equal ones stay as
/// they stood. Where all but the last one end in a comma, as lists do, the commas stay where they were.
[[nodiscard]] std::string sortedLines(std::string_view lines);

}  // namespace pantry::base
