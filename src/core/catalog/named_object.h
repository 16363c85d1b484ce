#pragma once

#include <string_view>

#include "core/base/result.h"
#include "core/catalog/catalog.h"

namespace pantry::catalog {

/// The object that somebody means by a name: its own, or behind its schema and a dot; a routine also with its
/// parameters in brackets. Either part may stand in double quotes, as where it has a dot. Errors: NotFound;
/// InvalidInput when there are several of the name.
[[nodiscard]] Result<ObjectName> objectNamed(const Catalog& catalog, std::string_view wanted);

}  // namespace pantry::catalog
