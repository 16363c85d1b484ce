#include "core/exchange/cell_text.h"

namespace pantry::exchange {

char* writeHex(char* to, std::string_view bytes) {
    constexpr std::string_view kDigits = "0123456789abcdef";
    *to++ = '\\';
    *to++ = 'x';
    for (const char c : bytes) {
        const auto byte = static_cast<unsigned char>(c);
        *to++ = kDigits[byte >> 4];
        *to++ = kDigits[byte & 0xF];
    }
    return to;
}

void appendHex(std::string& out, std::string_view bytes) {
    const std::size_t at = out.size();
    out.resize(at + 2 + 2 * bytes.size());
    (void)writeHex(out.data() + at, bytes);
}

std::string cellText(const data::Cell& cell) {
    if (cell.kind != data::CellKind::Binary) return data::toText(cell);
    std::string out;
    appendHex(out, cell.bytes);
    return out;
}

}  // namespace pantry::exchange
