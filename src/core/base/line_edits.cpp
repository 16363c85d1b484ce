#include "core/base/line_edits.h"

#include <algorithm>
#include <vector>

#include "core/base/text.h"

namespace pantry::base {
namespace {

std::string_view withoutEnd(std::string_view line, std::string_view end) {
    return line.ends_with(end) ? line.substr(0, line.size() - end.size()) : line;
}

/// Before, equal or behind: runs of digits by their value, all else byte by byte, large letters as small ones.
int compareLines(std::string_view a, std::string_view b) {
    std::size_t i = 0;
    std::size_t j = 0;
    while (i < a.size() && j < b.size()) {
        if (isAsciiDigit(a[i]) && isAsciiDigit(b[j])) {
            const auto runOf = [](std::string_view text, std::size_t& at) {
                while (at < text.size() && text[at] == '0') ++at;
                const std::size_t start = at;
                while (at < text.size() && isAsciiDigit(text[at])) ++at;
                return text.substr(start, at - start);
            };
            const std::string_view left = runOf(a, i);
            const std::string_view right = runOf(b, j);
            if (left.size() != right.size()) return left.size() < right.size() ? -1 : 1;
            if (const int order = left.compare(right); order != 0) return order;
            continue;
        }
        const auto left = static_cast<unsigned char>(asciiLower(a[i++]));
        const auto right = static_cast<unsigned char>(asciiLower(b[j++]));
        if (left != right) return left < right ? -1 : 1;
    }
    return a.size() - i == b.size() - j ? 0 : (a.size() - i < b.size() - j ? -1 : 1);
}

}  // namespace

std::string joinedLines(std::string_view lines) {
    const bool isEnded = lines.ends_with('\n');
    std::string out;
    for (const std::string_view line : splitAt(withoutEnd(lines, "\n"), '\n')) {
        if (out.empty()) {
            out = withoutEnd(line, "\r");
            while (!out.empty() && isAsciiBlank(out.back())) out.pop_back();
            continue;
        }
        const std::string_view part = trimmed(line);
        if (!part.empty()) out.append(" ").append(part);
    }
    return isEnded ? out + "\n" : out;
}

std::string sortedLines(std::string_view lines) {
    const bool isEnded = lines.ends_with('\n');
    const bool isWindows = lines.find("\r\n") != std::string_view::npos;
    std::vector<std::string_view> all = splitAt(withoutEnd(lines, "\n"), '\n');
    for (std::string_view& line : all) line = withoutEnd(line, "\r");
    const auto hasComma = [](std::string_view line) { return trimmed(line).ends_with(','); };
    const bool isList = all.size() > 1 && std::all_of(all.begin(), all.end() - 1, hasComma) && !hasComma(all.back());
    if (isList) {
        for (std::string_view& line : all) {
            while (!line.empty() && (isAsciiBlank(line.back()) || line.back() == ',')) line.remove_suffix(1);
        }
    }
    std::ranges::stable_sort(all, [](std::string_view a, std::string_view b) { return compareLines(a, b) < 0; });
    std::string out;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i > 0) out += isWindows ? "\r\n" : "\n";
        out += all[i];
        if (isList && i + 1 < all.size()) out += ',';
    }
    return isEnded ? out + (isWindows ? "\r\n" : "\n") : out;
}

}  // namespace pantry::base
