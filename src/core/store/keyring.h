#pragma once

#include <optional>
#include <string>

#include "core/base/result.h"

namespace pantry::store {

/// Passwords of connections in the system's keyring (the Secret Service), by the connection's id.
///
/// A keyring that is missing, locked or silent is an Error that says so: nothing here opens a dialog, and nothing waits
/// longer than some seconds. Not for the window's thread.
///
/// Threads: internally synchronised.
class Keyring {
public:
    /// Nothing when it holds none for this connection. Errors: NotFound (no keyring), Busy (locked), Connection.
    static Result<std::optional<std::string>> find(const std::string& connectionId);

    /// `label` is what the keyring's own window shows.
    static Status keep(const std::string& connectionId, const std::string& label, const std::string& password);

    /// Nothing happens when there is none.
    static Status forget(const std::string& connectionId);
};

}  // namespace pantry::store
