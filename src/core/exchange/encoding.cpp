#include "core/exchange/encoding.h"

#include <array>

#include "core/base/utf8.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kMaxExamples = 8;

constexpr std::string_view kUtf8Mark = "\xEF\xBB\xBF";
constexpr std::string_view kLittleEndianMark = "\xFF\xFE";
constexpr std::string_view kBigEndianMark = "\xFE\xFF";

std::string_view markOf(Encoding encoding) {
    switch (encoding) {
        case Encoding::Utf8WithMark: return kUtf8Mark;
        case Encoding::Utf16LittleEndian: return kLittleEndianMark;
        case Encoding::Utf16BigEndian: return kBigEndianMark;
        default: return {};
    }
}

void appendUtf16(std::string& out, std::uint32_t codePoint, bool isLittle) {
    const auto unit = [&](std::uint32_t u) {
        const char low = static_cast<char>(u & 0xFF);
        const char high = static_cast<char>(u >> 8 & 0xFF);
        out += isLittle ? low : high;
        out += isLittle ? high : low;
    };
    if (codePoint < 0x10000) return unit(codePoint);
    unit(0xD800 + ((codePoint - 0x10000) >> 10));
    unit(0xDC00 + ((codePoint - 0x10000) & 0x3FF));
}

}  // namespace

std::string_view encodingName(Encoding encoding) {
    constexpr std::array<std::string_view, kEncodings> kNames{
        "UTF-8", "UTF-8 with byte order mark", "UTF-16 (little endian)", "Latin-1", "UTF-16 (big endian)"};
    return kNames[static_cast<std::size_t>(encoding)];
}

std::string_view encodingWord(Encoding encoding) {
    constexpr std::array<std::string_view, kEncodings> kWords{"utf-8", "utf-8-mark", "utf-16", "latin-1", "utf-16-big"};
    return kWords[static_cast<std::size_t>(encoding)];
}

Encoding encodingOf(std::string_view bytes) {
    for (const Encoding marked : {Encoding::Utf8WithMark, Encoding::Utf16LittleEndian, Encoding::Utf16BigEndian}) {
        if (bytes.starts_with(markOf(marked))) return marked;
    }
    return base::isValidUtf8(bytes) ? Encoding::Utf8 : Encoding::Latin1;
}

std::string decoded(std::string_view bytes, Encoding encoding) {
    if (bytes.starts_with(markOf(encoding))) bytes.remove_prefix(markOf(encoding).size());
    if (encoding == Encoding::Utf8 || encoding == Encoding::Utf8WithMark) return base::toValidUtf8(bytes);
    std::string out;
    if (encoding == Encoding::Latin1) {
        for (const char byte : bytes) base::appendUtf8(out, static_cast<unsigned char>(byte));
        return out;
    }
    constexpr std::uint32_t kNone = 0xFFFD;
    const bool isLittle = encoding == Encoding::Utf16LittleEndian;
    const auto unitAt = [&](std::size_t i) -> std::uint32_t {
        const std::uint32_t first = static_cast<unsigned char>(bytes[i]);
        const std::uint32_t second = static_cast<unsigned char>(bytes[i + 1]);
        return isLittle ? first | second << 8U : first << 8U | second;
    };
    const auto isHigh = [](std::uint32_t u) { return u >= 0xD800 && u < 0xDC00; };
    const auto isLow = [](std::uint32_t u) { return u >= 0xDC00 && u < 0xE000; };
    std::size_t i = 0;
    for (; i + 1 < bytes.size(); i += 2) {
        const std::uint32_t unit = unitAt(i);
        const bool isPair = isHigh(unit) && i + 3 < bytes.size() && isLow(unitAt(i + 2));
        if (isPair) {
            base::appendUtf8(out, 0x10000 + ((unit - 0xD800) << 10) + (unitAt(i + 2) - 0xDC00));
            i += 2;
        } else {
            base::appendUtf8(out, isHigh(unit) || isLow(unit) ? kNone : unit);
        }
    }
    if (i < bytes.size()) base::appendUtf8(out, kNone);
    return out;
}

void Encoder::lose(std::uint32_t codePoint) {
    ++lostCharacters_;
    if (examples_ == kMaxExamples) return;
    std::string character;
    base::appendUtf8(character, codePoint);
    if (lostExamples_.find(character) != std::string::npos) return;
    lostExamples_ += character;
    ++examples_;
}

void Encoder::encode(std::string_view piece, std::string& out) {
    if (!isBegun_) out += markOf(encoding_);
    isBegun_ = true;
    if (encoding_ == Encoding::Utf8 || encoding_ == Encoding::Utf8WithMark) {
        out += piece;
        return;
    }
    for (std::size_t i = 0; i < piece.size();) {
        const base::CodePoint point = base::decodeAt(piece, i);
        i += point.length;
        if (encoding_ == Encoding::Utf16LittleEndian || encoding_ == Encoding::Utf16BigEndian) {
            appendUtf16(out, point.value, encoding_ == Encoding::Utf16LittleEndian);
        } else if (point.value < 0x100) {
            out += static_cast<char>(point.value);
        } else {
            out += '?';
            lose(point.value);
        }
    }
}

}  // namespace pantry::exchange
