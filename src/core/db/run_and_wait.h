#pragma once

#include <chrono>
#include <optional>
#include <string>

#include "core/base/result.h"
#include "core/db/session.h"

namespace pantry::db {

/// Runs a statement to its end and waits for it: for programs without a window. The last result's rows; nullptr for a
/// statement without any. `limit`: after which it is stopped, and fails as Cancelled.
///
/// Threads: any but the session's own.
Result<data::ResultSetPtr> runAndWait(Session& session, sql::Statement statement,
                                      std::optional<std::chrono::milliseconds> limit = {});

}  // namespace pantry::db
