#pragma once

#include <string>
#include <string_view>

#include "core/catalog/catalog.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// The words between DROP, ALTER or COMMENT ON and an object's name: MATERIALIZED VIEW. `detail`: Object::detail, which
/// tells a domain from other types.
[[nodiscard]] std::string_view objectWord(catalog::ObjectKind kind, std::string_view detail = {});

[[nodiscard]] bool isRoutineKind(catalog::ObjectKind kind);  ///< a function or a procedure

/// An object's name behind those words: a routine of PostgreSQL has its parameters, which tell it from others of its
/// name. `name`: qualified and quoted already.
[[nodiscard]] std::string withParameters(std::string name, const catalog::ObjectName& object, Dialect dialect);

}  // namespace pantry::sql
