#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/store/connection_list.h"

namespace pantry::store {

/// connections.json: the saved connections, without any secret. Every change reads the file again under a lock, so
/// that two windows do not undo each other's work.
///
/// Threads: one at a time; other processes may use the same file.
class ConnectionsFile {
public:
    explicit ConnectionsFile(std::filesystem::path path) : path_(std::move(path)) {}

    /// Errors: TooNew, Permission, Io.
    Result<ConnectionList> load() const;

    /// Adds the profile, or replaces the one with its id. Requires: id and name are not empty.
    Status put(const db::ConnectionProfile& profile) const;

    /// Errors: NotFound.
    Status remove(std::string_view id) const;

    /// Changes the list as a whole: order, groups, several connections. Nothing of it is written when `change` fails.
    Status change(const std::function<Status(ConnectionList&)>& change) const;

private:
    std::filesystem::path path_;
};

/// What is wrong with a profile before it is saved: no name, no file, a name that another one has, a
/// property that its engine does not know.
[[nodiscard]] std::optional<Error> problemOf(const db::ConnectionProfile& profile,
                                             const std::vector<db::ConnectionProfile>& others);

/// The connection that a name, an id or an address means. What an address leads to is live unless it is on this
/// machine: nobody has said that it is anything less. Errors: NotFound with the nearest name, InvalidInput.
struct ResolvedConnection {
    db::ConnectionProfile profile;
    std::optional<std::string> password;  ///< only when an address carried one
};
Result<ResolvedConnection> resolveConnection(std::string_view wanted, const std::vector<db::ConnectionProfile>& saved);

}  // namespace pantry::store
