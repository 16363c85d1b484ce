#pragma once

#include "core/store/home.h"

namespace pantry::store {

/// Sends what the program logs to the home folder's log file, two files of a megabyte at most. With `isVerbose`
/// details too. Where the file cannot be written, logging is silent: no work stops for it.
void startLog(const Home& home, bool isVerbose);

}  // namespace pantry::store
