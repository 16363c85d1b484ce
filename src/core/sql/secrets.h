#pragma once

#include <string>
#include <string_view>

#include "core/sql/dialect.h"

namespace pantry::sql {

/// `statement` with the strings that follow PASSWORD, IDENTIFIED, a PRAGMA key and the like replaced by '•••', for
/// everything that is kept: ledger, log, messages. When in doubt it hides too much.
[[nodiscard]] std::string withoutSecrets(std::string_view statement, Language dialect);

}  // namespace pantry::sql
