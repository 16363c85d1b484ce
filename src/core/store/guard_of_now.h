#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>

#include "core/db/guard.h"

namespace pantry::store {

/// How a run on a saved connection is guarded by what its file says at the moment of asking: another window or program
/// may have made it live. Nothing when it is not there any more. Reads a file: not for the window's thread.
[[nodiscard]] std::function<std::optional<db::RunGuard>()> guardOfNow(std::filesystem::path connectionsFile,
                                                                      std::string profileId);

}  // namespace pantry::store
