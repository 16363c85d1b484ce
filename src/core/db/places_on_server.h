#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/db/profile.h"

namespace pantry::db {

/// What a profile's database can be, as its server tells now: the databases that this user may enter, or the data
/// sources of this machine. Where the database that the profile names is not there, one that always is gives the
/// answer.
///
/// Errors: what connecting and asking can fail with; InvalidInput for an engine whose databases are files.
Result<std::vector<std::string>> placesOnServer(const ConnectionProfile& profile,
                                                const std::optional<std::string>& password,
                                                const base::Cancellation& cancellation);

}  // namespace pantry::db
