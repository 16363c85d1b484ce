#pragma once

#include <filesystem>

#include "core/base/result.h"

namespace pantry::demo {

/// Puts the queries of Larkspur Vale on a shelf, one of them with versions of some months, and queries that look after
/// servers. What stands there already stays as it is.
Status writeShelf(const std::filesystem::path& folder);

}  // namespace pantry::demo
