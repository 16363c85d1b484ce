#pragma once

#include <filesystem>
#include <map>
#include <string>

#include "core/base/result.h"
#include "core/catalog/choices.h"

namespace pantry::store {

/// What is chosen to be seen of each connection's catalog, by the connection's id and, after a line break, a database
/// other than its own.
using AllCatalogChoices = std::map<std::string, catalog::Choices>;

/// A file that cannot be understood counts as none, and is kept aside. Errors: TooNew, Permission, Io.
Result<AllCatalogChoices> loadCatalogChoices(const std::filesystem::path& path);

/// Writes the choices of one place; the others stay as they are in the file.
Status saveCatalogChoices(const std::filesystem::path& path, const std::string& place, const catalog::Choices& choices);

}  // namespace pantry::store
