#include "core/db/templates.h"

namespace pantry::db {

void baseOn(const ConnectionProfile& base, ConnectionProfile& profile, const ConnectionProfile& untouched) {
    profile.templateId = base.id;
    for (const std::string& field : templateFields()) {
        if (isSameField(field, profile, untouched)) profile.inherited.insert(field);
    }
    inheritFrom(base, profile);
}

std::set<std::string> fieldsLikeIn(const ConnectionProfile& base, const ConnectionProfile& profile) {
    std::set<std::string> fields;
    for (const std::string& field : templateFields()) {
        if (isSameField(field, profile, base)) fields.insert(field);
    }
    return fields;
}

}  // namespace pantry::db
