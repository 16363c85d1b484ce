#pragma once

#include <span>

#include "core/snippet/snippets.h"

namespace pantry::snippet {

/// Those that come with the program: what people look up each time. Each is tried on its engine by the tests.
[[nodiscard]] std::span<const Snippet> builtIn();

}  // namespace pantry::snippet
