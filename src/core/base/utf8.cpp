#include "core/base/utf8.h"

#include <cstring>

#include <algorithm>

namespace pantry::base {
namespace {

bool isContinuation(char byte) { return (static_cast<unsigned char>(byte) & 0xC0) == 0x80; }

constexpr CodePoint kInvalid{0xFFFD, 1, false};

/// The value of the sequence, or kInvalid for overlong forms, surrogates and values beyond Unicode.
CodePoint checked(std::uint32_t value, std::uint8_t length) {
    constexpr std::uint32_t kSmallest[] = {0, 0, 0x80, 0x800, 0x10000};
    const bool isSurrogate = value >= 0xD800 && value <= 0xDFFF;
    if (value < kSmallest[length] || isSurrogate || value > 0x10FFFF) return kInvalid;
    return {value, length, true};
}

bool isCombining(std::uint32_t c) {
    return (c >= 0x300 && c <= 0x36F) || (c >= 0x200B && c <= 0x200F) || (c >= 0x20D0 && c <= 0x20FF) ||
           (c >= 0xFE00 && c <= 0xFE0F) || c == 0xFEFF;
}

bool isWide(std::uint32_t c) {
    return (c >= 0x1100 && c <= 0x115F) || (c >= 0x2E80 && c <= 0xA4CF) || (c >= 0xAC00 && c <= 0xD7A3) ||
           (c >= 0xF900 && c <= 0xFAFF) || (c >= 0xFE30 && c <= 0xFE6F) || (c >= 0xFF00 && c <= 0xFF60) ||
           (c >= 0x1F300 && c <= 0x1FAFF) || (c >= 0x20000 && c <= 0x3FFFD);
}

}  // namespace

CodePoint decodeAt(std::string_view text, std::size_t offset) {
    const auto lead = static_cast<unsigned char>(text[offset]);
    if (lead < 0x80) return {lead, 1, true};
    const std::uint8_t length = lead >= 0xF0 ? 4 : lead >= 0xE0 ? 3 : lead >= 0xC2 ? 2 : 0;
    if (length == 0 || lead > 0xF4 || offset + length > text.size()) return kInvalid;
    std::uint32_t value = lead & (0xFFU >> (length + 1));
    for (std::size_t i = 1; i < length; ++i) {
        if (!isContinuation(text[offset + i])) return kInvalid;
        value = (value << 6) | (static_cast<unsigned char>(text[offset + i]) & 0x3FU);
    }
    return checked(value, length);
}

bool isValidUtf8(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        // Eight plain characters at a time, which most texts are made of.
        std::uint64_t eight = 0;
        if (i + sizeof eight <= text.size()) {
            std::memcpy(&eight, text.data() + i, sizeof eight);
            constexpr std::uint64_t kHighBits = 0x8080808080808080;
            if ((eight & kHighBits) == 0) {
                i += sizeof eight;
                continue;
            }
        }
        const CodePoint point = decodeAt(text, i);
        if (!point.valid) return false;
        i += point.length;
    }
    return true;
}

std::size_t codePointCount(std::string_view text) {
    std::size_t count = 0;
    for (std::size_t i = 0; i < text.size(); i += decodeAt(text, i).length) ++count;
    return count;
}

void appendUtf8(std::string& out, std::uint32_t c) {
    if (c < 0x80) {
        out += static_cast<char>(c);
    } else if (c < 0x800) {
        out += static_cast<char>(0xC0 | (c >> 6));
        out += static_cast<char>(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        out += static_cast<char>(0xE0 | (c >> 12));
        out += static_cast<char>(0x80 | ((c >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (c & 0x3F));
    } else {
        out += static_cast<char>(0xF0 | (c >> 18));
        out += static_cast<char>(0x80 | ((c >> 12) & 0x3F));
        out += static_cast<char>(0x80 | ((c >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (c & 0x3F));
    }
}

std::string toValidUtf8(std::string_view text) {
    if (isValidUtf8(text)) return std::string(text);
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const CodePoint point = decodeAt(text, i);
        appendUtf8(out, point.value);
        i += point.length;
    }
    return out;
}

std::size_t byteOffsetOf(std::string_view text, std::size_t codePoint) {
    std::size_t offset = 0;
    while (codePoint > 0 && offset < text.size()) {
        ++offset;
        while (offset < text.size() && isContinuation(text[offset])) ++offset;
        --codePoint;
    }
    return offset;
}

std::string_view prefixOf(std::string_view text, std::size_t maxBytes) {
    if (text.size() <= maxBytes) return text;
    while (maxBytes > 0 && isContinuation(text[maxBytes])) --maxBytes;
    return text.substr(0, maxBytes);
}

LinePosition LineFinder::at(std::size_t offset) {
    offset = std::min(offset, text_.size());
    if (offset < seenTo_) *this = LineFinder(text_);
    for (; seenTo_ < offset; ++seenTo_) {
        const char c = text_[seenTo_];
        const bool isBreak = c == '\n' || (c == '\r' && (seenTo_ + 1 == text_.size() || text_[seenTo_ + 1] != '\n'));
        if (!isBreak) continue;
        ++line_;
        lineStart_ = seenTo_ + 1;
    }
    return {line_, codePointCount(text_.substr(lineStart_, offset - lineStart_)) + 1};
}

LinePosition linePositionAt(std::string_view text, std::size_t offset) { return LineFinder(text).at(offset); }

std::size_t displayWidth(std::string_view text) {
    unsigned char all = 0;
    for (const char c : text) all |= static_cast<unsigned char>(c);
    if (all < 0x80) return text.size();
    std::size_t width = 0;
    for (std::size_t i = 0; i < text.size();) {
        const CodePoint point = decodeAt(text, i);
        i += point.length;
        width += isCombining(point.value) ? 0 : isWide(point.value) ? 2 : 1;
    }
    return width;
}

}  // namespace pantry::base
