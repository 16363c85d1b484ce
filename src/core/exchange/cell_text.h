#pragma once

#include <string>
#include <string_view>

#include "core/data/store/chunk.h"

namespace pantry::exchange {

/// \x and two hexadecimal digits for each byte.
void appendHex(std::string& out, std::string_view bytes);

/// The same into memory of at least 2 + 2 * bytes.size(); the byte behind it.
[[nodiscard]] char* writeHex(char* to, std::string_view bytes);

/// A value as text for formats that know nothing but text: numbers exactly, binary values as \x and hexadecimal digits,
/// nothing for NULL.
[[nodiscard]] std::string cellText(const data::Cell& cell);

}  // namespace pantry::exchange
