#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::base {

/// No image of this process's memory, which may hold passwords, is written when it crashes, and no other process of
/// this user may look into it. AGILE_PANTRY_CORE_DUMPS=1 in the environment leaves it as it is, for developers.
void keepMemoryPrivate();

/// Client libraries take passwords, and services that hold some, from variables of the environment by themselves, past
/// every rule of ours about where one may go. Takes these variables out of the environment and keeps them for
/// environmentValue(). To be called when a program starts, before it has threads.
void takePasswordVariables();
/// The value of a variable, be it taken or not.
[[nodiscard]] std::optional<std::string> environmentValue(std::string_view name);

/// The arguments as they were given. What other users see of them (ps) loses what base::withoutSecretText() hides.
[[nodiscard]] std::vector<std::string> takeArguments(int argc, char** argv);

}  // namespace pantry::base
