#include "core/exchange/cell_text.h"

namespace pantry::exchange {

void appendHex(std::string& out, std::string_view bytes) {
    constexpr std::string_view kDigits = "0123456789abcdef";
    out += "\\x";
    std::size_t at = out.size();
    out.resize(at + 2 * bytes.size());
    for (const char c : bytes) {
        const auto byte = static_cast<unsigned char>(c);
        out[at++] = kDigits[byte >> 4];
        out[at++] = kDigits[byte & 0xF];
    }
}

std::string cellText(const data::Cell& cell) {
    if (cell.kind != data::CellKind::Binary) return data::toText(cell);
    std::string out;
    appendHex(out, cell.bytes);
    return out;
}

}  // namespace pantry::exchange
