#pragma once

#include <functional>

namespace pantry::base {

/// Runs `work` to its end on a thread of its own whose stack is large enough for recursion tens of thousands of
/// levels deep, and waits for it. For inputs that nest as nobody writes but some programs do.
///
/// Errors: false when the system gives no such stack; `work` has not run then.
/// Requires: `work` throws nothing.
bool onDeepStack(const std::function<void()>& work);

}  // namespace pantry::base
