// Every command of the window, one entry each. A new one is an entry here, and what it does in
// MainWindow::bindCommands().
#include "app/command/command_table.h"

#include <QCoreApplication>
#include <initializer_list>

namespace pantry::app {
namespace {

using enum CommandPlace;

QString translated(const char* text) { return QCoreApplication::translate("Command", text); }

QList<QKeySequence> keys(std::initializer_list<const char*> texts) {
    QList<QKeySequence> all;
    for (const char* text : texts) all << QKeySequence(QLatin1String(text), QKeySequence::PortableText);
    return all;
}

/// Gathers the commands of one menu.
class Menu {
public:
    Menu(std::vector<Command>& all, const char* title)
        : all_(all), title_(title == nullptr ? QString() : translated(title)) {}

    Command& add(std::string_view id, const char* text, const char* help, std::initializer_list<const char*> given = {},
                 CommandPlace place = Window, const char* also = "") {
        all_.push_back({.id = id,
                        .menu = title_,
                        .text = translated(text),
                        .help = translated(help),
                        .keys = keys(given),
                        .place = place,
                        .also = translated(also)});
        return all_.back();
    }
    Command& addSetting(std::string_view id, const char* text, const char* help,
                        std::initializer_list<const char*> given = {}, const char* also = "") {
        Command& one = add(id, text, help, given, Window, also);
        one.isSetting = true;
        return one;
    }
    /// What the widget that has the focus does by itself.
    Command& addOfWidget(std::string_view id, CommandPlace place, const char* help,
                         std::initializer_list<const char*> given, const char* shownKeys = "") {
        Command& one = add(id, help, help, given, place);
        one.isOfWidget = true;
        one.shownKeys = translated(shownKeys);
        return one;
    }

private:
    std::vector<Command>& all_;
    QString title_;
};

void addPantry(std::vector<Command>& all) {
    Menu menu(all, "&Pantry");
    menu.add("window.reach", "Reach for…", "Find tables, sheets, runs, actions and settings", {"Ctrl+J"});
    menu.addSetting("theme.daylight", "Daylight theme", "Dark letters on light ground", {},
                    "light day white bright settings preferences colours");
    menu.addSetting("theme.lamplight", "Lamplight theme", "Light letters on dark ground", {},
                    "dark night black settings preferences colours");
    menu.add("window.quit", "Quit", "Close the window; everything that was typed stays", {"Ctrl+Q"}, Window,
             "exit close")
        .beginsGroup = true;
}

void addConnection(std::vector<Command>& all) {
    Menu menu(all, "&Connection");
    menu.add("connections.show", "All connections", "See, change and try the connections", {"Ctrl+Shift+O"}, Window,
             "servers databases manage");
    menu.add("connections.new", "New connection…", "Fill in where a database is", {}, Window,
             "add server database connect");
    menu.add("connections.group", "New group", "A heading for connections that belong together");
    menu.add("connections.template", "New template…", "Settings that several connections begin with");
    menu.add("connections.import", "Import connections…", "Bring in what another machine exported");
    menu.add("connections.export", "Export connections…", "Write connections into a file, without their passwords");
    menu.add("catalog.refresh", "Refresh the catalog", "Read anew what the database holds", {"F5"}, Window,
             "reload reread schema")
        .beginsGroup = true;
    menu.add("catalog.overview", "Overview",
             "What is in the database: largest, newest, empty, without a key; its server", {"Ctrl+Alt+O"}, Window,
             "statistics size tables");
    menu.add("catalog.server", "Server", "Roles, rights, databases, settings and sessions", {"Ctrl+Alt+E"}, Window,
             "users privileges grants parameters locks processes");
    menu.add("table.new", "New table…", "A form for a table in the database that the catalog shows", {"Ctrl+Alt+T"},
             Window, "create table design form");
    menu.add("sheet.connection", "Connection of this sheet…", "Choose where this sheet's statements run",
             {"Ctrl+Alt+C"}, Sheet);
    menu.add("sheet.session", "Database, schema, session…", "Schema, commits and limits of this sheet", {"Ctrl+Alt+D"},
             Sheet);
    menu.add("catalog.find", "Find in the catalog", "Find a table, view, routine or column", {"Ctrl+Shift+F"}, Window,
             "search table column");
}

void addSheet(std::vector<Command>& all) {
    Menu menu(all, "&Sheet");
    menu.add("sheet.new", "New sheet", "New sheet where the one in front is", {"Ctrl+T"}, Window,
             "tab editor query connect");
    menu.add("sheet.open", "Open a file…", "Open a file with SQL, a database or exported connections", {"Ctrl+O"},
             Window, "load script sql");
    menu.add("sheet.save", "Save", "Save the sheet on the shelf, or in its file", {"Ctrl+S"}, Sheet,
             "keep query shelf version");
    menu.add("sheet.saveTo", "Save to the shelf…", "Save the sheet as another query on the shelf", {}, Sheet,
             "keep query shelf copy");
    menu.add("sheet.saveAs", "Save as a file…", "Save the sheet in another file", {"Ctrl+Shift+S"}, Sheet);
    menu.add("sheet.versions", "Versions of this query", "What became of the saved query, and what it was before", {},
             Sheet, "history difference restore shelf");
    menu.add("sheet.reopen", "Reopen the sheet closed last", "Bring back the sheet that was closed last",
             {"Ctrl+Shift+T"});
    menu.add("page.close", "Close", "Close the page in front", {"Ctrl+W"}, Window, "tab page");
}

void addEdit(std::vector<Command>& all) {
    Menu menu(all, "E&dit");
    menu.add("editor.find", "Find…", "Find in the text", {"Ctrl+F"}, Editor, "search look for");
    menu.add("editor.replace", "Find and replace…", "Put something in place of what is found", {"Ctrl+H"}, Editor,
             "substitute change");
    menu.add("editor.findNext", "Find the next one", "Go to the next place that was found", {"F3"}, Editor);
    menu.add("editor.findBefore", "Find the one before", "Go to the place that was found before", {"Shift+F3"}, Editor);
    menu.add("editor.goToLine", "Go to line…", "Go to a line by its number", {"Ctrl+L"}, Editor, "jump number");
    menu.add("editor.nextStatement", "Next statement", "Go to the beginning of the statement below", {"Alt+PgDown"},
             Editor, "jump down");
    menu.add("editor.previousStatement", "Previous statement",
             "Go to the beginning of this statement, or of the one above", {"Alt+PgUp"}, Editor, "jump up");
    menu.add("editor.goToBracket", "Go to the other end",
             "Go to the bracket, END or beginning that belongs to this one", {"Ctrl+M"}, Editor,
             "bracket parenthesis brace case begin match");
    menu.add("editor.fold", "Fold or unfold",
             "Fold away what begins at the cursor's line or is around it, or show it again", {"Ctrl+Alt+-"}, Editor,
             "collapse expand hide");
    menu.add("editor.foldAll", "Fold everything", "Fold away every statement, bracket and comment of several lines",
             {"Ctrl+Alt+Shift+-"}, Editor, "collapse all");
    menu.add("editor.unfoldAll", "Unfold everything", "Show again all that is folded away", {"Ctrl+Alt++"}, Editor,
             "expand all");
    menu.add("editor.pasteCode", "Paste from program text", "Paste SQL out of string literals: no quotes, no escapes",
             {"Ctrl+Shift+V"}, Editor, "java python string code")
        .beginsGroup = true;
    menu.add("editor.copyCode", "Copy as program text…", "Copy the statement as a string of a language", {}, Editor,
             "java python javascript go php c# string code");
    menu.add("editor.comment", "Comment", "Make comments of the lines, or statements of the comments", {"Ctrl+/"},
             Sheet);
    menu.add("editor.moveUp", "Move lines up", "Exchange the chosen lines with the line above", {"Alt+Up"}, Editor)
        .beginsGroup = true;
    menu.add("editor.moveDown", "Move lines down", "Exchange the chosen lines with the line below", {"Alt+Down"},
             Editor);
    menu.add("editor.duplicate", "Duplicate lines", "Write the chosen lines once more, below", {"Ctrl+Shift+D"}, Editor,
             "copy repeat");
    menu.add("editor.join", "Join lines", "Make one line of the chosen ones, or of this one and the next",
             {"Ctrl+Shift+J"}, Editor);
    menu.add("editor.sort", "Sort lines", "Put the chosen lines in order; commas of a list stay between", {}, Editor,
             "order arrange");
    menu.add("editor.capitals", "Capital letters", "Write the selection, or the word, in capital letters",
             {"Ctrl+Alt+U"}, Editor, "upper case");
    menu.add("editor.smallLetters", "Small letters", "Write the selection, or the word, in small letters",
             {"Ctrl+Alt+L"}, Editor, "lower case");
    menu.add("editor.nextOccurrence", "Also select the next occurrence",
             "Select the word, then also where it stands next; what is typed goes to all", {"Ctrl+D"}, Editor,
             "many carets cursors multiple")
        .beginsGroup = true;
    menu.add("editor.allOccurrences", "Select all occurrences", "Select every place where the selection stands",
             {"Ctrl+Alt+A"}, Editor, "many carets cursors multiple");
    menu.add("editor.caretAbove", "One more caret above", "Write in the line above too", {"Ctrl+Alt+Up"}, Editor,
             "many carets cursors multiple column");
    menu.add("editor.caretBelow", "One more caret below", "Write in the line below too", {"Ctrl+Alt+Down"}, Editor,
             "many carets cursors multiple column");
}

void addQuery(std::vector<Command>& all) {
    Menu menu(all, "&Query");
    menu.add("editor.complete", "Complete", "Offer what can stand at the cursor", {"Ctrl+Space"}, Sheet);
    menu.add("editor.mend", "Mend what is marked", "Mend the mark at the cursor", {"Alt+Return"}, Sheet);
    menu.add("editor.silence", "Turn this check off", "Never mark again what the mark at the cursor is about", {},
             Sheet, "ignore disable rule finding warning hint");
    menu.add("editor.allChecks", "Turn all checks on", "Mark again what was turned off", {}, Sheet,
             "enable rules findings warnings");
    menu.add("query.check", "Check on the server", "Ask the server about every statement, without running any",
             {"Ctrl+Alt+K"}, Sheet, "prepare validate verify compile");
    menu.add("snippet.insert", "Insert a snippet…", "Put a template with places to fill in at the cursor",
             {"Ctrl+Alt+S"}, Sheet, "template live boilerplate");
    menu.add("snippet.make", "Make a snippet of the selection…", "Keep the selected text as a template", {}, Sheet,
             "template new");
    menu.add("snippet.manage", "Snippets…", "See, change and try the snippets", {}, Window, "templates settings");
    menu.add("query.definition", "Definition in place", "Show below the line what the name at the cursor is",
             {"Ctrl+Shift+Space"}, Sheet, "describe ddl type comment peek");
    menu.add("sheet.ranBefore", "Search what ran…",
             "Find a statement that ran before, with each letter; again for an older one", {"Ctrl+R"}, Sheet,
             "ledger history backwards reverse recent");
    menu.add("sheet.format", "Format", "Format the sheet; no token changes", {"Ctrl+Alt+F"}, Sheet,
             "beautify pretty indent tidy");
    menu.add("query.unfold", "Unfold *…", "Write the columns that * stands for, all or those that are ticked",
             {"Ctrl+Alt+8"}, Sheet, "expand star asterisk columns wildcard")
        .beginsGroup = true;
    menu.add("query.fold-columns", "Fold columns into *", "Write * in place of all columns of a relation", {}, Sheet,
             "star asterisk collapse");
    menu.add("query.qualify-columns", "Qualify columns", "Write before each column the relation that it is from", {},
             Sheet, "alias prefix table");
    menu.add("query.add-as", "Write AS", "Write AS before every alias", {}, Sheet, "explicit");
    menu.add("query.rename", "Rename in the statement…", "Change an alias or common table wherever it stands",
             {"Ctrl+Alt+N"}, Sheet, "refactor alias cte everywhere")
        .beginsGroup = true;
    menu.add("query.subquery-to-common-table", "Subquery to common table",
             "Put the subquery before the query, under a name", {}, Sheet, "with cte extract refactor");
    menu.add("query.common-table-to-subquery", "Common table to subquery", "Put the common table where it is read", {},
             Sheet, "with cte inline refactor");
    menu.add("query.swap-join", "Swap join sides", "Exchange the sides of the join at the cursor", {}, Sheet,
             "left right reverse");
    menu.add("query.literal-to-parameter", "Value to parameter", "Write a parameter in place of the value",
             {"Ctrl+Alt+P"}, Sheet, "literal constant variable bind extract");
    menu.add("query.wrap-in-count", "Count its rows", "Wrap the query in count(*)", {}, Sheet, "wrap select number");
}

void addRun(std::vector<Command>& all) {
    Menu menu(all, "&Run");
    menu.add("run.statement", "Run statement or selection", "Run the statement at the cursor, or the selection",
             {"Ctrl+Return"}, Sheet, "execute query");
    menu.add("run.all", "Run all", "Run every statement of the sheet", {"Ctrl+Shift+Return"}, Sheet, "execute query");
    menu.add("run.upTo", "Run up to the cursor", "Run all statements up to that at the cursor", {}, Sheet,
             "execute beginning start before");
    menu.add("run.from", "Run from the cursor on", "Run the statement at the cursor and all behind it", {}, Sheet,
             "execute rest after");
    menu.add("run.again", "Run the same again", "Run once more what was run last, with the values that it had",
             {"Ctrl+Alt+R"}, Sheet, "repeat execute last");
    menu.add("run.regularly", "Run regularly", "Run the statement of this result again every few minutes", {}, Sheet,
             "repeat interval watch poll refresh schedule timer");
    menu.add("run.parameters", "Values of the parameters", "Go to the values of the statement's parameters",
             {"Ctrl+Alt+V"}, Sheet, "bind variable placeholder");
    menu.add("run.stop", "Stop", "Stop what runs", {"Ctrl+."}, Sheet, "cancel abort kill interrupt");
    menu.add("transaction.commit", "Commit", "Keep the changes of the open transaction", {"Ctrl+Alt+M"}, Transaction)
        .beginsGroup = true;
    menu.add("transaction.rollback", "Roll back", "Undo the changes of the open transaction", {"Ctrl+Alt+Z"},
             Transaction, "undo transaction rollback");
    menu.add("transaction.manual", "Manual commit", "Changes wait until somebody commits them", {}, Sheet);
}

void addResult(std::vector<Command>& all) {
    Menu menu(all, "R&esult");
    menu.add("result.export", "Export…", "Write the rows into a file, the clipboard or a sheet", {"Ctrl+E"}, Result,
             "csv excel xlsx json xml html insert download save result write");
    menu.add("result.compare", "Compare with another result…", "See what two results do not share", {"Ctrl+Shift+E"},
             Result, "diff difference changes");
    menu.add("result.copy", "Copy cells", "Copy the chosen cells", {}, Result);
    menu.add("result.copyWithHeadings", "Copy with headings", "Copy the chosen cells with the columns' names",
             {"Ctrl+Shift+C"}, Result);
    menu.add("result.find", "Find in the rows", "Find a text in the rows", {"Ctrl+F"}, Result, "search grid");
    menu.add("result.allRows", "All rows", "Read all rows of this result", {}, Result, "fetch everything");
    menu.add("result.columns", "Columns: go to, show, hide", "Go to a column, show and hide columns", {"Ctrl+G"},
             Result, "hide show freeze pin unfreeze");
    menu.add("result.filter", "Show or colour rows where…", "Show or colour only rows that fit a condition",
             {"Ctrl+Shift+R"}, Result, "filter where condition highlight format");
    menu.add("result.sortAscending", "Sort ascending by this column", "Order the rows by the column of the cursor", {},
             Result, "order arrange");
    menu.add("result.sortDescending", "Sort descending by this column", "The same, the largest first", {}, Result,
             "order arrange");
    menu.add("result.freeze", "Freeze columns up to here", "Keep these columns in sight", {}, Result,
             "hide show pin fix lock left");
    menu.add("result.grid", "Result as: Grid", "Rows and columns", {"Ctrl+Alt+1"}, Result).beginsGroup = true;
    menu.add("result.record", "Result as: Record", "One row, its columns below each other", {"Ctrl+Alt+2"}, Result);
    menu.add("result.text", "Result as: Text", "The rows as text", {"Ctrl+Alt+3"}, Result);
    menu.add("result.json", "Result as: JSON", "The rows as JSON", {"Ctrl+Alt+4"}, Result);
    menu.add("result.profile", "Result as: Profile", "What each column holds", {"Ctrl+Alt+5"}, Result);
    menu.add("result.messages", "Result as: Messages", "What the server said", {"Ctrl+Alt+6"}, Result);
    menu.addSetting("setting.shade", "Shade every other row", "Shade every other row of the grid", {},
                    "stripes zebra banding settings");
}

void addView(std::vector<Command>& all) {
    Menu menu(all, "&View");
    menu.addSetting("view.leftColumn", "Left column", "Catalog and ledger, shown or away", {"Ctrl+B"},
                    "sidebar panel hide settings");
    menu.addSetting("view.closeUp", "Close-up", "The cell at the cursor in full, shown or away", {"F4"},
                    "detail inspector value panel settings");
    menu.add("view.catalog", "Catalog", "What the database holds", {"Ctrl+Shift+1"}, Window,
             "schema tables browse objects structure");
    menu.add("view.shelf", "Shelf", "Saved queries", {"Ctrl+Shift+3"}, Window, "saved queries folders snippets git");
    menu.add("view.ledger", "Ledger", "What was run", {"Ctrl+Shift+2"}, Window, "history past log recent runs queries");
    menu.add("view.wholeLedger", "Ledger page", "All that ran, searched, compared and run again", {}, Window,
             "history past log runs statistics search")
        .shownKeys = translated("Ctrl+Shift+2 twice");
    menu.add("view.beside", "Result beside the editor", "The result at the right of the text, or below it",
             {"Ctrl+Shift+B"}, Sheet);
    menu.add("view.result", "Result away or back", "The whole page for the text, or the result again", {}, Sheet)
        .shownKeys = translated("Esc Esc");
    menu.add("view.nextPart", "Next part of the window", "Go on to the next part of the window", {"F6"});
    menu.add("page.next", "Next page", "Go to the page at the right", {"Ctrl+Tab"});
    menu.add("page.previous", "Previous page", "Go to the page at the left",
             {"Ctrl+Shift+Tab", "Ctrl+Shift+Backtab", "Ctrl+Backtab"});
    menu.add("page.beside", "Show beside", "Put the page in front beside the others, or back among them",
             {"Ctrl+Alt+B"}, Window, "split two side right");
    menu.add("page.pin", "Pin", "Keep the page in front first, whatever is closed; or unpin it", {}, Window,
             "keep stay tab");
    menu.add("page.closeOthers", "Close the others", "Close every page but the one in front and pinned ones", {},
             Window, "tabs all");
    menu.add("page.all", "All pages…", "All open pages", {"Ctrl+Shift+P"});
    menu.addSetting("view.wrapped", "Wrap long lines", "Long lines of the text go on below", {}, "word wrap settings")
        .beginsGroup = true;
    menu.addSetting("view.blanks", "Show blanks", "Blanks and tabs of the text as dots and arrows", {},
                    "whitespace spaces settings");
    menu.addSetting("view.numbers", "Line numbers", "Numbers beside the text", {}, "gutter settings");
    menu.addSetting("view.larger", "Larger", "Larger text everywhere", {"Ctrl++", "Ctrl+="},
                    "font size zoom in bigger text settings")
        .beginsGroup = true;
    menu.addSetting("view.smaller", "Smaller", "Smaller text everywhere", {"Ctrl+-"},
                    "font size zoom out text settings");
    menu.add("view.usualSize", "Usual size", "The text as large as it is at first", {"Ctrl+0"}, Window,
             "font zoom reset text settings");
    Menu help(all, "&Help");
    help.add("help.guide", "Guide", "The user guide, by topics", {"Shift+F1"}, Window, "help manual how documentation");
    help.add("help.keys", "Keys", "All keys", {"F1"}, Window, "shortcuts keyboard hotkeys help");
}

void addThoseWithoutAMenu(std::vector<Command>& all) {
    Menu none(all, nullptr);
    for (int number = 1; number <= 9; ++number) {
        static constexpr std::string_view kIds[] = {"card.1", "card.2", "card.3", "card.4", "card.5",
                                                    "card.6", "card.7", "card.8", "card.9"};
        Command& one = none.add(kIds[number - 1], "Card of the tray", "Card of the tray", {}, Sheet);
        one.keys = {QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_0 + number))};
        one.shownKeys = number == 1 ? translated("Alt+1 … Alt+9") : QString();
    }
    none.add("window.menus", "Menus", "Menus; Alt and a letter opens one", {"F10"});
    none.addOfWidget("text.undo", Editor, "undo", {"Ctrl+Z"});
    none.addOfWidget("text.redo", Editor, "redo", {"Ctrl+Y", "Ctrl+Shift+Z"}, "Ctrl+Y, Ctrl+Shift+Z");
    none.addOfWidget("text.cut", Editor, "cut", {"Ctrl+X"});
    none.addOfWidget("text.copy", Editor, "copy", {"Ctrl+C"});
    none.addOfWidget("text.paste", Editor, "paste", {"Ctrl+V"});
    none.addOfWidget("text.selectAll", Editor, "select all of it", {"Ctrl+A"});
    none.addOfWidget("card.move", Card, "go along the tray, move the card", {"Alt+Left", "Alt+Right"},
                     "←, →, Alt+←, Alt+→");
    none.addOfWidget("card.change", Card, "pin, rename, run again into it, own window, remove",
                     {"P", "F2", "R", "W", "Del"}, "P, F2, R, W, Delete");
    none.addOfWidget("rows.size", Rows, "larger and smaller cells", {"Ctrl++", "Ctrl+-"}, "Ctrl+Plus, Ctrl+Minus");
    none.addOfWidget("rows.choose", Rows, "choose the column, the row", {"Ctrl+Space", "Shift+Space"},
                     "Ctrl+Space, Shift+Space");
    none.addOfWidget("rows.copy", Rows, "copy the chosen cells", {"Ctrl+C"});
    none.addOfWidget("record.move", Record, "the row before, the next one", {"PgUp", "PgDown"}, "Page Up, Page Down");
    none.addOfWidget("catalog.findHere", Catalog, "find", {"/"});
    none.addOfWidget("catalog.everywhere", Catalog, "look in all connections that were opened", {"Alt+A"});
    none.addOfWidget("catalog.texts", Catalog, "look in the texts of views, routines and triggers", {"Alt+T"});
    none.addOfWidget("catalog.firstRows", Catalog, "first rows of what is chosen", {"Ctrl+Return"});
    none.addOfWidget("list.open", List, "open what is chosen", {"Return"});
}

}  // namespace

std::vector<Command> makeCommands() {
    std::vector<Command> all;
    addPantry(all);
    addConnection(all);
    addSheet(all);
    addEdit(all);
    addQuery(all);
    addRun(all);
    addResult(all);
    addView(all);
    addThoseWithoutAMenu(all);
    return all;
}

}  // namespace pantry::app
