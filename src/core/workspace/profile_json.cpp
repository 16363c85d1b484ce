#include "core/workspace/profile_json.h"

#include <algorithm>
#include <array>
#include <string_view>

#include "core/workspace/json_file.h"

namespace pantry::workspace {

using db::ConnectionProfile;
using nlohmann::json;

json profileToJson(const ConnectionProfile& p) {
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
    if (!p.note.empty()) object["note"] = p.note;
    if (p.passwordSource != db::PasswordSource::Ask) object["password"] = db::passwordSourceWord(p.passwordSource);
    if (!p.passwordVariable.empty()) object["passwordVariable"] = p.passwordVariable;
    if (p.isTemplate) object["template"] = true;
    if (!p.templateId.empty()) object["basedOn"] = p.templateId;
    if (!p.inherited.empty()) object["inherited"] = p.inherited;
    return object;
}

bool isProfileMember(std::string_view name) {
    static constexpr auto kNames = std::to_array<std::string_view>(
        {"id", "name", "group", "colour", "environment", "engine", "database", "host", "port", "user", "options",
         "onConnect", "readOnly", "note", "password", "passwordVariable", "template", "basedOn", "inherited"});
    return std::ranges::find(kNames, name) != kNames.end();
}

std::optional<ConnectionProfile> profileFromJson(const json& object) {
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
    p.note = memberOr<std::string>(object, "note", "");
    p.passwordSource =
        db::passwordSourceFromWord(memberOr<std::string>(object, "password", "")).value_or(db::PasswordSource::Ask);
    p.passwordVariable = memberOr<std::string>(object, "passwordVariable", "");
    p.isTemplate = memberOr(object, "template", false);
    p.templateId = memberOr<std::string>(object, "basedOn", "");
    for (const std::string& name : textsIn(object, "inherited")) p.inherited.insert(name);
    return p;
}

ConnectionList listFrom(const json& content) {
    ConnectionList list;
    for (const json& entry : content["connections"]) {
        if (auto profile = profileFromJson(entry)) list.profiles.push_back(std::move(*profile));
    }
    const auto groups = content.find("groups");
    if (groups != content.end() && groups->is_array()) {
        for (const json& g : *groups) {
            if (!g.is_object() || memberOr<std::string>(g, "name", "").empty()) continue;
            list.groups.push_back({.name = memberOr<std::string>(g, "name", ""),
                                   .colour = memberOr<std::string>(g, "colour", ""),
                                   .isCollapsed = memberOr(g, "collapsed", false)});
        }
    }
    complete(list);
    return list;
}

}  // namespace pantry::workspace
