#include "core/store/connection_transfer.h"

#include <algorithm>
#include <map>

#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/sql/meaning/secrets.h"
#include "core/store/json_file.h"
#include "core/store/profile_json.h"

namespace pantry::store {
namespace {

using db::ConnectionProfile;
using nlohmann::json;

constexpr int kTransferVersion = 1;
constexpr const char* kMark = "agile-pantry connections";

ConnectionProfile withoutSecretsOf(ConnectionProfile profile) {
    std::erase_if(profile.options, [](const auto& option) { return base::isSecretName(option.first); });
    profile.onConnect = sql::withoutSecrets(profile.onConnect, db::dialectOf(profile.engine));
    return profile;
}

const ConnectionProfile* withName(const ConnectionList& list, const std::string& name) {
    const auto found = std::ranges::find_if(
        list.profiles, [&](const ConnectionProfile& p) { return base::equalsIgnoringCase(p.name, name); });
    return found == list.profiles.end() ? nullptr : &*found;
}

}  // namespace

std::string exportConnections(const ConnectionList& list, const std::set<std::string>& ids) {
    std::set<std::string> wanted = ids;
    for (const ConnectionProfile& p : list.profiles) {
        if (ids.empty()) wanted.insert(p.id);
        if (wanted.contains(p.id) && !p.templateId.empty()) wanted.insert(p.templateId);
    }
    json connections = json::array();
    std::set<std::string> groups;
    for (const ConnectionProfile& p : list.profiles) {
        if (!wanted.contains(p.id)) continue;
        connections.push_back(profileToJson(withoutSecretsOf(p)));
        groups.insert(p.group);
    }
    json groupList = json::array();
    for (const ConnectionGroup& g : list.groups) {
        if (groups.contains(g.name)) groupList.push_back({{"name", g.name}, {"colour", g.colour}});
    }
    return json{{"content", kMark}, {"version", kTransferVersion}, {"groups", groupList}, {"connections", connections}}
               .dump(2) +
           "\n";
}

Result<ConnectionList> readExport(std::string_view text) {
    const auto parsed = parseJson(text);
    const json document = parsed ? *parsed : json();
    if (!document.is_object() || memberOr<std::string>(document, "content", "") != kMark) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "This is no file of exported connections.",
                     .hint = "Choose one that “Export connections” or pantry connections export wrote."};
    }
    if (memberOr(document, "version", 0) > kTransferVersion) {
        return Error{.kind = ErrorKind::TooNew,
                     .message = "A newer Agile Pantry wrote this file.",
                     .hint = "Bring the connections in with that version."};
    }
    return listFrom(document);
}

ImportReport importConnections(ConnectionList& into, const ConnectionList& from, const std::set<std::string>& ids,
                               NameClash clash) {
    ImportReport report;
    std::map<std::string, std::string> newIds;
    for (const ConnectionProfile& p : from.profiles) {
        const bool isWanted = ids.empty() || ids.contains(p.id) ||
                              std::ranges::any_of(from.profiles, [&](const ConnectionProfile& other) {
                                  return other.templateId == p.id && ids.contains(other.id);
                              });
        if (!isWanted) continue;
        ConnectionProfile fresh = p;
        fresh.id = db::makeProfileId();
        fresh.isUnseen = !fresh.isTemplate;
        if (const ConnectionProfile* taken = withName(into, p.name)) {
            if (clash == NameClash::Skip) {
                newIds[p.id] = taken->id;
                report.skipped.push_back(p.name);
                continue;
            }
            if (clash == NameClash::Replace) {
                fresh.id = taken->id;
                report.replaced.push_back(p.name);
            } else {
                fresh.name = freeName(into, p.name);
            }
        }
        newIds[p.id] = fresh.id;
        if (clash != NameClash::Replace || withName(into, p.name) == nullptr) report.added.push_back(fresh.name);
        if (const auto group = std::ranges::find(from.groups, p.group, &ConnectionGroup::name);
            group != from.groups.end() && findGroup(into, p.group) == nullptr) {
            into.groups.push_back(*group);
        }
        putProfile(into, fresh);
    }
    for (ConnectionProfile& p : into.profiles) {
        const auto found = newIds.find(p.templateId);
        if (found != newIds.end()) p.templateId = found->second;
    }
    return report;
}

}  // namespace pantry::store
