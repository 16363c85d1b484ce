#pragma once

#include "core/base/error.h"

namespace pantry::work {

/// Why what was only worked out here, such as a comparison, cannot run once more.
[[nodiscard]] inline Error nothingToRunAgain() {
    return {.kind = ErrorKind::NotFound,
            .message = "These rows have no statement that could run again.",
            .hint = "What is here can be exported."};
}

}  // namespace pantry::work
