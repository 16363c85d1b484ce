#pragma once

#include <optional>
#include <string_view>

#include "core/base/error.h"

namespace pantry::shelf {

/// Whether a text holds what should not be handed to others: passwords, tokens, addresses with a password in them.
/// Nothing when it does not; else an InvalidInput with the line, and without the secret. Of a text of SQL only literals
/// and comments count: a column may well be compared with a parameter that has the name of a secret.
[[nodiscard]] std::optional<Error> secretIn(std::string_view content, bool isNotebook = false);

}  // namespace pantry::shelf
