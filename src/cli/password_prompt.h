#pragma once

#include <optional>
#include <string>

#include "core/db/profile.h"

namespace pantry::cli {

/// Whether a server lets this profile in only with a password that somebody has to type: tried by signing in. False
/// where no terminal is there to type on.
[[nodiscard]] bool wantsPassword(const db::ConnectionProfile& profile);

/// Asks on the terminal itself, whatever standard input is, without showing what is typed. Nothing when nobody can
/// answer.
[[nodiscard]] std::optional<std::string> askForPassword(const std::string& question);

}  // namespace pantry::cli
