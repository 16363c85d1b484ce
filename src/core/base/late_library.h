#pragma once

#include "core/base/result.h"

namespace pantry::base {

/// Loads a client library that the program does without until it is needed (cmake/late_library.cmake). Whoever is the
/// first to call something of it asks here before, so that a library that is not there is an error like any other; a
/// call without having asked loads it as well, and ends the program when it cannot.
///
/// `soname` is the library's name for the loader, such as "libpq.so.5"; LATE_PQ and its like hold the one of the
/// library that was there at building.
///
/// Threads: any; may read files the first time.
/// Errors:  NotFound, with the loader's words.
[[nodiscard]] Status loadLibrary(const char* soname);

}  // namespace pantry::base
