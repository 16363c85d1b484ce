#pragma once

#include <filesystem>

#include "core/base/result.h"
#include "core/db/profile.h"

namespace pantry::demo {

/// Copies the tables of an SQLite file, with keys and rows, to a database of a server. Views and triggers stay behind:
/// their text is the engine's own.
/// Errors: those of either database.
Status copyDatabase(const std::filesystem::path& file, const db::ConnectionProfile& target);

}  // namespace pantry::demo
