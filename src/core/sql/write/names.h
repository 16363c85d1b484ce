#pragma once

#include <string>
#include <string_view>

#include "core/catalog/catalog_view.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// schema.name, each part quoted where it must be; the name alone when the schema is empty.
[[nodiscard]] std::string qualifiedName(std::string_view schema, std::string_view name, Dialect dialect);

/// The same for a name that somebody has written without quotes: dots part it.
[[nodiscard]] std::string dottedName(std::string_view name, Dialect dialect);

/// How a session that sees the catalog like this names a relation: with its schema only where the name alone would mean
/// another one, or nothing.
[[nodiscard]] std::string nameOf(const catalog::Relation& relation, const catalog::View& view, Dialect dialect);

}  // namespace pantry::sql
