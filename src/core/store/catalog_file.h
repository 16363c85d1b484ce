#pragma once

#include <filesystem>

#include "core/base/result.h"
#include "core/catalog/catalog_view.h"

namespace pantry::store {

/// Reads what `pantry catalog --json` wrote: the tables and columns of a database that is out of reach.
/// Errors: InvalidInput with the place in the file, NotFound, Permission, Io.
Result<catalog::View> readCatalogFile(const std::filesystem::path& path);

}  // namespace pantry::store
