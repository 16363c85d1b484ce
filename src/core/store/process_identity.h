#pragma once

#include <string>

namespace pantry::store {

/// Tells this process from every other one, also from a later one that got the same number: process id, start time
/// and boot of the machine (proc(5)).
[[nodiscard]] const std::string& thisProcess();

/// Whether the process that an identity names still runs.
[[nodiscard]] bool isRunning(const std::string& identity);

}  // namespace pantry::store
