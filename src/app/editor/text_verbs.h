#pragma once

#include <span>
#include <string_view>

#include "app/editor/sql_editor.h"

namespace pantry::app {

/// A command that works on a text alone, wherever this stands.
struct TextVerb {
    std::string_view id;  ///< in the table of commands
    void (*act)(SqlEditor& editor);
};
[[nodiscard]] std::span<const TextVerb> textVerbs();

/// Carries out a command on a text; false when it is none of these.
bool carryOut(std::string_view id, SqlEditor& editor);

}  // namespace pantry::app
