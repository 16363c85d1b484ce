#pragma once

#include <chrono>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::base {

[[nodiscard]] constexpr char asciiLower(char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; }
[[nodiscard]] constexpr char asciiUpper(char c) { return c >= 'a' && c <= 'z' ? static_cast<char>(c - 32) : c; }
[[nodiscard]] constexpr bool isAsciiDigit(char c) { return c >= '0' && c <= '9'; }
[[nodiscard]] constexpr bool isAsciiBlank(char c) {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f' || c == '\v';
}

/// Only the letters A to Z change; every other byte stays.
[[nodiscard]] std::string toLower(std::string_view text);
[[nodiscard]] std::string toUpper(std::string_view text);
[[nodiscard]] bool equalsIgnoringCase(std::string_view a, std::string_view b);
/// How many bytes two texts have in common at their beginning, and at their end.
[[nodiscard]] std::size_t commonStart(std::string_view a, std::string_view b);
[[nodiscard]] std::size_t commonEnd(std::string_view a, std::string_view b);
[[nodiscard]] bool startsWithIgnoringCase(std::string_view text, std::string_view prefix);

/// Where `needle` begins in `text`, ignoring the case of ASCII letters; npos where it does not occur.
[[nodiscard]] std::size_t findIgnoringCase(std::string_view text, std::string_view needle);

/// `text` without ASCII blanks at both ends.
[[nodiscard]] std::string_view trimmed(std::string_view text);

/// The parts of `text` between occurrences of `separator`; one more than there are separators.
[[nodiscard]] std::vector<std::string_view> splitAt(std::string_view text, char separator);

/// `text` on one line: runs of blanks become one space; at most `maxBytes` long, ending in … when cut.
/// A text for a terminal: control characters but tabs and line ends become visible, as \x1b, so that nothing a database
/// holds can move the cursor, recolour, or rename the window.
[[nodiscard]] std::string withVisibleControls(std::string_view text);

[[nodiscard]] std::string oneLine(std::string_view text, std::size_t maxBytes);

/// A whole number with thin spaces between groups of three digits: 8 412.
[[nodiscard]] std::string grouped(std::int64_t number);

/// "1 row", "8 412 rows". Requires: `plural` is the full plural word.
[[nodiscard]] std::string counted(std::int64_t number, std::string_view singular, std::string_view plural);

/// A duration as people read it: 18 ms, 1.4 s, 2 min 5 s.
[[nodiscard]] std::string readable(std::chrono::microseconds duration);

/// A size in bytes as people read it: 212 bytes, 1.1 MB (powers of 1000).
[[nodiscard]] std::string readableBytes(std::uint64_t bytes);

}  // namespace pantry::base
