#pragma once

#include <string>
#include <string_view>

namespace pantry::base {

/// Two small hexadecimal digits for each byte, into memory of at least 2 * bytes.size(); the byte behind them.
[[nodiscard]] char* writeHexDigits(char* to, std::string_view bytes);

/// The same behind a text.
void appendHexDigits(std::string& out, std::string_view bytes);

}  // namespace pantry::base
