#pragma once

#include <gtest/gtest.h>

// The thread sanitizer keeps a list of 65,536 calls and falls when more of them are open. What goes deeper on purpose
// is for the other builds; it works on one thread.
#ifdef __SANITIZE_THREAD__
#define SKIP_WHERE_CALLS_ARE_COUNTED() GTEST_SKIP() << "deeper than the thread sanitizer goes"
#else
#define SKIP_WHERE_CALLS_ARE_COUNTED() static_cast<void>(0)
#endif
