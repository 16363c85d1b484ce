// What the commands of the window do, and its menus: MainWindow's second file, by theme.
#include <QApplication>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenuBar>
#include <functional>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/editor/text_verbs.h"
#include "app/look/first_paint.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/shell/main_window.h"

namespace pantry::app {

void MainWindow::bind(std::string_view id, std::function<void()> act) {
    Q_ASSERT(!acts_.contains(id));
    acts_[id] = std::move(act);
}

void MainWindow::runCommand(std::string_view id) {
    if (const QString why = whyNot(command(id).place); !why.isEmpty()) return say(why);
    acts_.at(id)();
}

/// Why a command has nothing to work on; empty when it has.
QString MainWindow::whyNot(CommandPlace place) const {
    const SheetPage* page = currentSheet();
    switch (place) {
        case CommandPlace::Editor:
        case CommandPlace::Sheet: return page == nullptr ? tr("Open a sheet first.") : QString();
        case CommandPlace::Transaction: {
            const bool isOpen =
                page != nullptr && page->sheet().session().state().connection.transaction != db::TransactionState::None;
            return isOpen ? QString() : tr("No transaction is open in this sheet.");
        }
        case CommandPlace::Result: {
            const ResultPane* result = page != nullptr ? page->madeResult() : nullptr;
            const bool isThere = result != nullptr && result->source() != nullptr;
            return isThere ? QString() : tr("There is no result here yet.");
        }
        default: return {};
    }
}

void MainWindow::bindCommands() {
    bindWindowCommands();
    bindSheetCommands();
    bindEditCommands();
    bindQueryCommands();
    bindResultCommands();
    bindViewCommands();
}

void MainWindow::bindWindowCommands() {
    bind("window.reach", [this] { openReach(); });
    bind("theme.daylight", [this] { chooseTheme(QStringLiteral("daylight")); });
    bind("theme.lamplight", [this] { chooseTheme(QStringLiteral("lamplight")); });
    bind("window.quit", [this] { close(); });
    bind("connections.show", [this] { showConnections(); });
    const auto onConnections = [this](void (ConnectionsPage::*verb)()) {
        return [this, verb] {
            showConnections();
            std::invoke(verb, connections_.get());
        };
    };
    bind("connections.new", onConnections(&ConnectionsPage::makeNew));
    bind("connections.group", onConnections(&ConnectionsPage::makeGroup));
    bind("connections.template", onConnections(&ConnectionsPage::makeTemplate));
    bind("connections.import", onConnections(&ConnectionsPage::offerImport));
    bind("connections.export", onConnections(&ConnectionsPage::beginExport));
    bind("catalog.overview", [this] {
        if (!catalog_->connectionId().isEmpty()) openOverview({catalog_->connectionId(), catalog_->database(), {}});
    });
    bind("catalog.server", [this] {
        if (!catalog_->connectionId().isEmpty()) openServer({catalog_->connectionId(), catalog_->database(), {}}, {});
    });
    bind("table.new", [this] {
        if (!catalog_->connectionId().isEmpty())
            openTable({catalog_->connectionId(), catalog_->database(), {}}, TableWish::Look);
    });
    bind("catalog.refresh", [this] { desk_.catalogs().load(fromQt(catalog_->connectionId()), catalog_->database()); });
    bind("catalog.find", [this] {
        showLeftPage(0);
        catalog_->focusFind();
    });
    bind("help.guide", [this] { showGuide(); });
    bind("help.keys", [this] { showKeys(); });
    bind("window.menus", [this] {
        menuBar()->setFocus(Qt::MenuBarFocusReason);
        menuBar()->setActiveAction(menuBar()->actions().front());
    });
}

void MainWindow::bindSheetCommands() {
    const auto onSheet = [this](void (SheetPage::*verb)()) { return [this, verb] { (currentSheet()->*verb)(); }; };
    bind("sheet.connection", onSheet(&SheetPage::chooseConnection));
    bind("sheet.session", onSheet(&SheetPage::chooseSession));
    bind("sheet.new", [this] { openSheetLikeThis(); });
    bind("sheet.open", [this] {
        auto* dialog = new QFileDialog(this, tr("Open a file"), QString(), tr("SQL files (*.sql);;All files (*)"));
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        connect(dialog, &QFileDialog::fileSelected, this, &MainWindow::openFile);
        dialog->open();
    });
    bind("sheet.save", [this] { saveSheet(false); });
    bind("sheet.saveAs", [this] { saveSheet(true); });
    bind("sheet.reopen", [this] { reopenSheet(); });
    bind("page.close", [this] { closeCurrentPage(); });
    bind("run.statement", onSheet(&SheetPage::runAtCaret));
    bind("run.all", onSheet(&SheetPage::runAll));
    bind("run.upTo", onSheet(&SheetPage::runUpTo));
    bind("run.from", onSheet(&SheetPage::runFrom));
    bind("run.regularly", onSheet(&SheetPage::runRegularly));
    bind("run.again", [this] { currentSheet()->sheet().runAgain(); });
    bind("run.parameters", [this] { currentSheet()->parameters().enter(); });
    bind("run.stop", [this] { currentSheet()->sheet().stop(); });
    bind("transaction.commit", [this] { currentSheet()->sheet().runStatement("COMMIT"); });
    bind("transaction.rollback", [this] { currentSheet()->sheet().runStatement("ROLLBACK"); });
    bind("transaction.manual", [this] {
        Sheet& sheet = currentSheet()->sheet();
        sheet.session().setCommitsByHand(!sheet.session().commitsByHand());
    });
    for (int number = 1; number <= 9; ++number) {
        const std::string id = "card." + std::to_string(number);
        bind(command(id).id, [this, number] { currentSheet()->chooseCard(number); });
    }
}

void MainWindow::bindEditCommands() {
    for (const TextVerb& verb : textVerbs()) {
        bind(command(verb.id).id, [this, act = verb.act] { act(*currentSheet()->editor()); });
    }
    bind("editor.find", [this] { currentSheet()->finding().open(false); });
    bind("editor.replace", [this] { currentSheet()->finding().open(true); });
    bind("editor.findNext", [this] { currentSheet()->finding().goOn(true); });
    bind("editor.findBefore", [this] { currentSheet()->finding().goOn(false); });
    bind("editor.goToLine", [this] { askForLine(); });
    bind("editor.nextStatement", [this] { currentSheet()->goToStatement(1); });
    bind("editor.previousStatement", [this] { currentSheet()->goToStatement(-1); });
    bind("editor.goToBracket", [this] {
        currentSheet()->shape().goToOther([this] { say(tr("Nothing at the cursor belongs to something else.")); });
    });
    bind("editor.pasteCode", [this] { currentSheet()->changes().pasteFromCode(); });
    bind("editor.copyCode", [this] { currentSheet()->changes().copyAsCode(); });
    bind("editor.allOccurrences", [this] {
        const int found = currentSheet()->editor()->selectAllOccurrences();
        say(found == 0 ? tr("There is no word at the cursor.") : tr("%n selected", nullptr, found));
    });
}

void MainWindow::bindQueryCommands() {
    const auto onSheet = [this](void (SheetPage::*verb)()) { return [this, verb] { (currentSheet()->*verb)(); }; };
    bind("editor.complete", [this] { currentSheet()->editor()->complete(); });
    bind("editor.mend", onSheet(&SheetPage::mend));
    bind("editor.silence", onSheet(&SheetPage::silenceFinding));
    bind("editor.allChecks", [this] {
        desk_.preferences().changeSettings([](auto& s) { s.findingsOff.clear(); });
        say(tr("All checks are on."));
    });
    bind("sheet.format", onSheet(&SheetPage::format));
    bind("query.check", onSheet(&SheetPage::checkOnServer));
    bind("snippet.make", [this] { makeSnippet(); });
    bind("snippet.manage", [this] { showSnippets(); });
    bind("snippet.insert", [this] { currentSheet()->snippets().offerAll(); });
    bind("query.definition", [this] { currentSheet()->names().showDefinition(); });
    bind("query.unfold", [this] { currentSheet()->changes().unfold(); });
    bind("query.rename", [this] { currentSheet()->changes().rename(); });
    for (const sql::Rewriting& way : sql::rewritings()) {
        if (way.id == "unfold-star") continue;  // asks which columns first
        const std::string id = "query." + std::string(way.id);
        bind(command(id).id, [this, way = std::string(way.id)] { currentSheet()->changes().rewrite(way); });
    }
}

void MainWindow::bindResultCommands() {
    const auto onResult = [this](const std::function<void(ResultPane&)>& verb) {
        return [this, verb] { verb(*currentSheet()->result()); };
    };
    bind("result.export", onResult([](ResultPane& r) { r.openExport(); }));
    bind("result.compare", onResult([](ResultPane& r) { r.openCompare(); }));
    bind("result.copy", onResult([](ResultPane& r) { r.copySelection(false); }));
    bind("result.copyWithHeadings", onResult([](ResultPane& r) { r.copySelection(true); }));
    bind("result.find", onResult([](ResultPane& r) { r.openFind(); }));
    bind("result.allRows", onResult([](ResultPane& r) { r.source()->fetchAll(); }));
    bind("result.columns", onResult([](ResultPane& r) { r.openColumns(); }));
    bind("result.filter", onResult([](ResultPane& r) { r.openFilter(); }));
    bind("result.sortAscending", onResult([](ResultPane& r) { r.sortHere(false); }));
    bind("result.sortDescending", onResult([](ResultPane& r) { r.sortHere(true); }));
    bind("result.freeze", onResult([](ResultPane& r) { r.freezeHere(); }));
    using View = ResultPane::View;
    bind("result.grid", onResult([](ResultPane& r) { r.showView(View::Grid); }));
    bind("result.record", onResult([](ResultPane& r) { r.showView(View::Record); }));
    bind("result.text", onResult([](ResultPane& r) { r.showView(View::Text); }));
    bind("result.json", onResult([](ResultPane& r) { r.showView(View::Json); }));
    bind("result.profile", onResult([](ResultPane& r) { r.showView(View::Profile); }));
    bind("result.messages", onResult([](ResultPane& r) { r.showView(View::Messages); }));
    bind("setting.shade",
         [this] { desk_.preferences().changeSettings([](auto& s) { s.isGridShaded = !s.isGridShaded; }); });
}

void MainWindow::bindViewCommands() {
    bind("view.leftColumn", [this] {
        showLeftColumn(!leftColumn_->isVisible());
        desk_.preferences().changeWindowState([this](auto& s) { s.isLeftColumnShown = leftColumn_->isVisible(); });
    });
    bind("view.closeUp", [this] {
        desk_.preferences().changeWindowState([](auto& s) { s.isCloseUpShown = !s.isCloseUpShown; });
        showCloseUp(currentSheet() != nullptr && desk_.windowState().isCloseUpShown);
    });
    bind("view.catalog", [this] { showLeftPage(0); });
    bind("view.ledger", [this] {  // once more, and it is the whole page
        const bool isThere = ledger_.made() != nullptr && ledger_->isAncestorOf(QApplication::focusWidget());
        if (isThere) return showLedger();
        showLeftPage(2);
        ledger_->focusFind();
    });
    bindShelfCommands();
    bind("view.wholeLedger", [this] { showLedger(); });
    bind("sheet.ranBefore", [this] { currentSheet()->ranBefore().open(); });
    bind("view.beside", [this] { currentSheet()->showBeside(!currentSheet()->isBeside()); });
    bind("view.result", [this] { currentSheet()->toggleResult(); });
    bind("view.nextPart", [this] { goToNextPart(); });
    bind("page.next", [this] { host_->goAlong(1); });
    bind("page.previous", [this] { host_->goAlong(-1); });
    bind("page.beside", [this] {
        if (!host_->toggleBeside()) say(tr("There is no other page to stand beside."));
    });
    bind("page.pin", [this] {
        if (host_->current() == nullptr || !host_->current()->canBePinned()) return say(tr("Only sheets are pinned."));
        host_->togglePinned(host_->current());
    });
    bind("page.closeOthers", [this] { host_->closeOthers(host_->current()); });
    bind("page.all", [this] { host_->openList(); });
    const auto toggle = [this](bool store::Settings::*choice) {
        return [this, choice] { desk_.preferences().changeSettings([choice](auto& s) { s.*choice = !(s.*choice); }); };
    };
    bind("view.wrapped", toggle(&store::Settings::isTextWrapped));
    bind("view.blanks", toggle(&store::Settings::areBlanksShown));
    bind("view.numbers", toggle(&store::Settings::areNumbersShown));
    bind("view.larger", [this] { changeTextSize(1); });
    bind("view.smaller", [this] { changeTextSize(-1); });
    bind("view.usualSize", [this] { changeTextSize(0); });
    qApp->installEventFilter(this);
}

/// The names of the menus are in the first picture; what is in them, and the keys, comes after it, or with a menu that
/// is opened.
void MainWindow::makeMenus() {
    for (const Command& one : commands()) {
        if (one.isOfWidget || one.menu.isEmpty() || menus_.contains(one.menu)) continue;
        QMenu* menu = menuBar()->addMenu(one.menu);
        menus_.insert(one.menu, menu);
        connect(menu, &QMenu::aboutToShow, this, [this, menu] {
            fillMenus();
            greyWhatCannotRun(menu, true);
        });
        connect(menu, &QMenu::aboutToHide, this, [this, menu] { greyWhatCannotRun(menu, false); });
    }
    addReachButton();
    afterFirstPaint(this, [this] { fillMenus(); });
}

void MainWindow::fillMenus() {
    if (std::exchange(areMenusFilled_, true)) return;
    for (const Command& one : commands()) {
        if (one.isOfWidget) continue;
        // Keys of the text are the text's: elsewhere they may mean something else.
        const bool isOfText = one.place == CommandPlace::Editor;
        auto* action = new QAction(one.keys.isEmpty() || isOfText ? menuText(one.id) : one.text, this);
        action->setObjectName(QStringLiteral("command.") + toQt(one.id));
        if (!isOfText) action->setShortcuts(one.keys);
        connect(action, &QAction::triggered, this, [this, id = one.id] { runCommand(id); });
        if (one.menu.isEmpty()) {
            QMainWindow::addAction(action);
            continue;
        }
        QMenu* menu = menus_.value(one.menu);
        if (one.beginsGroup) menu->addSeparator();
        menu->addAction(action);
    }
}

/// Only while a menu shows: a key that cannot do anything now says why.
void MainWindow::greyWhatCannotRun(QMenu* menu, bool isShown) {
    for (QAction* action : menu->actions()) {
        const std::string id = fromQt(action->objectName().section(QLatin1Char('.'), 1));
        if (!id.empty()) action->setEnabled(!isShown || whyNot(command(id).place).isEmpty());
    }
}

void MainWindow::addReachButton() {
    auto* reachButton = makeButton(QStringLiteral("%1   %2").arg(command("window.reach").text, keyText("window.reach")),
                                   "reach", objectName::kReachButton, tr("Reach for anything"), this);
    Theme::fit(reachButton, [reachButton] { reachButton->setMaximumHeight(Theme::px(22)); });
    reachButton->setToolTip(commandTip("window.reach"));
    connect(reachButton, &QPushButton::clicked, this, &MainWindow::openReach);
    auto* corner = new QWidget;
    auto* cornerLayout = new QHBoxLayout(corner);
    cornerLayout->setContentsMargins(0, 2, 8, 2);
    cornerLayout->addWidget(reachButton);
    menuBar()->setCornerWidget(corner);
}

}  // namespace pantry::app
