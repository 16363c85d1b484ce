#pragma once

#include <QKeyEvent>
#include <QKeySequence>
#include <QList>
#include <QString>
#include <string_view>
#include <vector>

namespace pantry::app {

/// Where a command has something to work on. Two commands of one place never share a key.
enum class CommandPlace {
    Window,       ///< anywhere
    Sheet,        ///< a sheet is in front
    Transaction,  ///< and a transaction is open in it
    Result,       ///< and it shows a result
    Editor,       ///< the text has the focus
    Rows,         ///< the grid of a result has the focus
    Record,       ///< the record view has it
    Card,         ///< a card of the tray has it
    Catalog,      ///< the list of objects has it
    List,         ///< any list to choose from
};
[[nodiscard]] QString placeText(CommandPlace place);  ///< “on a card”; empty for those that need no telling

/// What can be done in the window, for everybody who tells of it: menus, the reach, buttons' tips, the page of keys.
struct Command {
    std::string_view id;       ///< result.export
    QString menu;              ///< in which it stands, with the mark of its key; empty for none
    QString text;              ///< Export…
    QString help;              ///< one sentence without its full stop
    QList<QKeySequence> keys;  ///< the first one is told to people; all of them work
    CommandPlace place = CommandPlace::Window;
    QString also = {};         ///< other words that people look for it by
    bool isSetting = false;    ///< it stays as it is chosen
    bool beginsGroup = false;  ///< a line stands before it in its menu
    bool isOfWidget = false;   ///< the widget that has the focus carries it out, and no menu tells of it
    QString shownKeys = {};    ///< for several keys that are told as one: Alt+1 … Alt+9
};

/// All of them, in the order of the menus.
[[nodiscard]] const std::vector<Command>& commands();
/// Requires: there is one of that id.
[[nodiscard]] const Command& command(std::string_view id);

/// How its key is written here: Ctrl+E; empty without one.
[[nodiscard]] QString keyText(std::string_view id);
/// Whether somebody pressed its key.
[[nodiscard]] bool isKeyOf(std::string_view id, const QKeyEvent* event);
/// For a button: what it does, and its key in brackets.
[[nodiscard]] QString commandTip(std::string_view id);
/// For a menu of a widget: its text, and its key at the right.
[[nodiscard]] QString menuText(std::string_view id);

}  // namespace pantry::app
