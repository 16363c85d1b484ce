#pragma once

class QsciScintilla;

namespace pantry::app {

/// Gives the editor component the keys of the table of commands: those that write keep what the table says, and every
/// other one with a letter or a sign is the program's. Moving about stays as it is on every desktop.
void bindEditorKeys(QsciScintilla& component);

}  // namespace pantry::app
