#pragma once

#include "core/db/profile.h"

namespace pantry::db {

/// Whether a database of this engine is a file of this machine: nobody is connected to, and nobody asks for a password.
[[nodiscard]] constexpr bool isFile(Engine engine) { return engine == Engine::Sqlite; }

}  // namespace pantry::db
