#pragma once

#include <filesystem>

#include "core/store/connections_file.h"
#include "core/store/home.h"
#include "demo/demo_data.h"

namespace pantry::test {

/// The demo as the build has made it, once for all tests (DEMO_DATA): they work on copies, since making it takes
/// seconds.
inline std::filesystem::path demoFile(const char* name) { return std::filesystem::path(DEMO_DATA) / name; }

/// Trial's orchard, under a name of the test's own. False when it could not be copied.
inline bool copyOrchard(const std::filesystem::path& to) {
    std::error_code code;
    return std::filesystem::copy_file(demoFile("orchard.db"), to, code);
}

/// All of the demo, its home folder too, whose connections lead to the copies.
inline bool copyDemo(const std::filesystem::path& folder) {
    std::error_code code;
    std::filesystem::copy(DEMO_DATA, folder, std::filesystem::copy_options::recursive, code);
    if (code) return false;
    const store::ConnectionsFile connections(store::findHome(folder / "home").connectionsFile());
    for (const db::ConnectionProfile& profile : demo::connectionsTo(folder)) {
        if (!connections.put(profile)) return false;
    }
    return true;
}

}  // namespace pantry::test
