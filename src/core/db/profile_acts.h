#pragma once

#include <string>
#include <vector>

#include "core/db/profile.h"

namespace pantry::db {

/// What a connection does when it is used, one line each and without secrets: where it leads, the statements it runs,
/// the files, variables and libraries that it reads. For somebody who has it from another's file and is to decide
/// whether it may. Control characters are made visible.
[[nodiscard]] std::vector<std::string> actsOf(const ConnectionProfile& profile);

}  // namespace pantry::db
