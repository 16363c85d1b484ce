#pragma once

#include <string_view>

#include "core/db/profile.h"

namespace pantry::db {

/// The colour that tells where one is, by the names of the theme's palette: red on a live connection whatever was
/// chosen for it, else the chosen one.
[[nodiscard]] std::string_view signalColour(const ConnectionProfile& profile);

/// Whether somebody chose another colour, which then stands as a mark beside.
[[nodiscard]] bool hasMark(const ConnectionProfile& profile);

/// What a connection gets when nobody chooses: red where it is live, and nowhere else.
[[nodiscard]] std::string_view usualColour(Environment environment);

}  // namespace pantry::db
