#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/catalog.h"
#include "core/catalog/object_details.h"
#include "core/sql/define/scripts.h"

namespace pantry::work {

/// Whether the statements that make the objects have to be read for a script.
[[nodiscard]] bool needsDefinitions(sql::ScriptKind kind);

/// A script of objects of a catalog, with what was read of them. `from` is the catalog's dialect, `to` the script's.
/// Errors: NotFound when one is in the catalog no more, those of sql::writeScript().
[[nodiscard]] Result<std::string> scriptOf(sql::ScriptKind kind, const catalog::Catalog& catalog,
                                           std::vector<catalog::ObjectParts> parts, sql::Dialect from, sql::Dialect to);

}  // namespace pantry::work
