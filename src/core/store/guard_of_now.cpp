#include "core/store/guard_of_now.h"

#include <algorithm>

#include "core/store/connections_file.h"

namespace pantry::store {

std::function<std::optional<db::RunGuard>()> guardOfNow(std::filesystem::path connectionsFile, std::string profileId) {
    return [file = ConnectionsFile(std::move(connectionsFile)),
            id = std::move(profileId)]() -> std::optional<db::RunGuard> {
        const auto list = file.load();
        if (!list) return std::nullopt;
        const auto found = std::ranges::find(list->profiles, id, &db::ConnectionProfile::id);
        return found == list->profiles.end() ? std::nullopt : std::optional(db::runGuardOf(*found));
    };
}

}  // namespace pantry::store
