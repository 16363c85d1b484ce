#include "core/store/defined_file.h"

#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

constexpr int kDefinedVersion = 1;
constexpr std::size_t kMostPlaces = 40;

json& placesIn(json& content) {
    json& list = content["places"];
    if (!list.is_array()) list = json::array();
    return list;
}

}  // namespace

Result<std::vector<DefinedPlace>> loadDefined(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kDefinedVersion);
    if (!document) return document.error();
    std::vector<DefinedPlace> places;
    for (const json& one : placesIn(document->content)) {
        if (!one.is_object()) continue;
        places.push_back({.connection = memberOr<std::string>(one, "connection", ""),
                          .database = memberOr<std::string>(one, "database", ""),
                          .process = memberOr<std::string>(one, "process", ""),
                          .at = base::fromMicroseconds(memberOr<std::int64_t>(one, "at", 0))});
    }
    return places;
}

Status addDefined(const std::filesystem::path& path, const DefinedPlace& place) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, kDefinedVersion);
    if (!document) return document.error();
    json& content = document->content;
    content["version"] = kDefinedVersion;
    json& places = placesIn(content);
    places.push_back({{"connection", place.connection},
                      {"database", place.database},
                      {"process", place.process},
                      {"at", base::toMicroseconds(place.at)}});
    while (places.size() > kMostPlaces) places.erase(places.begin());
    return writeJsonFile(path, content);
}

}  // namespace pantry::store
