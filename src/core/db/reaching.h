#pragma once

#include "core/base/cancellation.h"
#include "core/db/connecting.h"

namespace pantry::db {

/// Tries the way to a server before anybody signs in: the socket, or the host's name and then its port. False when one
/// of these stages failed; each failure says what to do.
bool tryToReach(const ConnectionProfile& profile, std::uint16_t usualPort, TestStages& stages);

}  // namespace pantry::db
