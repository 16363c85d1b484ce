#include "core/store/connection_merge.h"

#include <set>

#include "core/store/profile_json.h"

namespace pantry::store {
namespace {

using nlohmann::json;

json memberOf(const json& object, const std::string& name) {
    const auto found = object.find(name);
    return found == object.end() ? json() : *found;
}

/// Member by member; what is null is not there. Objects, such as the driver's properties, are merged within.
json mergedMembers(const json& original, const json& wanted, const json& current, std::vector<std::string>& conflicts) {
    std::set<std::string> names;
    for (const json* side : {&original, &wanted, &current}) {
        for (const auto& [name, value] : side->items()) names.insert(name);
    }
    json out = json::object();
    for (const std::string& name : names) {
        const json before = memberOf(original, name);
        const json wish = memberOf(wanted, name);
        const json now = memberOf(current, name);
        json value = wish == before ? now : wish;
        if (wish.is_object() && now.is_object()) {
            value = mergedMembers(before.is_object() ? before : json::object(), wish, now, conflicts);
        } else if (wish != before && now != before && now != wish) {
            conflicts.push_back(name);
        }
        if (!value.is_null()) out[name] = std::move(value);
    }
    return out;
}

}  // namespace

MergedProfile merged(const db::ConnectionProfile& original, const db::ConnectionProfile& wanted,
                     const db::ConnectionProfile& current) {
    MergedProfile out{.profile = wanted};
    const json object =
        mergedMembers(profileToJson(original), profileToJson(wanted), profileToJson(current), out.conflicts);
    if (auto profile = profileFromJson(object)) out.profile = std::move(*profile);
    return out;
}

}  // namespace pantry::store
