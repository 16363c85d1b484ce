#include "core/shelf/shelf_names.h"

#include <algorithm>

#include "core/base/text.h"

namespace pantry::shelf {
namespace {

constexpr std::size_t kLongestName = 120;  // bytes, so that endings and the names of copies have room in 255

bool isForbidden(char c) {
    const auto byte = static_cast<unsigned char>(c);
    return byte < 0x20 || byte == 0x7f ||
           std::string_view(R"(/\:*?"<>|'`,;.()[]{}#%&$!=+~^@)").find(c) != std::string_view::npos;
}

/// Cuts between characters, never within one.
std::string shortened(std::string text, std::size_t most) {
    if (text.size() <= most) return text;
    std::size_t end = most;
    while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0U) == 0x80U) --end;
    text.resize(end);
    return text;
}

}  // namespace

std::string fileNameFor(std::string_view title) {
    std::string name;
    for (const char c : title) {
        const bool isGap = base::isAsciiBlank(c) || isForbidden(c) || c == '-';
        if (!isGap) name += base::asciiLower(c);
        if (isGap && !name.empty() && !name.ends_with('-')) name += '-';
    }
    name = shortened(std::move(name), kLongestName);
    while (name.ends_with('-')) name.pop_back();
    return name.empty() ? "query" : name;
}

std::string titleOfName(std::string_view name) {
    for (const std::string_view ending : {".sql", ".md"}) {
        if (name.size() > ending.size() && name.ends_with(ending)) name.remove_suffix(ending.size());
    }
    std::string title(name);
    // A name with blanks is written as somebody wants to read it.
    if (title.find(' ') == std::string::npos) std::ranges::replace(title, '-', ' ');
    if (!title.empty()) title[0] = base::asciiUpper(title[0]);
    return title;
}

std::string folderOf(std::string_view path) {
    const std::size_t slash = path.rfind('/');
    return slash == std::string_view::npos ? "" : std::string(path.substr(0, slash));
}

std::string nameOf(std::string_view path) {
    const std::size_t slash = path.rfind('/');
    return std::string(slash == std::string_view::npos ? path : path.substr(slash + 1));
}

Status checkPath(std::string_view path) {
    const auto refuse = [&](std::string why) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "“" + base::withVisibleControls(path) + "” cannot be a place on the shelf: " + why};
    };
    if (base::trimmed(path).empty()) return refuse("it is empty.");
    constexpr std::size_t kLongest = 250;
    for (const std::string_view part : base::splitAt(path, '/')) {
        if (part.empty()) return refuse("it has an empty part; it should read like folder/name.");
        if (part.front() == '.') return refuse("names that begin with a dot are hidden.");
        if (part.size() > kLongest) return refuse("a name in it is too long for a file.");
        const auto isControl = [](char c) { return static_cast<unsigned char>(c) < 0x20 || c == 0x7f; };
        if (std::ranges::any_of(part, isControl)) return refuse("it holds control characters.");
    }
    return {};
}

bool isNotebook(std::string_view name) { return name.size() > 3 && name.ends_with(".md"); }
bool isShown(std::string_view name) { return (name.size() > 4 && name.ends_with(".sql")) || isNotebook(name); }

}  // namespace pantry::shelf
