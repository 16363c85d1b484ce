#include "app/editor/code_text.h"

#include <algorithm>
#include <memory>

#include "app/base/background.h"
#include "app/look/theme.h"
#include "core/work/text_reading.h"

namespace pantry::app {

CodeText::CodeText(int tallest, QWidget* parent) : SqlEditor(parent), tallest_(tallest) {
    setReadOnly(true);
    setNumbersShown(false);
}

void CodeText::show(const base::SharedText& wanted, const sql::Language& language) {
    if (text() == wanted) return;
    resetText(wanted);
    if (tallest_ > 0) setFixedHeight(std::clamp(contentHeight(), Theme::px(48), Theme::px(tallest_)));
    inBackground(
        this,
        [wanted, language] {
            return std::make_shared<const work::TextReading>(work::TextReading::of(wanted, language, nullptr));
        },
        [this, wanted](const work::TextReadingPtr& reading) {
            if (text() == wanted) setReading(reading);
        });
}

}  // namespace pantry::app

#include "moc_code_text.cpp"
