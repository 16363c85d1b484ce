#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/time.h"

namespace pantry::store {

/// Where a statement has defined something, so that other windows and programs on the same home read that catalog
/// again.
struct DefinedPlace {
    std::string connection;  ///< its id
    std::string database;    ///< empty for the connection's own
    std::string process;     ///< thisProcess() of who ran it
    base::Moment at{};
};

/// defined.json: the last places, the newest last. A file that cannot be understood counts as none, and is kept aside.
/// Errors: TooNew, Permission, Io.
Result<std::vector<DefinedPlace>> loadDefined(const std::filesystem::path& path);

/// Adds a place; the oldest go. Errors: those of reading and writing.
Status addDefined(const std::filesystem::path& path, const DefinedPlace& place);

}  // namespace pantry::store
