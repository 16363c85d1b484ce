#include "core/exchange/cell_text.h"

#include "core/base/hex.h"

namespace pantry::exchange {

char* writeHex(char* to, std::string_view bytes) {
    *to++ = '\\';
    *to++ = 'x';
    return base::writeHexDigits(to, bytes);
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
