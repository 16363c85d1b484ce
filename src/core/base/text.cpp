#include "core/base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstring>

#include "core/base/utf8.h"

namespace pantry::base {
namespace {

constexpr std::string_view kThinSpace = "\u2009";

bool equalLetters(char a, char b) { return asciiLower(a) == asciiLower(b); }

}  // namespace

std::string toLower(std::string_view text) {
    std::string out(text);
    std::ranges::transform(out, out.begin(), asciiLower);
    return out;
}

std::string toUpper(std::string_view text) {
    std::string out(text);
    std::ranges::transform(out, out.begin(), asciiUpper);
    return out;
}

bool equalsIgnoringCase(std::string_view a, std::string_view b) { return std::ranges::equal(a, b, equalLetters); }

std::size_t commonStart(std::string_view a, std::string_view b) {
    constexpr std::size_t kAtOnce = 64;
    const std::size_t shorter = std::min(a.size(), b.size());
    std::size_t count = 0;
    while (count + kAtOnce <= shorter && std::memcmp(a.data() + count, b.data() + count, kAtOnce) == 0)
        count += kAtOnce;
    while (count < shorter && a[count] == b[count]) ++count;
    return count;
}

std::size_t commonEnd(std::string_view a, std::string_view b) {
    constexpr std::size_t kAtOnce = 64;
    const std::size_t shorter = std::min(a.size(), b.size());
    const auto isEqual = [&](std::size_t count, std::size_t more) {
        return std::memcmp(a.data() + a.size() - count - more, b.data() + b.size() - count - more, more) == 0;
    };
    std::size_t count = 0;
    while (count + kAtOnce <= shorter && isEqual(count, kAtOnce)) count += kAtOnce;
    while (count < shorter && isEqual(count, 1)) ++count;
    return count;
}

bool startsWithIgnoringCase(std::string_view text, std::string_view prefix) {
    return text.size() >= prefix.size() && equalsIgnoringCase(text.substr(0, prefix.size()), prefix);
}

/// Looks for the first byte in both cases with memchr, and compares only there.
std::size_t findIgnoringCase(std::string_view text, std::string_view needle) {
    if (needle.empty()) return 0;
    if (text.size() < needle.size()) return std::string_view::npos;
    const char low = asciiLower(needle[0]);
    const char high = asciiUpper(needle[0]);
    const char* const last = text.data() + (text.size() - needle.size());
    const auto next = [last](const char* from, char c) {
        if (from > last) return static_cast<const char*>(nullptr);
        return static_cast<const char*>(std::memchr(from, c, static_cast<std::size_t>(last - from) + 1));
    };
    const char* nextLow = next(text.data(), low);
    const char* nextHigh = low == high ? nullptr : next(text.data(), high);
    while (nextLow != nullptr || nextHigh != nullptr) {
        const bool takesLow = nextHigh == nullptr || (nextLow != nullptr && nextLow < nextHigh);
        const char* at = takesLow ? nextLow : nextHigh;
        if (equalsIgnoringCase({at, needle.size()}, needle)) return static_cast<std::size_t>(at - text.data());
        (takesLow ? nextLow : nextHigh) = next(at + 1, takesLow ? low : high);
    }
    return std::string_view::npos;
}

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && isAsciiBlank(text.front())) text.remove_prefix(1);
    while (!text.empty() && isAsciiBlank(text.back())) text.remove_suffix(1);
    return text;
}

std::vector<std::string_view> splitAt(std::string_view text, char separator) {
    std::vector<std::string_view> parts;
    for (std::size_t start = 0;;) {
        const std::size_t end = text.find(separator, start);
        parts.push_back(text.substr(start, end - start));
        if (end == std::string_view::npos) return parts;
        start = end + 1;
    }
}

std::string withVisibleControls(std::string_view text) {
    std::string out;
    out.reserve(text.size());
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto byte = static_cast<unsigned char>(text[i]);
        const bool isLineEnd = text[i] == '\n' || (text[i] == '\r' && i + 1 < text.size() && text[i + 1] == '\n');
        const bool isControl = (byte < 0x20 && !isLineEnd && text[i] != '\t') || byte == 0x7F;
        // U+0080 to U+009F, which some terminals take for controls as well.
        const bool isSecond = byte == 0xC2 && i + 1 < text.size() && static_cast<unsigned char>(text[i + 1]) < 0xA0 &&
                              static_cast<unsigned char>(text[i + 1]) >= 0x80;
        if (isSecond) {
            out += fmt::format("\\u{:04x}", static_cast<unsigned char>(text[++i]));
        } else if (isControl) {
            out += fmt::format("\\x{:02x}", byte);
        } else {
            out += text[i];
        }
    }
    return out;
}

std::string oneLine(std::string_view text, std::size_t maxBytes) {
    std::string out;
    for (const char c : trimmed(text)) {
        if (out.size() > maxBytes) break;
        if (!isAsciiBlank(c)) {
            out += c;
        } else if (!out.empty() && out.back() != ' ') {
            out += ' ';
        }
    }
    if (out.size() <= maxBytes) return out;
    return std::string(prefixOf(out, maxBytes)) + "…";
}

std::string grouped(std::int64_t number) {
    const std::string digits = fmt::format("{}", number);
    const std::size_t sign = number < 0 ? 1 : 0;
    std::string out;
    for (std::size_t i = 0; i < digits.size(); ++i) {
        if (i > sign && (digits.size() - i) % 3 == 0) out += kThinSpace;
        out += digits[i];
    }
    return out;
}

std::string counted(std::int64_t number, std::string_view singular, std::string_view plural) {
    return fmt::format("{} {}", grouped(number), number == 1 ? singular : plural);
}

std::string readable(std::chrono::microseconds duration) {
    const auto us = duration.count();
    if (us < 1000) return us < 100 ? "0 ms" : fmt::format("{:.1f} ms", static_cast<double>(us) / 1e3);
    if (us < 999'500) return fmt::format("{} ms", (us + 500) / 1000);
    if (us < 59'950'000) return fmt::format("{:.1f} s", static_cast<double>(us) / 1e6);
    const auto seconds = (us + 500'000) / 1'000'000;
    if (seconds < 3600) return fmt::format("{} min {} s", seconds / 60, seconds % 60);
    return fmt::format("{} h {} min", seconds / 3600, seconds % 3600 / 60);
}

std::string readableBytes(std::uint64_t bytes) {
    if (bytes < 1000) return bytes == 1 ? "1 byte" : fmt::format("{} bytes", bytes);
    constexpr std::string_view kUnits[] = {"kB", "MB", "GB", "TB"};
    double amount = static_cast<double>(bytes) / 1000;
    std::size_t unit = 0;
    while (amount >= 999.5 && unit + 1 < std::size(kUnits)) {
        amount /= 1000;
        ++unit;
    }
    return amount < 9.95 ? fmt::format("{:.1f} {}", amount, kUnits[unit])
                         : fmt::format("{:.0f} {}", amount, kUnits[unit]);
}

}  // namespace pantry::base
