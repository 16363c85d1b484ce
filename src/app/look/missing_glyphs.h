#pragma once

#include <QString>

namespace pantry::app {

/// A text in which characters that no font of this machine has show as their code, such as ⟨U+1FAE8⟩, instead of as a
/// box that looks like any other. Costs nothing for Latin texts; what was looked up once is remembered.
///
/// Threads: the window's thread.
[[nodiscard]] QString withMissingGlyphsNamed(const QString& text);

}  // namespace pantry::app
