#include "app/command/command.h"

#include <QCoreApplication>
#include <algorithm>

#include "app/command/command_table.h"

namespace pantry::app {

QString placeText(CommandPlace place) {
    switch (place) {
        case CommandPlace::Editor: return QCoreApplication::translate("Command", "In the text");
        case CommandPlace::Rows: return QCoreApplication::translate("Command", "In the rows");
        case CommandPlace::Record: return QCoreApplication::translate("Command", "In a record");
        case CommandPlace::Card: return QCoreApplication::translate("Command", "On a card");
        case CommandPlace::Catalog: return QCoreApplication::translate("Command", "In the object list");
        case CommandPlace::List: return QCoreApplication::translate("Command", "In a list");
        default: return {};
    }
}

const std::vector<Command>& commands() {
    static const std::vector<Command> kAll = makeCommands();
    return kAll;
}

const Command& command(std::string_view id) {
    const auto found = std::ranges::find(commands(), id, &Command::id);
    Q_ASSERT(found != commands().end());
    return *found;
}

QString keyText(std::string_view id) {
    const Command& one = command(id);
    if (!one.shownKeys.isEmpty()) return one.shownKeys;
    return one.keys.isEmpty() ? QString() : one.keys.front().toString(QKeySequence::NativeText);
}

bool isKeyOf(std::string_view id, const QKeyEvent* event) {
    return command(id).keys.contains(QKeySequence(event->keyCombination()));
}

QString commandTip(std::string_view id) {
    const QString key = keyText(id);
    return key.isEmpty() ? command(id).help : QStringLiteral("%1 (%2)").arg(command(id).help, key);
}

QString menuText(std::string_view id) {
    const QString key = keyText(id);
    return key.isEmpty() ? command(id).text : command(id).text + QLatin1Char('\t') + key;
}

}  // namespace pantry::app
