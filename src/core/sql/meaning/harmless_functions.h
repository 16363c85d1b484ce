#pragma once

#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// Whether a function of the engine itself only computes or reads, after the engines' manuals. An allow-list: what is
/// not on it is not known to be harmless. `name` in lower case.
///
/// For PostgreSQL only those are listed that its catalog calls volatile although they change nothing; for the others
/// the catalog decides.
[[nodiscard]] bool isHarmlessFunction(std::string_view name, Dialect dialect);

/// Whether a PRAGMA of SQLite tells something and changes nothing. With a value (`PRAGMA name = value`,
/// `PRAGMA name(value)`) most of them set something.
[[nodiscard]] bool isHarmlessPragma(std::string_view name, bool hasValue);

/// Whether a setting of the session may be set without touching anybody's data, anybody else's session, the way in
/// which statements are read, or what guards this session.
[[nodiscard]] bool isHarmlessSetting(std::string_view name, Dialect dialect);

}  // namespace pantry::sql
