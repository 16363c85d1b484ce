#pragma once

#include <string>
#include <string_view>

namespace pantry::shelf {

/// What somebody did to a saved query, in a few words, for the message of its version: “Condition on visited_on added”,
/// “lead_warden and plot added”, “Title changed”. Both are contents of files. Without a text before it: “First
/// version”. Never empty.
[[nodiscard]] std::string describeChange(std::string_view before, std::string_view now);

}  // namespace pantry::shelf
