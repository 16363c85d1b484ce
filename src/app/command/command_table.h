#pragma once

#include <vector>

#include "app/command/command.h"

namespace pantry::app {

/// The table itself, with words in the user's language: made once, by commands().
[[nodiscard]] std::vector<Command> makeCommands();

}  // namespace pantry::app
