#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/db/profile.h"

namespace pantry::store {

/// A heading over connections.
struct ConnectionGroup {
    std::string name;
    std::string colour;  ///< of the theme's palette; empty for none
    bool isCollapsed = false;

    friend bool operator==(const ConnectionGroup&, const ConnectionGroup&) = default;
};

struct ConnectionList {
    std::vector<db::ConnectionProfile> profiles;  ///< in the user's order, with what templates give filled in
    std::vector<ConnectionGroup> groups;          ///< in the user's order; every group of a profile is among them
    std::optional<Error> notice;                  ///< something to tell: the file was broken and kept aside
};

// Changes of a list; complete() holds after each.

/// Every group of a profile is in the list, and what templates give is filled in.
void complete(ConnectionList& list);
/// Adds a profile at the end, or puts it in the place of the one with its id; what leans on it as a template follows.
void putProfile(ConnectionList& list, const db::ConnectionProfile& profile);
/// Moves a connection into a group, before the one of that id, or to its end.
void moveProfile(ConnectionList& list, std::string_view id, const std::string& group, std::string_view beforeId);
/// Renames a group, or, when there is one of that name, joins the two.
void renameGroup(ConnectionList& list, const std::string& from, const std::string& to);
/// Takes a heading away; its connections stand without one.
void removeGroup(ConnectionList& list, const std::string& name);
/// Moves a group before another, or to the end.
void moveGroup(ConnectionList& list, const std::string& name, const std::string& before);
[[nodiscard]] ConnectionGroup* findGroup(ConnectionList& list, std::string_view name);
/// A name that nothing in the list has yet: “Kitchen (2)”.
[[nodiscard]] std::string freeName(const ConnectionList& list, const std::string& wanted);

}  // namespace pantry::store
