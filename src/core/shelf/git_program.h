#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"

namespace pantry::shelf {

/// What the program git does over a network: it knows the user's own keys, helpers and settings, which the library does
/// not. It never asks anything: what it would ask for is told as an error.
///
/// Threads: any; each call waits until the program has ended.
/// Errors:  NotFound when git is not installed, Permission when the remote asks for a password that no helper has or
///          refuses the key, Connection when it cannot be reached, Cancelled, Io for all else.
struct GitProgram {
    std::filesystem::path folder;
    base::Cancellation cancellation = {};
    /// Hears a line of what git says while it is at work, such as “Receiving objects:  40%”.
    std::function<void(const std::string&)> progress = {};

    [[nodiscard]] Status fetch(const std::string& remote) const;
    /// Hands the branch on. Errors: also Busy when the remote has versions that are not here.
    [[nodiscard]] Status push(const std::string& remote, const std::string& branch) const;
    /// Copies a repository into a new folder.
    static Status clone(const std::string& address, const std::filesystem::path& into,
                        const base::Cancellation& cancellation = {},
                        const std::function<void(const std::string&)>& progress = {});

private:
    [[nodiscard]] Status run(const std::vector<std::string>& arguments, const std::string& remote) const;
};

}  // namespace pantry::shelf
