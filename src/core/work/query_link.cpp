#include "core/work/query_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <optional>

#include "core/base/secret_text.h"
#include "core/base/stable_hash.h"
#include "core/base/text.h"
#include "core/shelf/shelf_names.h"

namespace pantry::work {
namespace {

constexpr std::string_view kBegin = "agile-pantry:query/";
constexpr std::string_view kShelf = "?shelf=";
constexpr std::string_view kRunBegin = "agile-pantry:run/";
constexpr std::string_view kQuery = "?query=";

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

std::uint64_t hashOf(const store::LedgerEntry& entry) {
    base::StableHash hash;
    hash.add(entry.start.statement);
    return hash.value();
}

template <class Number>
bool numberFrom(std::string_view text, int base, Number& into) {
    const char* end = text.data() + text.size();
    const auto read = std::from_chars(text.data(), end, into, base);
    return !text.empty() && read.ec == std::errc() && read.ptr == end;
}

/// The other way round than savedName().
std::optional<store::QueryPlace> placeOfSavedName(const std::string& saved, const std::vector<ShelfInfo>& shelves) {
    if (saved.empty()) return std::nullopt;
    for (const ShelfInfo& info : shelves) {
        const std::string before = savedName({info.name, ""});
        if (!info.name.empty() && saved.starts_with(before))
            return store::QueryPlace{info.name, saved.substr(before.size())};
    }
    return store::QueryPlace{"", saved};
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

bool isLink(std::string_view text) { return text.starts_with("agile-pantry:"); }
bool isRunLink(std::string_view text) { return base::trimmed(text).starts_with(kRunBegin); }

std::string runLink(const store::LedgerEntry& entry, const std::vector<ShelfInfo>& shelves) {
    std::string link = fmt::format("{}{}-{:016x}", kRunBegin, base::toMicroseconds(entry.startedAt), hashOf(entry));
    const auto place = placeOfSavedName(entry.start.saved, shelves);
    if (place) link += std::string(kQuery) + encoded(queryLink(*place, shelves), false);
    return link;
}

Result<RunLink> readRunLink(std::string_view link) {
    const Error none{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{}” is no link to a run.", base::oneLine(link, 120)),
                     .hint = "Copy it once more, whole."};
    link = base::trimmed(link);
    if (!link.starts_with(kRunBegin)) return none;
    link.remove_prefix(kRunBegin.size());
    const std::size_t question = std::min(link.find('?'), link.size());
    const std::string_view run = link.substr(0, question);
    const std::string_view behind = link.substr(question);
    const std::size_t dash = std::min(run.find('-'), run.size() - (run.empty() ? 0 : 1));
    RunLink read;
    std::int64_t moment = 0;
    const bool isWhole = numberFrom(run.substr(0, dash), 10, moment) &&
                         numberFrom(run.empty() ? run : run.substr(dash + 1), 16, read.statement);
    const auto query = behind.starts_with(kQuery) ? decoded(behind.substr(kQuery.size())) : std::string();
    if (!isWhole || !query || (!behind.empty() && !behind.starts_with(kQuery))) return none;
    read.startedAt = base::fromMicroseconds(moment);
    read.query = *query;
    return read;
}

bool isRunOf(const store::LedgerEntry& entry, const RunLink& link) {
    return entry.startedAt == link.startedAt && hashOf(entry) == link.statement;
}

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
