#pragma once

#include "core/db/profile.h"

namespace pantry::db {

/// Whether a database of this engine is a file of this machine: nobody is connected to, and nobody asks for a password.
[[nodiscard]] constexpr bool isFile(Engine engine) { return engine == Engine::Sqlite; }

/// Whether the driver speaks to the server itself, and so can tell whether what goes over the network is encrypted.
[[nodiscard]] constexpr bool tellsEncryption(Engine engine) {
    return engine == Engine::Postgres || engine == Engine::MariaDb;
}

}  // namespace pantry::db
