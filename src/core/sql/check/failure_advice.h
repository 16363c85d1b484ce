#pragma once

#include <string_view>

#include "core/base/error.h"
#include "core/catalog/catalog_view.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A server's complaint about a statement with what the catalog adds to it: where the name stands that is not there,
/// when the server has not said, and which one may be meant. Other errors come back as they are.
[[nodiscard]] Error withAdvice(Error error, std::string_view statement, const Language& language,
                               const catalog::View& catalog);

/// The same with what the text of the statement alone tells: a line that begins another statement, while nothing ends
/// the one before.
[[nodiscard]] Error withTextAdvice(Error error, std::string_view statement, const Language& language);

}  // namespace pantry::sql
