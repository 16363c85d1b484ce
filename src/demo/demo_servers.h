#pragma once

#include <filesystem>
#include <memory>
#include <vector>

#include "core/base/result.h"
#include "core/db/profile.h"

namespace pantry::demo {

/// PostgreSQL and MariaDB servers with the demo's data, for trying things by hand: the orchard's records, and the same
/// once more as if they were live, in PostgreSQL; the kitchen in MariaDB. They end with this object.
class DemoServers {
public:
    /// Starts them and copies the data of the demo in `folder` (see writeDemo). Takes some seconds.
    /// Errors: NotFound when a server's package is not installed; Io, Statement.
    static Result<std::unique_ptr<DemoServers>> start(const std::filesystem::path& folder);
    ~DemoServers();

    /// How to connect to them.
    [[nodiscard]] const std::vector<db::ConnectionProfile>& profiles() const;

private:
    DemoServers();
    struct Parts;
    std::unique_ptr<Parts> parts_;
};

}  // namespace pantry::demo
