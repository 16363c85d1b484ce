#pragma once

#include <string_view>

#include "core/db/profile.h"

namespace pantry::app {

/// The colour that tells where one is, by the names of the theme's palette: red on a live connection whatever was
/// chosen for it, else the chosen one.
[[nodiscard]] inline std::string_view signalColour(const db::ConnectionProfile& profile) {
    return profile.environment == db::Environment::Live ? db::usualColour(db::Environment::Live) : profile.colour;
}

/// Whether somebody chose another colour, which then stands as a mark beside.
[[nodiscard]] inline bool hasMark(const db::ConnectionProfile& profile) {
    return signalColour(profile) != profile.colour;
}

}  // namespace pantry::app
