#include "app/editor/text_settings.h"

namespace pantry::app {

void applySettings(SqlEditor& editor, const store::Settings& settings) {
    editor.setTextSize(settings.textSize);
    editor.setWrapped(settings.isTextWrapped);
    editor.setBlanksShown(settings.areBlanksShown);
    editor.setNumbersShown(settings.areNumbersShown);
    editor.setClosesPairs(settings.closesPairs);
    editor.setIndentWidth(static_cast<int>(settings.format.indentWidth));
}

}  // namespace pantry::app
