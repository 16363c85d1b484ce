#include "app/editor/text_verbs.h"

#include <algorithm>
#include <vector>

namespace pantry::app {

std::span<const TextVerb> textVerbs() {
    using Lines = SqlEditor::LineChange;
    static const std::vector<TextVerb> kVerbs{
        {"editor.fold", [](SqlEditor& e) { e.foldAtCaret(); }},
        {"editor.foldAll", [](SqlEditor& e) { e.foldEverything(true); }},
        {"editor.unfoldAll", [](SqlEditor& e) { e.foldEverything(false); }},
        {"editor.comment", [](SqlEditor& e) { e.toggleComment(); }},
        {"editor.moveUp", [](SqlEditor& e) { e.changeLines(Lines::MoveUp); }},
        {"editor.moveDown", [](SqlEditor& e) { e.changeLines(Lines::MoveDown); }},
        {"editor.duplicate", [](SqlEditor& e) { e.changeLines(Lines::Duplicate); }},
        {"editor.join", [](SqlEditor& e) { e.changeLines(Lines::Join); }},
        {"editor.sort", [](SqlEditor& e) { e.changeLines(Lines::Sort); }},
        {"editor.capitals", [](SqlEditor& e) { e.changeLetters(SqlEditor::Letters::Capital); }},
        {"editor.smallLetters", [](SqlEditor& e) { e.changeLetters(SqlEditor::Letters::Small); }},
        {"editor.nextOccurrence", [](SqlEditor& e) { e.addNextOccurrence(); }},
        {"editor.caretAbove", [](SqlEditor& e) { e.addCaret(false); }},
        {"editor.caretBelow", [](SqlEditor& e) { e.addCaret(true); }},
    };
    return kVerbs;
}

bool carryOut(std::string_view id, SqlEditor& editor) {
    const auto verb = std::ranges::find(textVerbs(), id, &TextVerb::id);
    if (verb == textVerbs().end()) return false;
    verb->act(editor);
    return true;
}

}  // namespace pantry::app
