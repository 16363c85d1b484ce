#pragma once

#include <QString>

namespace pantry::app {

/// Other words that people look for an action by: “dark” for the lamplight theme. Empty when its own words are enough.
/// `text` is what the action is called.
[[nodiscard]] QString synonymsOf(const QString& text);

}  // namespace pantry::app
