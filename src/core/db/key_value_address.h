#pragma once

#include <optional>
#include <string_view>

#include "core/db/address.h"

namespace pantry::db {

/// Reads connection strings of key=value pairs, parted by blanks (host=h dbname='my db') or semicolons
/// (Server=h;Database=d;Uid=u;Pwd=p), with or without an engine before them (pgsql:host=h;dbname=d). Nothing when the
/// text is not of this form. Errors: InvalidInput with the place.
std::optional<Result<Address>> parseKeyValues(std::string_view text);

/// Reads user:password@tcp(host:port)/database, MariaDB's and MySQL's. Nothing when the text is not of this form.
std::optional<Result<Address>> parseBracketed(std::string_view text);

}  // namespace pantry::db
