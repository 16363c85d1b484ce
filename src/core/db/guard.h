#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/db/driver.h"
#include "core/db/profile.h"

namespace pantry::db {

/// What is held back on a connection until somebody confirms it.
enum class Guard {
    Off,       ///< nothing
    Reckless,  ///< what nothing limits: UPDATE and DELETE without WHERE, DROP, TRUNCATE
    Changes,   ///< everything that writes, defines, or may do either
};

/// The option guard of a profile (off, reckless, changes); without one, changes on a live connection and reckless on
/// others.
[[nodiscard]] Guard guardOf(const ConnectionProfile& profile);

/// A statement that must be confirmed first.
struct HeldBack {
    std::string reason;      ///< in a sentence
    std::string countQuery;  ///< counts the rows it would touch; empty where that cannot be asked
    bool isReckless = false;
};

/// Whether a statement must be confirmed before it runs on this connection. The line tells how its session reads texts
/// in quotes; a fresh one reads them as its engine does.
[[nodiscard]] std::optional<HeldBack> heldBack(const ConnectionProfile& profile, std::string_view statement,
                                               const LineState& line = {});

}  // namespace pantry::db
