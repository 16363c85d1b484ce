#include "core/base/hex.h"

namespace pantry::base {

char* writeHexDigits(char* to, std::string_view bytes) {
    constexpr std::string_view kDigits = "0123456789abcdef";
    for (const char c : bytes) {
        const auto byte = static_cast<unsigned char>(c);
        *to++ = kDigits[byte >> 4];
        *to++ = kDigits[byte & 0xF];
    }
    return to;
}

void appendHexDigits(std::string& out, std::string_view bytes) {
    const std::size_t at = out.size();
    out.resize(at + 2 * bytes.size());
    (void)writeHexDigits(out.data() + at, bytes);
}

}  // namespace pantry::base
