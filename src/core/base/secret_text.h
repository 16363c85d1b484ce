#pragma once

#include <string>
#include <string_view>

/// What counts as a secret, for all engines, and how it is kept out of what is shown or written. The one list of words.
namespace pantry::base {

/// What stands in a secret's place.
inline constexpr std::string_view kHidden = "•••";

/// Whether something of that name holds a secret: a property, a parameter, a setting, a column. Case, hyphens,
/// underlines, blanks and %-escapes do not matter. Names of files that hold secrets are no secrets.
[[nodiscard]] bool isSecretName(std::string_view name);

/// A text with the passwords of addresses in it, and the values behind secret names (name=value, name: value,
/// "name": "value", PASSWORD 'value'), replaced by kHidden. When in doubt it hides too much.
[[nodiscard]] std::string withoutSecretText(std::string_view text);

/// The same for the addresses alone.
[[nodiscard]] std::string withoutAddressSecrets(std::string_view text);

/// Overwrites a text that is no longer needed, so that its bytes do not stay in memory.
void wipe(std::string& text);

}  // namespace pantry::base
