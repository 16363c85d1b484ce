#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/db/profile.h"
#include "core/db/session.h"

namespace pantry::db {

/// Who and where: the facts about a connection and its session for people, a line each, what matters most first. What
/// is not known yet is left out. `serverVersion` is the server's own word for itself, empty before it was met.
[[nodiscard]] std::vector<std::string> sessionFacts(const ConnectionProfile& profile, const SessionState& session,
                                                    std::string_view serverVersion);

}  // namespace pantry::db
