#include "core/exchange/encoding.h"

#include <array>

#include "core/base/utf8.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kMostExamples = 8;

void appendUtf16(std::string& out, std::uint32_t codePoint) {
    const auto unit = [&](std::uint32_t u) {
        out += static_cast<char>(u & 0xFF);
        out += static_cast<char>(u >> 8 & 0xFF);
    };
    if (codePoint < 0x10000) return unit(codePoint);
    unit(0xD800 + ((codePoint - 0x10000) >> 10));
    unit(0xDC00 + ((codePoint - 0x10000) & 0x3FF));
}

}  // namespace

std::string_view encodingName(Encoding encoding) {
    constexpr std::array<std::string_view, kEncodings> kNames{"UTF-8", "UTF-8 with byte order mark",
                                                              "UTF-16 (little endian)", "Latin-1"};
    return kNames[static_cast<std::size_t>(encoding)];
}

std::string_view encodingWord(Encoding encoding) {
    constexpr std::array<std::string_view, kEncodings> kWords{"utf-8", "utf-8-mark", "utf-16", "latin-1"};
    return kWords[static_cast<std::size_t>(encoding)];
}

void Encoder::lose(std::uint32_t codePoint) {
    ++lostCharacters_;
    if (examples_ == kMostExamples) return;
    std::string character;
    base::appendUtf8(character, codePoint);
    if (lostExamples_.find(character) != std::string::npos) return;
    lostExamples_ += character;
    ++examples_;
}

void Encoder::encode(std::string_view piece, std::string& out) {
    if (!isBegun_ && encoding_ == Encoding::Utf8WithMark) out += "\xEF\xBB\xBF";
    if (!isBegun_ && encoding_ == Encoding::Utf16LittleEndian) out += "\xFF\xFE";
    isBegun_ = true;
    if (encoding_ == Encoding::Utf8 || encoding_ == Encoding::Utf8WithMark) {
        out += piece;
        return;
    }
    for (std::size_t i = 0; i < piece.size();) {
        const base::CodePoint point = base::decodeAt(piece, i);
        i += point.length;
        if (encoding_ == Encoding::Utf16LittleEndian) {
            appendUtf16(out, point.value);
        } else if (point.value < 0x100) {
            out += static_cast<char>(point.value);
        } else {
            out += '?';
            lose(point.value);
        }
    }
}

}  // namespace pantry::exchange
