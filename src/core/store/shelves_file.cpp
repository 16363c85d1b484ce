#include "core/store/shelves_file.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

constexpr int kShelvesVersion = 1;

json& listIn(json& content, const char* name) {
    json& list = content[name];
    if (!list.is_array()) list = json::array();
    return list;
}

bool isQuery(const json& object, const QueryPlace& query) {
    return object.is_object() && memberOr<std::string>(object, "shelf", "") == query.shelf &&
           memberOr<std::string>(object, "path", "") == query.path;
}

/// Reads, changes and writes the file while nobody else does; `change` may refuse.
template <class Change>
Status changeShelves(const std::filesystem::path& path, Change change) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, kShelvesVersion);
    if (!document) return document.error();
    json& content = document->content;
    content["version"] = kShelvesVersion;
    if (Status changed = change(content); !changed) return changed;
    return writeJsonFile(path, content);
}

}  // namespace

Result<Shelves> loadShelves(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kShelvesVersion);
    if (!document) return document.error();
    Shelves shelves;
    json& content = document->content;
    for (const json& one : listIn(content, "shelves")) {
        if (!one.is_object()) continue;
        ShelfPlace place{memberOr<std::string>(one, "name", ""), memberOr<std::string>(one, "folder", "")};
        if (!place.name.empty() && !place.folder.empty()) shelves.places.push_back(std::move(place));
    }
    for (const json& one : listIn(content, "starred")) {
        if (one.is_object())
            shelves.starred.push_back(
                {memberOr<std::string>(one, "shelf", ""), memberOr<std::string>(one, "path", "")});
    }
    return shelves;
}

Status addShelf(const std::filesystem::path& path, const ShelfPlace& place) {
    const std::string name = base::toValidUtf8(base::trimmed(place.name));
    if (name.empty()) return Error{.kind = ErrorKind::InvalidInput, .message = "A shelf needs a name."};
    return changeShelves(path, [&](json& content) -> Status {
        json& list = listIn(content, "shelves");
        const bool isTaken = std::ranges::any_of(list, [&](const json& one) {
            return one.is_object() && base::equalsIgnoringCase(memberOr<std::string>(one, "name", ""), name);
        });
        if (isTaken)
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = "There is a shelf named “" + name + "” already.",
                         .hint = "Choose another name."};
        list.push_back({{"name", name}, {"folder", place.folder.string()}});
        return {};
    });
}

Status removeShelf(const std::filesystem::path& path, const std::string& name) {
    return changeShelves(path, [&](json& content) -> Status {
        json& list = listIn(content, "shelves");
        const auto found = std::ranges::find_if(
            list, [&](const json& one) { return one.is_object() && memberOr<std::string>(one, "name", "") == name; });
        if (found == list.end())
            return Error{.kind = ErrorKind::NotFound, .message = "There is no shelf named “" + name + "”."};
        list.erase(found);
        return {};
    });
}

Status setStarred(const std::filesystem::path& path, const QueryPlace& query, bool isStarred) {
    return changeShelves(path, [&](json& content) -> Status {
        json& list = listIn(content, "starred");
        const auto found = std::ranges::find_if(list, [&](const json& one) { return isQuery(one, query); });
        if (!isStarred && found != list.end()) list.erase(found);
        if (isStarred && found == list.end()) list.push_back({{"shelf", query.shelf}, {"path", query.path}});
        return {};
    });
}

Status moveStar(const std::filesystem::path& path, const QueryPlace& from, const QueryPlace& to) {
    return changeShelves(path, [&](json& content) -> Status {
        for (json& one : listIn(content, "starred")) {
            if (isQuery(one, from)) one = {{"shelf", to.shelf}, {"path", to.path}};
        }
        return {};
    });
}

}  // namespace pantry::store
