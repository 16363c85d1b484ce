#include "core/store/profile_json.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <string_view>

#include "core/base/secret_text.h"
#include "core/store/json_file.h"

namespace pantry::store {

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
    std::map<std::string, std::string> options = p.options;
    std::erase_if(options, [](const auto& option) { return base::isSecretName(option.first); });
    if (!options.empty()) object["options"] = options;
    if (!p.onConnect.empty()) object["onConnect"] = p.onConnect;
    if (p.isReadOnly) object["readOnly"] = true;
    if (p.isUnseen) object["unseen"] = true;
    if (!p.note.empty()) object["note"] = p.note;
    if (p.passwordSource != db::PasswordSource::Ask) object["password"] = db::passwordSourceWord(p.passwordSource);
    if (!p.passwordVariable.empty()) object["passwordVariable"] = p.passwordVariable;
    if (p.isTemplate) object["template"] = true;
    if (!p.templateId.empty()) object["basedOn"] = p.templateId;
    if (!p.inherited.empty()) object["inherited"] = p.inherited;
    return object;
}

namespace {

/// A port as a number, or as its digits; nothing when it is neither.
std::optional<std::uint16_t> portIn(const json& value) {
    if (!value.is_string()) return numberIn<std::uint16_t>(value);
    const auto& text = value.get_ref<const std::string&>();
    std::uint16_t port = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), port);
    const bool isWhole = code == std::errc() && end == text.data() + text.size();
    return isWhole ? std::optional(port) : std::nullopt;
}

}  // namespace

std::string wrongPortIn(const json& entry) {
    const auto found = entry.is_object() ? entry.find("port") : entry.end();
    if (!entry.is_object() || found == entry.end() || portIn(*found)) return {};
    return found->dump(-1, ' ', false, json::error_handler_t::replace).substr(0, 40);
}

bool isProfileMember(std::string_view name) {
    static constexpr auto kNames =
        std::to_array<std::string_view>({"id",       "name",     "group", "colour",   "environment",      "engine",
                                         "database", "host",     "port",  "user",     "options",          "onConnect",
                                         "readOnly", "unseen",   "note",  "password", "passwordVariable", "template",
                                         "basedOn",  "inherited"});
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
    if (const auto port = object.find("port"); port != object.end()) p.port = portIn(*port).value_or(0);
    p.database = memberOr<std::string>(object, "database", "");
    p.user = memberOr<std::string>(object, "user", "");
    p.options = memberOr<std::map<std::string, std::string>>(object, "options", {});
    p.onConnect = memberOr<std::string>(object, "onConnect", "");
    p.isReadOnly = memberOr(object, "readOnly", false);
    p.isUnseen = memberOr(object, "unseen", false);
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
    const auto connections = content.find("connections");
    if (connections == content.end() || !connections->is_array()) return list;
    for (const json& entry : *connections) {
        if (const std::string wrong = wrongPortIn(entry); !wrong.empty() && !list.notice) {
            list.notice = Error{.kind = ErrorKind::InvalidInput,
                                .message = fmt::format("The port {} of the connection {} is none.", wrong,
                                                       memberOr<std::string>(entry, "name", "")),
                                .hint = "Ports go from 1 to 65535; the engine's own is used until it is corrected."};
        }
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

}  // namespace pantry::store
