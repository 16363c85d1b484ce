#include "app/pages/sheet/text_shape.h"

namespace pantry::app {

using Pair = std::optional<sql::TextPair>;

TextShape::TextShape(Sheet& sheet, SqlEditor& editor, QObject* parent)
    : QObject(parent), sheet_(sheet), editor_(editor) {
    constexpr int kPairRestMs = 60;
    constexpr int kFoldRestMs = 300;
    pairTimer_.setSingleShot(true);
    pairTimer_.setInterval(kPairRestMs);
    foldTimer_.setSingleShot(true);
    foldTimer_.setInterval(kFoldRestMs);
    connect(&pairTimer_, &QTimer::timeout, this, &TextShape::findPair);
    connect(&foldTimer_, &QTimer::timeout, this, &TextShape::findFolds);
    connect(&editor_, &SqlEditor::caretMoved, &pairTimer_, qOverload<>(&QTimer::start));
    connect(&sheet_, &Sheet::readingChanged, &foldTimer_, qOverload<>(&QTimer::start));
    foldTimer_.start();
}

void TextShape::findPair() {
    if (!sheet_.hasHelpers()) return;
    sheet_.service().findPair(editor_.caret(),
                              sheet_.whileSame<Pair>([this](const Pair& pair) { editor_.showPair(pair); }));
}

void TextShape::goToOther(std::function<void()> nothing) {
    if (!sheet_.hasHelpers()) return nothing();
    sheet_.service().findPair(editor_.caret(),
                              sheet_.whileSame<Pair>([this, nothing = std::move(nothing)](const Pair& pair) {
                                  if (!pair || !pair->other) return nothing();
                                  // Behind it, where the caret touches it as it touched the first.
                                  editor_.setCaret(pair->other->start + pair->other->length);
                              }));
}

void TextShape::findFolds() {
    if (!sheet_.hasHelpers()) return;
    sheet_.service().findFolds(sheet_.whileSame<std::vector<sql::FoldLine>>(
        [this](const std::vector<sql::FoldLine>& lines) { editor_.setFolds(lines); }));
}

}  // namespace pantry::app

#include "moc_text_shape.cpp"
