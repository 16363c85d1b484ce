#include "core/store/connection_list.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"

namespace pantry::store {

using db::ConnectionProfile;

void complete(ConnectionList& list) {
    for (ConnectionProfile& p : list.profiles) {
        if (!p.group.empty() && findGroup(list, p.group) == nullptr) list.groups.push_back({.name = p.group});
        if (p.templateId.empty()) continue;
        const auto base = std::ranges::find(list.profiles, p.templateId, &ConnectionProfile::id);
        if (base != list.profiles.end()) db::inheritFrom(*base, p);
    }
}

void putProfile(ConnectionList& list, const ConnectionProfile& profile) {
    const auto found = std::ranges::find(list.profiles, profile.id, &ConnectionProfile::id);
    if (found == list.profiles.end()) {
        list.profiles.push_back(profile);
    } else {
        *found = profile;
    }
    complete(list);
}

void moveProfile(ConnectionList& list, std::string_view id, const std::string& group, std::string_view beforeId) {
    const auto found = std::ranges::find(list.profiles, id, &ConnectionProfile::id);
    if (found == list.profiles.end() || id == beforeId) return;
    ConnectionProfile moved = std::move(*found);
    list.profiles.erase(found);
    moved.group = group;
    list.profiles.insert(std::ranges::find(list.profiles, beforeId, &ConnectionProfile::id), std::move(moved));
    complete(list);
}

ConnectionGroup* findGroup(ConnectionList& list, std::string_view name) {
    const auto found = std::ranges::find(list.groups, name, &ConnectionGroup::name);
    return found == list.groups.end() ? nullptr : &*found;
}

void renameGroup(ConnectionList& list, const std::string& from, const std::string& to) {
    if (from == to) return;
    for (ConnectionProfile& p : list.profiles) {
        if (p.group == from) p.group = to;
    }
    if (to.empty() || findGroup(list, to) != nullptr) {
        std::erase_if(list.groups, [&](const ConnectionGroup& g) { return g.name == from; });
    } else if (ConnectionGroup* group = findGroup(list, from)) {
        group->name = to;
    }
}

void removeGroup(ConnectionList& list, const std::string& name) { renameGroup(list, name, {}); }

void moveGroup(ConnectionList& list, const std::string& name, const std::string& before) {
    const auto found = std::ranges::find(list.groups, name, &ConnectionGroup::name);
    if (found == list.groups.end() || name == before) return;
    ConnectionGroup moved = std::move(*found);
    list.groups.erase(found);
    list.groups.insert(std::ranges::find(list.groups, before, &ConnectionGroup::name), std::move(moved));
}

std::string freeName(const ConnectionList& list, const std::string& wanted) {
    const auto isTaken = [&](const std::string& name) {
        return std::ranges::any_of(list.profiles,
                                   [&](const ConnectionProfile& p) { return base::equalsIgnoringCase(p.name, name); });
    };
    std::string name = wanted;
    for (int i = 2; isTaken(name); ++i) name = fmt::format("{} ({})", wanted, i);
    return name;
}

}  // namespace pantry::store
