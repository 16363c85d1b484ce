#include "core/db/connection_colours.h"

namespace pantry::db {

std::string_view usualColour(Environment environment) {
    switch (environment) {
        case Environment::Live: return "tomato";
        case Environment::Trial: return "marigold";
        case Environment::Local: break;
    }
    return "sage";
}

std::string_view signalColour(const ConnectionProfile& profile) {
    return profile.environment == Environment::Live ? usualColour(Environment::Live) : profile.colour;
}

bool hasMark(const ConnectionProfile& profile) { return signalColour(profile) != profile.colour; }

}  // namespace pantry::db
