#pragma once

#include <optional>
#include <string>

#include "core/base/result.h"
#include "core/db/profile.h"
#include "core/db/session.h"

namespace pantry::store {

/// The password of a connection, from where its profile says; nothing when there is none, which some servers accept.
/// Errors: what the keyring can fail with; NotFound for a variable that is not set or a file without a fitting line.
/// May wait some seconds for the keyring: not for the window's thread.
Result<std::optional<std::string>> findPassword(const db::ConnectionProfile& profile);

/// The same for a session: `typed`, when there is one, comes before all.
[[nodiscard]] db::PasswordProvider passwordProvider(std::optional<std::string> typed);

}  // namespace pantry::store
