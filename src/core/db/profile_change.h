#pragma once

#include <utility>

#include "core/db/profile.h"

namespace pantry::db {

/// Whether a connection opened with one profile is no longer the right one for the other. Name, group, colour and note
/// are only how a connection is shown.
[[nodiscard]] inline bool leadsElsewhere(ConnectionProfile before, const ConnectionProfile& after) {
    before.name = after.name;
    before.group = after.group;
    before.colour = after.colour;
    before.note = after.note;
    before.templateId = after.templateId;
    before.inherited = after.inherited;
    return before != after;
}

/// Whether both lead to the same database and user, however careful one is to be there, and whatever is run on
/// connecting.
[[nodiscard]] inline bool isSamePlace(ConnectionProfile before, const ConnectionProfile& after) {
    before.environment = after.environment;
    before.isReadOnly = after.isReadOnly;
    before.isUnseen = after.isUnseen;
    before.onConnect = after.onConnect;
    before.passwordSource = after.passwordSource;
    before.passwordVariable = after.passwordVariable;
    const auto guard = after.options.find("guard");
    before.options.erase("guard");
    if (guard != after.options.end()) before.options.insert(*guard);
    return !leadsElsewhere(std::move(before), after);
}

}  // namespace pantry::db
