#pragma once

#include <memory>
#include <string>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/base/wake_signal.h"
#include "core/db/drivers/postgres/engine_types.h"
#include "core/db/profile.h"

namespace pantry::db::postgres {

struct CloseConnection {
    void operator()(PGconn* connection) const;
};
struct ClearResult {
    void operator()(PGresult* result) const;
};
struct FreeCancel {
    void operator()(PGcancel* cancel) const;
};
using ConnectionHandle = std::unique_ptr<PGconn, CloseConnection>;
using ResultHandle = std::unique_ptr<PGresult, ClearResult>;
using CancelHandle = std::unique_ptr<PGcancel, FreeCancel>;

/// Opens a line without blocking: a cancellation ends the wait at once (looking up a host's name excepted).
/// Errors: Connection, Permission, NotFound, Busy, Cancelled.
Result<ConnectionHandle> connect(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                 const base::Cancellation& cancellation);

/// The Error for a result that the server refused. `statement` is the text that was sent, for its place.
Error errorOf(const PGresult* result, std::string_view statement, const ConnectionProfile& profile);

/// The Error for a connection that broke.
Error lostLine(const PGconn* connection, const ConnectionProfile& profile);

}  // namespace pantry::db::postgres
