#pragma once

#include <filesystem>
#include <vector>

#include "core/base/result.h"
#include "core/db/profile.h"

namespace pantry::demo {

/// Writes Larkspur Vale into a folder: orchard.db, kitchen.db, probes.db, orchard-live.db, and a home folder `home`
/// in which they are set up as connections, with queries on the shelf. The same bytes of data each time. Files of an
/// earlier demo are replaced; its connections are set up anew, other connections, sheets, the shelf and the ledger of
/// that home stay.
Status writeDemo(const std::filesystem::path& folder);

/// The four databases alone, in a folder that is made if need be. Files of an earlier demo are replaced.
Status writeDatabases(const std::filesystem::path& folder);
/// Connections that lead to them, in order, with ids that are always the same.
[[nodiscard]] std::vector<db::ConnectionProfile> connectionsTo(const std::filesystem::path& folder);

/// Whether a folder holds a complete demo of this version.
[[nodiscard]] bool hasDemo(const std::filesystem::path& folder);

// The single databases.
Status writeOrchard(const std::filesystem::path& file, bool isLive);
Status writeKitchen(const std::filesystem::path& file);
Status writeProbes(const std::filesystem::path& file);
/// Many empty tables, for seeing how a large catalog feels.
Status writeArchive(const std::filesystem::path& file, int tables);

}  // namespace pantry::demo
