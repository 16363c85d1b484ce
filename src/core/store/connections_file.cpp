#include "core/store/connections_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/fuzzy.h"
#include "core/base/text.h"
#include "core/db/address.h"
#include "core/db/connecting.h"
#include "core/db/driver_properties.h"
#include "core/db/engine_traits.h"
#include "core/store/json_file.h"
#include "core/store/profile_json.h"

namespace pantry::store {
namespace {

using db::ConnectionProfile;
using nlohmann::json;

constexpr int kConnectionsVersion = 1;

Result<JsonDocument> readLocked(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kConnectionsVersion);
    if (!document) return document;
    document->content["version"] = kConnectionsVersion;
    if (!document->content["connections"].is_array()) document->content["connections"] = json::array();
    return document;
}

FileLock lockBeside(const std::filesystem::path& path) { return FileLock(path.string() + ".lock"); }

/// A profile over its entry of before, of which what this version does not know stays.
json over(const json& entries, const ConnectionProfile& profile) {
    json object = profileToJson(profile);
    for (const json& entry : entries) {
        if (!entry.is_object() || memberOr<std::string>(entry, "id", "") != profile.id) continue;
        for (const auto& [name, value] : entry.items()) {
            if (!isProfileMember(name)) object[name] = value;
        }
        // What could not be understood stays until somebody writes something better.
        if (profile.port == 0 && !wrongPortIn(entry).empty()) object["port"] = entry["port"];
    }
    return object;
}

/// Entries that this version does not understand stay, at the end.
void writeInto(json& content, const ConnectionList& list) {
    json connections = json::array();
    for (const ConnectionProfile& p : list.profiles) connections.push_back(over(content["connections"], p));
    for (const json& entry : content["connections"]) {
        if (!profileFromJson(entry)) connections.push_back(entry);
    }
    json groups = json::array();
    for (const ConnectionGroup& g : list.groups) {
        json object{{"name", g.name}};
        if (!g.colour.empty()) object["colour"] = g.colour;
        if (g.isCollapsed) object["collapsed"] = true;
        groups.push_back(std::move(object));
    }
    content["connections"] = std::move(connections);
    content["groups"] = std::move(groups);
}

}  // namespace

Result<ConnectionList> ConnectionsFile::load() const {
    auto document = readLocked(path_);
    if (!document) return document.error();
    ConnectionList list = listFrom(document->content);
    if (document->setAside) list.notice = std::move(document->setAside);
    return list;
}

Status ConnectionsFile::change(const std::function<Status(ConnectionList&)>& change) const {
    const FileLock lock = lockBeside(path_);
    if (!lock.status()) return lock.status();
    auto document = readLocked(path_);
    if (!document) return document.error();
    ConnectionList list = listFrom(document->content);
    if (Status status = change(list); !status) return status;
    complete(list);
    writeInto(document->content, list);
    return writeJsonFile(path_, document->content);
}

Status ConnectionsFile::put(const ConnectionProfile& profile) const {
    return change([&](ConnectionList& list) -> Status {
        putProfile(list, profile);
        return {};
    });
}

Status ConnectionsFile::remove(std::string_view id) const {
    return change([&](ConnectionList& list) -> Status {
        if (std::erase_if(list.profiles, [&](const ConnectionProfile& p) { return p.id == id; }) > 0) return {};
        return Error{.kind = ErrorKind::NotFound, .message = "This connection was removed already."};
    });
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
    if (const Status properties = db::checkProperties(profile); !properties) return properties.error();
    if (profile.isTemplate) return std::nullopt;
    if (profile.passwordSource == db::PasswordSource::Environment && profile.passwordVariable.empty()) {
        return problem("No variable is named for the password.", "Write its name, such as ORCHARD_PASSWORD.");
    }
    const db::PlaceKind place = db::traitsOf(profile.engine).place;
    if (place == db::PlaceKind::File && profile.database.empty()) {
        return problem("The connection names no file.", "Choose the database file.");
    }
    if (place == db::PlaceKind::Source && profile.database.empty()) {
        return problem("The connection names no data source.",
                       "Name one, or write DRIVER={name};… with the driver's own settings.");
    }
    const auto pairs = place == db::PlaceKind::Source ? db::parseAddress(profile.database) : Error{};
    if (pairs && pairs->password) {
        return problem("The data source holds a password.",
                       "Take it out, and write it into the password's own field: nothing that is saved holds one.");
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
    const bool isAddress = wanted.find("://") != std::string_view::npos || wanted.find('/') != std::string_view::npos ||
                           wanted.find('=') != std::string_view::npos;
    if (isAddress) {
        auto address = db::parseAddress(wanted);
        if (!address) return address.error();
        address->profile.name = db::placeOf(address->profile);
        const bool isHere = db::traitsOf(address->profile.engine).place != db::PlaceKind::Source &&
                            db::isOnThisMachine(address->profile);
        address->profile.environment = isHere ? db::Environment::Local : db::Environment::Live;
        address->profile.id = "address:" + db::addressOf(address->profile);
        return ResolvedConnection{std::move(address->profile), std::move(address->password)};
    }
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("No connection is called “{}”.", db::withoutSecrets(wanted)),
                 .hint = nearest != nullptr ? fmt::format("Did you mean “{}”?", nearest->name)
                                            : "pantry connections list shows them; an address such as "
                                              "sqlite:///file works too."};
}

}  // namespace pantry::store
