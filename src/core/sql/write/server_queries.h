#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A query about the server or file itself, for people who look around: who may what, how it is set, what goes on.
struct ServerQuery {
    std::string_view id;         ///< roles
    std::string_view label;      ///< Roles
    std::string_view statement;  ///< with its terminator; reads only
};

/// Those of a dialect; none where nothing is known of the engine.
[[nodiscard]] const std::vector<ServerQuery>& serverQueries(Dialect dialect);

}  // namespace pantry::sql
