#pragma once

#include <optional>
#include <string>

#include "core/db/profile.h"

namespace pantry::cli {

/// A password that somebody types for a server that lets this profile in only with one, which is tried by signing in.
/// Asks on the terminal itself, whatever standard input is, without showing what is typed, and up to three times while
/// the server refuses it. Nothing where no password is wanted or nobody can answer.
[[nodiscard]] std::optional<std::string> passwordFromTerminal(const db::ConnectionProfile& profile);

}  // namespace pantry::cli
