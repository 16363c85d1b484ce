#include "app/editor/editor_keys.h"

#include <Qsci/qscicommand.h>
#include <Qsci/qscicommandset.h>
#include <Qsci/qsciscintilla.h>

#include <array>
#include <string_view>

#include "app/command/command.h"

namespace pantry::app {
namespace {

struct Binding {
    std::string_view id;  ///< in the table of commands
    QsciCommand::Command act;
};
constexpr std::array kBindings{
    Binding{"text.cut", QsciCommand::SelectionCut},
    Binding{"text.copy", QsciCommand::SelectionCopy},
    Binding{"text.paste", QsciCommand::Paste},
    Binding{"text.selectAll", QsciCommand::SelectAll},
};

/// Whether a key writes or acts, rather than moves: a letter or sign together with Ctrl or Alt, or Esc.
bool isForCommands(int key) {
    const int modifiers = static_cast<int>(Qt::ControlModifier) | static_cast<int>(Qt::AltModifier);
    const int plain = key & ~static_cast<int>(Qt::KeyboardModifierMask);
    const bool isSign = plain > Qt::Key_Space && plain <= Qt::Key_AsciiTilde;
    const bool isVerb = isSign || plain == Qt::Key_Return || plain == Qt::Key_Enter;
    return plain == Qt::Key_Escape || (isVerb && (key & modifiers) != 0);
}

}  // namespace

void bindEditorKeys(QsciScintilla& component) {
    QsciCommandSet* all = component.standardCommands();
    for (QsciCommand* one : all->commands()) {
        if (isForCommands(one->key())) one->setKey(0);
        if (isForCommands(one->alternateKey())) one->setAlternateKey(0);
    }
    for (const Binding& binding : kBindings) {
        const QList<QKeySequence>& keys = command(binding.id).keys;
        QsciCommand* act = all->find(binding.act);
        act->setKey(keys.first()[0].toCombined());
        if (keys.size() > 1) act->setAlternateKey(keys[1][0].toCombined());
    }
}

}  // namespace pantry::app
