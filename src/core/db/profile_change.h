#pragma once

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

}  // namespace pantry::db
