#pragma once

#include <string_view>

#include "core/store/home.h"

namespace pantry::store {

/// Sends what the program logs to the home folder's log file, two files of a megabyte at most. With `isVerbose`
/// details too. Where the file cannot be written, logging is silent: no work stops for it.
void startLog(const Home& home, bool isVerbose);

enum class LogLevel { Detail, Note, Warning };

/// Adds a line to the log; details only where they are asked for. No secret may stand in it. From any thread.
void log(LogLevel level, std::string_view line);

}  // namespace pantry::store
