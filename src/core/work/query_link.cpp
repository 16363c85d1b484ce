#include "core/work/query_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/shelf/shelf_names.h"

namespace pantry::work {
namespace {

constexpr std::string_view kBegin = "agile-pantry:query/";
constexpr std::string_view kShelf = "?shelf=";

/// As RFC 3986 has it; slashes stay in paths.
std::string encoded(std::string_view text, bool isPath) {
    std::string out;
    for (const char c : text) {
        const char lower = base::asciiLower(c);
        const bool isPlain = (lower >= 'a' && lower <= 'z') || base::isAsciiDigit(c) || c == '-' || c == '_' ||
                             c == '.' || c == '~' || (isPath && c == '/');
        if (isPlain) {
            out += c;
        } else {
            out += fmt::format("%{:02X}", static_cast<unsigned char>(c));
        }
    }
    return out;
}

int hexValue(char c) {
    if (base::isAsciiDigit(c)) return c - '0';
    const char lower = base::asciiLower(c);
    return lower >= 'a' && lower <= 'f' ? lower - 'a' + 10 : -1;
}

std::optional<std::string> decoded(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] != '%') {
            out += text[i];
            continue;
        }
        if (i + 2 >= text.size() || hexValue(text[i + 1]) < 0 || hexValue(text[i + 2]) < 0) return std::nullopt;
        out += static_cast<char>(hexValue(text[i + 1]) * 16 + hexValue(text[i + 2]));
        i += 2;
    }
    return out;
}

/// An address as it is compared: .git and a slash at its end do not matter.
std::string_view bare(std::string_view address) {
    if (address.ends_with('/')) address.remove_suffix(1);
    if (address.ends_with(".git")) address.remove_suffix(4);
    return address;
}

}  // namespace

std::string queryLink(const store::QueryPlace& place, const std::vector<ShelfInfo>& shelves) {
    std::string link = std::string(kBegin) + encoded(place.path, true);
    for (const ShelfInfo& info : shelves) {
        if (info.name != place.shelf || info.address.empty()) continue;
        link += std::string(kShelf) + encoded(base::withoutAddressSecrets(info.address), false);
    }
    return link;
}

bool isQueryLink(std::string_view text) { return text.starts_with("agile-pantry:"); }

Result<store::QueryPlace> placeOfLink(std::string_view link, const std::vector<ShelfInfo>& shelves,
                                      const std::vector<ShelvedQuery>& queries) {
    const Error none{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{}” is no link to a saved query.", base::oneLine(link, 120)),
                     .hint = "Copy it once more, whole."};
    link = base::trimmed(link);
    if (!link.starts_with(kBegin)) return none;
    link.remove_prefix(kBegin.size());
    const std::size_t question = std::min(link.find('?'), link.size());
    const auto path = decoded(link.substr(0, question));
    const std::string_view behind = link.substr(question);
    const auto address = behind.starts_with(kShelf) ? decoded(behind.substr(kShelf.size())) : std::string();
    if (!path || !address || !shelf::checkPath(*path)) return none;
    const auto isIt = [&](const ShelfInfo& info) { return bare(info.address) == bare(*address); };
    const auto shelf = address->empty() ? shelves.begin() : std::ranges::find_if(shelves, isIt);
    if (shelf == shelves.end()) {
        return Error{.kind = ErrorKind::NotFound,
                     .message = fmt::format("The link leads to the shelf that is shared at {}, which you do not have.",
                                            base::withoutAddressSecrets(*address)),
                     .hint = "Copy a shared shelf, in the menu of the shelf, brings it here."};
    }
    store::QueryPlace place{shelf->name, *path};
    const auto isThere = [&](const ShelvedQuery& one) { return one.place == place; };
    if (std::ranges::any_of(queries, isThere)) return place;
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("“{}” is not on {}.", *path, shelf->name.empty() ? "your shelf" : shelf->name),
                 .hint = shelf->remote.remote.empty() ? "It may have been moved or removed."
                                                      : "Pull first; or it was moved or removed."};
}

}  // namespace pantry::work
