#pragma once

#include <string>
#include <vector>

#include "core/db/profile.h"

namespace pantry::store {

/// What two people, or two windows, made of one connection, put together field by field.
struct MergedProfile {
    db::ConnectionProfile profile;
    std::vector<std::string> conflicts;  ///< fields, as the file calls them, that both changed: the later wish holds
};

/// `original` is what the wish was made from, `current` what stands in the file now: fields that the wish leaves as
/// they were stay as they are now.
[[nodiscard]] MergedProfile merged(const db::ConnectionProfile& original, const db::ConnectionProfile& wanted,
                                   const db::ConnectionProfile& current);

}  // namespace pantry::store
