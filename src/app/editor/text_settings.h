#pragma once

#include "app/editor/sql_editor.h"
#include "core/store/settings.h"

namespace pantry::app {

/// Lets an editor look and write as the settings say.
void applySettings(SqlEditor& editor, const store::Settings& settings);

}  // namespace pantry::app
