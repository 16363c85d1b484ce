#include "core/workspace/connections_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/fuzzy.h"
#include "core/base/text.h"
#include "core/db/address.h"
#include "core/workspace/json_file.h"

namespace pantry::workspace {
namespace {

using db::ConnectionProfile;
using nlohmann::json;

constexpr int kVersion = 1;

json toJson(const ConnectionProfile& p) {
    json object{{"id", p.id},
                {"name", p.name},
                {"group", p.group},
                {"colour", p.colour},
                {"environment", db::environmentWord(p.environment)},
                {"engine", db::engineWord(p.engine)},
                {"database", p.database}};
    if (!p.host.empty()) object["host"] = p.host;
    if (p.port != 0) object["port"] = p.port;
    if (!p.user.empty()) object["user"] = p.user;
    if (!p.options.empty()) object["options"] = p.options;
    if (!p.onConnect.empty()) object["onConnect"] = p.onConnect;
    if (p.isReadOnly) object["readOnly"] = true;
    return object;
}

/// Nothing when the entry is not one of ours: it stays in the file, and is not shown.
std::optional<ConnectionProfile> fromJson(const json& object) {
    if (!object.is_object()) return std::nullopt;
    ConnectionProfile p;
    p.id = memberOr<std::string>(object, "id", "");
    p.name = memberOr<std::string>(object, "name", "");
    const auto engine = db::engineFromWord(memberOr<std::string>(object, "engine", ""));
    if (p.id.empty() || p.name.empty() || !engine) return std::nullopt;
    p.engine = *engine;
    p.group = memberOr<std::string>(object, "group", "");
    p.colour = memberOr<std::string>(object, "colour", p.colour);
    // Without a word we know, the careful reading.
    p.environment =
        db::environmentFromWord(memberOr<std::string>(object, "environment", "")).value_or(db::Environment::Live);
    p.host = memberOr<std::string>(object, "host", "");
    p.port = memberOr<std::uint16_t>(object, "port", 0);
    p.database = memberOr<std::string>(object, "database", "");
    p.user = memberOr<std::string>(object, "user", "");
    p.options = memberOr<std::map<std::string, std::string>>(object, "options", {});
    p.onConnect = memberOr<std::string>(object, "onConnect", "");
    p.isReadOnly = memberOr(object, "readOnly", false);
    return p;
}

Result<JsonDocument> readLocked(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kVersion);
    if (!document) return document;
    document->content["version"] = kVersion;
    if (!document->content["connections"].is_array()) document->content["connections"] = json::array();
    return document;
}

json::iterator entryWithId(json& list, std::string_view id) {
    return std::ranges::find_if(
        list, [&](const json& entry) { return entry.is_object() && memberOr<std::string>(entry, "id", "") == id; });
}

FileLock lockBeside(const std::filesystem::path& path) { return FileLock(path.string() + ".lock"); }

}  // namespace

Result<ConnectionList> ConnectionsFile::load() const {
    auto document = readLocked(path_);
    if (!document) return document.error();
    ConnectionList list;
    for (const json& entry : document->content["connections"]) {
        if (auto profile = fromJson(entry)) list.profiles.push_back(std::move(*profile));
    }
    list.notice = std::move(document->setAside);
    return list;
}

Status ConnectionsFile::put(const ConnectionProfile& profile) const {
    const FileLock lock = lockBeside(path_);
    auto document = readLocked(path_);
    if (!document) return document.error();
    json& list = document->content["connections"];
    const auto found = entryWithId(list, profile.id);
    if (found == list.end()) {
        list.push_back(toJson(profile));
    } else {
        *found = toJson(profile);
    }
    return writeJsonFile(path_, document->content);
}

Status ConnectionsFile::remove(std::string_view id) const {
    const FileLock lock = lockBeside(path_);
    auto document = readLocked(path_);
    if (!document) return document.error();
    json& list = document->content["connections"];
    const auto found = entryWithId(list, id);
    if (found == list.end()) {
        return Error{.kind = ErrorKind::NotFound, .message = "This connection was removed already."};
    }
    list.erase(found);
    return writeJsonFile(path_, document->content);
}

std::optional<Error> problemOf(const ConnectionProfile& profile, const std::vector<ConnectionProfile>& others) {
    const auto problem = [](std::string message, std::string hint) {
        return Error{.kind = ErrorKind::InvalidInput, .message = std::move(message), .hint = std::move(hint)};
    };
    if (base::trimmed(profile.name).empty()) return problem("The connection has no name.", "Give it one of your own.");
    const bool isTaken = std::ranges::any_of(others, [&](const ConnectionProfile& other) {
        return other.id != profile.id && base::equalsIgnoringCase(other.name, profile.name);
    });
    if (isTaken) return problem(fmt::format("Another connection is called {}.", profile.name), "Choose another name.");
    if (profile.engine == db::Engine::Sqlite && profile.database.empty()) {
        return problem("The connection names no file.", "Choose the database file.");
    }
    return std::nullopt;
}

Result<ResolvedConnection> resolveConnection(std::string_view wanted, const std::vector<ConnectionProfile>& saved) {
    for (const ConnectionProfile& p : saved) {
        if (p.name == wanted || p.id == wanted) return ResolvedConnection{p, std::nullopt};
    }
    const ConnectionProfile* nearest = nullptr;
    std::size_t nearestDistance = 4;
    for (const ConnectionProfile& p : saved) {
        if (base::equalsIgnoringCase(p.name, wanted)) return ResolvedConnection{p, std::nullopt};
        const std::size_t distance = base::editDistance(p.name, wanted, 3);
        if (distance < nearestDistance) {
            nearestDistance = distance;
            nearest = &p;
        }
    }
    if (wanted.find("://") != std::string_view::npos || wanted.find('/') != std::string_view::npos) {
        auto address = db::parseAddress(wanted);
        if (!address) return address.error();
        address->profile.name = db::placeOf(address->profile);
        address->profile.id = "address:" + db::addressOf(address->profile);
        return ResolvedConnection{std::move(address->profile), std::move(address->password)};
    }
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("No connection is called “{}”.", db::withoutSecrets(wanted)),
                 .hint = nearest != nullptr ? fmt::format("Did you mean “{}”?", nearest->name)
                                            : "pantry connections list shows them; an address such as "
                                              "sqlite:///file works too."};
}

}  // namespace pantry::workspace
