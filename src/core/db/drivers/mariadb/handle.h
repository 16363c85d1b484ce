#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/db/drivers/mariadb/engine_types.h"
#include "core/db/profile.h"

namespace pantry::db::mariadb {

struct CloseConnection {
    void operator()(MYSQL* connection) const;
};
struct FreeResult {
    void operator()(MYSQL_RES* result) const;
};
using ConnectionHandle = std::unique_ptr<MYSQL, CloseConnection>;
using ResultHandle = std::unique_ptr<MYSQL_RES, FreeResult>;

/// Opens a connection; a cancellation ends the wait at once (looking up a host's name excepted).
/// Errors: Connection, Permission, NotFound, Busy, Cancelled.
Result<ConnectionHandle> connect(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                 const base::Cancellation& cancellation);

/// The Error for what the engine refused last. `statement` is the text that was sent, for its place.
Error errorOf(MYSQL* connection, std::string_view statement, const ConnectionProfile& profile);

/// Whether an engine's code says that the connection is gone.
[[nodiscard]] bool isLost(unsigned code);

}  // namespace pantry::db::mariadb
