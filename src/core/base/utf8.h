#pragma once

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

namespace pantry::base {

/// One decoded code point. Bytes that are not UTF-8 come out one by one as U+FFFD with `valid` false.
struct CodePoint {
    std::uint32_t value = 0;
    std::uint8_t length = 0;  ///< in bytes, 1 to 4
    bool valid = true;
};

/// The code point that starts at `offset`. Requires: offset < text.size().
[[nodiscard]] CodePoint decodeAt(std::string_view text, std::size_t offset);

[[nodiscard]] bool isValidUtf8(std::string_view text);

/// Number of code points; each byte that is not UTF-8 counts as one.
[[nodiscard]] std::size_t codePointCount(std::string_view text);

/// Where the n-th code point of `text` begins, counted from 0; the text's end when there are fewer.
[[nodiscard]] std::size_t byteOffsetOf(std::string_view text, std::size_t codePoint);

/// Appends the encoding of `codePoint` to `out`. Requires: codePoint <= 0x10FFFF.
void appendUtf8(std::string& out, std::uint32_t codePoint);

/// `text` with every byte that is not UTF-8 replaced by U+FFFD, for places that must be valid (JSON, labels).
[[nodiscard]] std::string toValidUtf8(std::string_view text);

/// At most `maxBytes` of `text`, never cutting a code point in two.
[[nodiscard]] std::string_view prefixOf(std::string_view text, std::size_t maxBytes);

/// A place in a text as people count it: line and column from 1, the column in code points.
struct LinePosition {
    std::size_t line = 1;
    std::size_t column = 1;
    friend bool operator==(const LinePosition&, const LinePosition&) = default;
};

/// Where `offset` (bytes, clamped to the text's end) lies. Lines end with \n, \r\n or \r.
[[nodiscard]] LinePosition linePositionAt(std::string_view text, std::size_t offset);

/// The same for many places of one text: in order, all of them together cost one walk through it.
///
/// Lifetime: views the text.
class LineFinder {
public:
    explicit LineFinder(std::string_view text) : text_(text) {}
    [[nodiscard]] LinePosition at(std::size_t offset);

private:
    std::string_view text_;
    std::size_t line_ = 1;
    std::size_t lineStart_ = 0;
    std::size_t seenTo_ = 0;  // line breaks before it are counted
};

/// Columns that a text takes in a terminal: wide characters count two, combining ones none.
[[nodiscard]] std::size_t displayWidth(std::string_view text);

}  // namespace pantry::base
