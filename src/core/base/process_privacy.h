#pragma once

#include <string>
#include <vector>

namespace pantry::base {

/// No image of this process's memory, which may hold passwords, is written when it crashes, and no other process of
/// this user may look into it. AGILE_PANTRY_CORE_DUMPS=1 in the environment leaves it as it is, for developers.
void keepMemoryPrivate();

/// The arguments as they were given. What other users see of them (ps) loses what base::withoutSecretText() hides.
[[nodiscard]] std::vector<std::string> takeArguments(int argc, char** argv);

}  // namespace pantry::base
