#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/error.h"
#include "core/sql/text/dialect.h"
#include "core/sql/text/token.h"

namespace pantry::sql {

/// `statement` with its secrets replaced by base::kHidden, for everything that is kept: ledger, log, messages. Hidden
/// are the texts behind PASSWORD, IDENTIFIED and other secret names, the keys of PRAGMA and ATTACH, and in all texts,
/// bodies of routines and comments what base::withoutSecretText() hides. When in doubt it hides too much.
[[nodiscard]] std::string withoutSecrets(std::string_view statement, Language dialect);

/// What withoutSecrets() hides, without quotes.
[[nodiscard]] std::vector<std::string> secretsIn(std::string_view statement, Language dialect);
/// The same for a statement whose tokens are there already.
[[nodiscard]] std::vector<std::string> secretsIn(std::string_view statement, std::span<const Token> tokens,
                                                 Language dialect);

/// An error about a statement, which servers quote pieces of, without its secrets.
[[nodiscard]] Error withoutSecrets(Error error, std::string_view statement, Language dialect);

}  // namespace pantry::sql
