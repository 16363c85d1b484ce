#pragma once

#include <libpq-fe.h>

#include <memory>
#include <string>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/base/wake_signal.h"
#include "core/db/profile.h"

// Only for .cpp files of the PostgreSQL driver: this header shows the engine's own types.

namespace pantry::db::postgres {

struct CloseConnection {
    void operator()(PGconn* connection) const { PQfinish(connection); }
};
struct ClearResult {
    void operator()(PGresult* result) const { PQclear(result); }
};
struct FreeCancel {
    void operator()(PGcancel* cancel) const { PQfreeCancel(cancel); }
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

/// The Error for a line that broke.
Error lostLine(const PGconn* connection, const ConnectionProfile& profile);

}  // namespace pantry::db::postgres
