#pragma once

#include <string_view>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/db/profile.h"

namespace pantry::db {

/// Asks the system for the addresses of a profile's host, so that the client library finds them at hand: it could not
/// be stopped while it asks. Nothing to do for a socket, or for no host at all.
///
/// Errors: Connection (nobody knows the host, or nobody answered within patienceOf()), Cancelled.
Status lookUpHost(const ConnectionProfile& profile, const base::Cancellation& cancellation);

/// The error for a host that nobody knows; `why` is the system's word for it.
[[nodiscard]] Error unknownHost(std::string_view host, std::string_view why);

}  // namespace pantry::db
