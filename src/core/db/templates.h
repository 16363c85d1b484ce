#pragma once

#include <set>
#include <string>

#include "core/db/profile.h"

namespace pantry::db {

/// Leaves to a template what stands as in `untouched`, which is how it was before anybody chose something, and what was
/// left to an earlier template; and takes it from there.
void baseOn(const ConnectionProfile& base, ConnectionProfile& profile, const ConnectionProfile& untouched = {});

/// The fields in which a profile says the same as its template: they follow it.
[[nodiscard]] std::set<std::string> fieldsLikeIn(const ConnectionProfile& base, const ConnectionProfile& profile);

}  // namespace pantry::db
