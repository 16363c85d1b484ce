#pragma once

class QObject;

namespace pantry::app {

/// Watches the whole application for input that would reach something else than people mean, as long as `owner` lives:
/// - the wheel changes no choice: whoever scrolls a form past a list or a number wants to scroll, and would not notice
///   what changed; it goes on to what lies around;
/// - Ctrl+Return in a field means that field, and does not run the sheet; a list of offers that is open below the field
///   makes way for it.
void guardInput(QObject* owner);

}  // namespace pantry::app
