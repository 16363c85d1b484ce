// The actions of the window with their keys, and what Reach finds: MainWindow's second file, by theme.
#include <QApplication>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenuBar>
#include <QTableWidget>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/shell/main_window.h"
#include "app/shell/page_tabs.h"
#include "app/shell/synonyms.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kReachLedgerEntries = 8;

/// What an action is called, without the mark of its key and what a menu shows behind it.
QString plainText(const QString& text) {
    return QString(text).remove(QLatin1Char('&')).section(QLatin1Char('\t'), 0, 0);
}

}  // namespace

QAction* MainWindow::addAction(QMenu* menu, const QString& text, const QKeySequence& key, std::function<void()> act) {
    QAction* action = menu->addAction(text);
    if (!key.isEmpty()) action->setShortcut(key);
    connect(action, &QAction::triggered, this, std::move(act));
    actions_ << action;
    return action;
}

void MainWindow::makeMenus() {
    const auto onSheet = [this](void (SheetPage::*verb)()) {
        return [this, verb] {
            if (SheetPage* page = currentSheet()) (page->*verb)();
        };
    };
    const auto onEditor = [this](void (SqlEditor::*verb)()) {
        return [this, verb] {
            if (SheetPage* page = currentSheet()) (page->editor()->*verb)();
        };
    };
    QMenu* pantry = menuBar()->addMenu(tr("&Pantry"));
    addAction(pantry, tr("Reach for…"), QKeySequence(tr("Ctrl+J")), [this] { openReach(); });
    for (const Theme::Choice& choice : Theme::choices()) {
        addAction(pantry, tr("%1 theme").arg(choice.title), {}, [this, name = choice.name] { chooseTheme(name); });
    }
    pantry->addSeparator();
    addAction(pantry, tr("Quit"), QKeySequence(tr("Ctrl+Q")), [this] { close(); });

    QMenu* connection = menuBar()->addMenu(tr("&Connection"));
    addAction(connection, tr("All connections"), QKeySequence(tr("Ctrl+Shift+O")), [this] { showConnections(); });
    const auto onConnections = [this](auto verb) {
        return [this, verb] {
            showConnections();
            (connections_->*verb)();
        };
    };
    addAction(connection, tr("New connection…"), {}, onConnections(&ConnectionsPage::makeNew));
    addAction(connection, tr("New group"), {}, onConnections(&ConnectionsPage::makeGroup));
    addAction(connection, tr("New template…"), {}, onConnections(&ConnectionsPage::makeTemplate));
    addAction(connection, tr("Import connections…"), {}, onConnections(&ConnectionsPage::offerImport));
    addAction(connection, tr("Export connections…"), {}, onConnections(&ConnectionsPage::beginExport));
    connection->addSeparator();
    addAction(connection, tr("Refresh the catalog"), QKeySequence(Qt::Key_F5),
              [this] { desk_.loadCatalog(catalog_->connectionId(), catalog_->database()); });
    addAction(connection, tr("Connection of this sheet…"), QKeySequence(tr("Ctrl+Alt+C")),
              onSheet(&SheetPage::chooseConnection));
    addAction(connection, tr("Database, schema, session…"), QKeySequence(tr("Ctrl+Alt+D")),
              onSheet(&SheetPage::chooseSession));
    addAction(connection, tr("Find in the catalog"), QKeySequence(tr("Ctrl+Shift+F")), [this] {
        showLeftPage(0);
        catalog_->focusFind();
    });

    QMenu* sheet = menuBar()->addMenu(tr("&Sheet"));
    addAction(sheet, tr("New sheet"), QKeySequence(tr("Ctrl+T")), [this] { openSheetLikeThis(); });
    addAction(sheet, tr("Open a file…"), QKeySequence(tr("Ctrl+O")), [this] {
        auto* dialog = new QFileDialog(this, tr("Open a file"), QString(), tr("SQL files (*.sql);;All files (*)"));
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        connect(dialog, &QFileDialog::fileSelected, this, &MainWindow::openFile);
        dialog->open();
    });
    addAction(sheet, tr("Save"), QKeySequence(tr("Ctrl+S")), [this] { saveSheet(false); });
    addAction(sheet, tr("Save as…"), QKeySequence(tr("Ctrl+Shift+S")), [this] { saveSheet(true); });
    addAction(sheet, tr("Reopen the sheet closed last"), QKeySequence(tr("Ctrl+Shift+T")), [this] { reopenSheet(); });
    addAction(sheet, tr("Close"), QKeySequence(tr("Ctrl+W")), [this] { closePage(tabs_->currentIndex()); });
    sheet->addSeparator();
    addAction(sheet, tr("Complete"), QKeySequence(tr("Ctrl+Space")), onEditor(&SqlEditor::complete));
    addAction(sheet, tr("Mend what is marked"), QKeySequence(tr("Alt+Return")), onSheet(&SheetPage::mend));
    addAction(sheet, tr("Format"), QKeySequence(tr("Ctrl+Alt+F")), onSheet(&SheetPage::format));
    addAction(sheet, tr("Comment"), QKeySequence(tr("Ctrl+/")), onEditor(&SqlEditor::toggleComment));

    QMenu* run = menuBar()->addMenu(tr("&Run"));
    addAction(run, tr("Run statement or selection"), QKeySequence(tr("Ctrl+Return")), onSheet(&SheetPage::runAtCaret));
    addAction(run, tr("Run all"), QKeySequence(tr("Ctrl+Shift+Return")), onSheet(&SheetPage::runAll));
    addAction(run, tr("Stop"), QKeySequence(tr("Ctrl+.")), [this] {
        if (SheetPage* page = currentSheet()) page->sheet().stop();
    });

    run->addSeparator();
    const auto onTransaction = [this](const char* statement) {
        return [this, statement] {
            SheetPage* page = currentSheet();
            if (page == nullptr) return;
            if (page->sheet().sessionState().line.transaction == db::TransactionState::None) {
                return say(tr("No transaction is open in this sheet."));
            }
            page->sheet().runStatement(statement);
        };
    };
    addAction(run, tr("Commit"), QKeySequence(tr("Ctrl+Alt+M")), onTransaction("COMMIT"));
    addAction(run, tr("Roll back"), QKeySequence(tr("Ctrl+Alt+Z")), onTransaction("ROLLBACK"));
    addAction(run, tr("Manual commit"), {}, [this] {
        if (SheetPage* page = currentSheet()) page->sheet().setCommitsByHand(!page->sheet().commitsByHand());
    });

    QMenu* result = menuBar()->addMenu(tr("R&esult"));
    const auto onResult = [this](auto verb) {
        return [this, verb] {
            if (SheetPage* page = currentSheet()) verb(*page->result());
        };
    };
    addAction(result, tr("Export…"), QKeySequence(tr("Ctrl+E")), onResult([](ResultPane& r) { r.openExport(); }));
    addAction(result, tr("Compare with another result…"), QKeySequence(tr("Ctrl+Shift+E")),
              onResult([](ResultPane& r) { r.openCompare(); }));
    addAction(result, tr("Copy cells"), {}, onResult([](ResultPane& r) { r.copySelection(false); }));
    addAction(result, tr("Copy with headings"), QKeySequence(tr("Ctrl+Shift+C")),
              onResult([](ResultPane& r) { r.copySelection(true); }));
    addAction(result, tr("Find in the rows"), QKeySequence(tr("Ctrl+F")),
              onResult([](ResultPane& r) { r.openFind(); }));
    addAction(result, tr("All rows"), {}, [this] {
        SheetPage* page = currentSheet();
        if (page != nullptr && page->result()->source() != nullptr) page->result()->source()->fetchAll();
    });
    addAction(result, tr("Columns: go to, show, hide"), QKeySequence(tr("Ctrl+G")),
              onResult([](ResultPane& r) { r.openColumns(); }));
    addAction(result, tr("Show or colour rows where…"), QKeySequence(tr("Ctrl+Shift+R")),
              onResult([](ResultPane& r) { r.openFilter(); }));
    addAction(result, tr("Sort ascending by this column"), {}, onResult([](ResultPane& r) { r.sortHere(false); }));
    addAction(result, tr("Sort descending by this column"), {}, onResult([](ResultPane& r) { r.sortHere(true); }));
    addAction(result, tr("Freeze columns up to here"), {}, onResult([](ResultPane& r) { r.freezeHere(); }));
    result->addSeparator();
    const QString views[] = {tr("Grid"), tr("Record"), tr("Text"), tr("JSON"), tr("Profile"), tr("Messages")};
    for (int i = 0; i < 6; ++i) {
        addAction(result, tr("Result as: %1").arg(views[i]), QKeySequence(tr("Ctrl+Alt+%1").arg(i + 1)),
                  onResult([i](ResultPane& r) { r.showView(static_cast<ResultPane::View>(i)); }));
    }
    addAction(result, tr("Shade every other row"), {},
              [this] { desk_.changeSettings([](auto& s) { s.isGridShaded = !s.isGridShaded; }); });
    result->addSeparator();
    for (int number = 1; number <= 9; ++number) {
        auto* action = new QAction(tr("Card %1").arg(number), this);
        action->setShortcut(QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_0 + number)));
        connect(action, &QAction::triggered, this, [this, number] {
            if (SheetPage* page = currentSheet()) page->chooseCard(number);
        });
        QMainWindow::addAction(action);
    }

    QMenu* view = menuBar()->addMenu(tr("&View"));
    addAction(view, tr("Left column"), QKeySequence(tr("Ctrl+B")), [this] {
        leftColumn_->setVisible(!leftColumn_->isVisible());
        desk_.changeSettings([this](auto& s) { s.isLeftColumnShown = leftColumn_->isVisible(); });
    });
    addAction(view, tr("Close-up"), QKeySequence(Qt::Key_F4), [this] {
        desk_.changeSettings([](auto& s) { s.isCloseUpShown = !s.isCloseUpShown; });
        closeUp_->setVisible(currentSheet() != nullptr && desk_.settings().isCloseUpShown);
    });
    addAction(view, tr("Catalog"), QKeySequence(tr("Ctrl+Shift+1")), [this] { showLeftPage(0); });
    addAction(view, tr("Ledger"), QKeySequence(tr("Ctrl+Shift+2")), [this] {
        showLeftPage(1);
        ledger_->focusFind();
    });
    addAction(view, tr("Result beside the editor"), QKeySequence(tr("Ctrl+Shift+B")), [this] {
        if (SheetPage* page = currentSheet()) page->showBeside(!page->isBeside());
    });
    addAction(view, tr("Result away or back\tEsc Esc"), {}, onSheet(&SheetPage::toggleResult));
    qApp->installEventFilter(this);
    addAction(view, tr("Next part of the window"), QKeySequence(Qt::Key_F6), [this] { goToNextPart(); });
    addAction(view, tr("Next page"), QKeySequence(tr("Ctrl+Tab")), [this] {
        if (tabs_->count() > 0) tabs_->setCurrentIndex((tabs_->currentIndex() + 1) % tabs_->count());
    });
    addAction(view, tr("Previous page"), QKeySequence(tr("Ctrl+Shift+Tab")),
              [this] {
                  if (tabs_->count() > 0)
                      tabs_->setCurrentIndex((tabs_->currentIndex() + tabs_->count() - 1) % tabs_->count());
              })
        ->setShortcuts({QKeySequence(tr("Ctrl+Shift+Tab")), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Backtab),
                        QKeySequence(Qt::CTRL | Qt::Key_Backtab)});
    addAction(view, tr("All pages…"), QKeySequence(tr("Ctrl+Shift+P")), [this] { pageList(); });
    auto* menus = new QAction(this);
    menus->setShortcut(QKeySequence(Qt::Key_F10));
    connect(menus, &QAction::triggered, this, [this] {
        menuBar()->setFocus(Qt::MenuBarFocusReason);
        menuBar()->setActiveAction(menuBar()->actions().front());
    });
    QMainWindow::addAction(menus);
    view->addSeparator();
    addAction(view, tr("Larger"), QKeySequence(tr("Ctrl++")), [this] {
        changeTextSize(1);
    })->setShortcuts({QKeySequence(tr("Ctrl++")), QKeySequence(tr("Ctrl+="))});
    addAction(view, tr("Smaller"), QKeySequence(tr("Ctrl+-")), [this] { changeTextSize(-1); });
    addAction(view, tr("Usual size"), QKeySequence(tr("Ctrl+0")), [this] { changeTextSize(0); });

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    addAction(help, tr("Keys"), QKeySequence(Qt::Key_F1), [this] { showKeys(); });

    auto* reachButton =
        makeButton(tr("Reach for…   Ctrl+J"), "reach", objectName::kReachButton, tr("Reach for anything"), this);
    Theme::fit(reachButton, [reachButton] { reachButton->setMaximumHeight(Theme::px(22)); });
    reachButton->setToolTip(tr("Finds tables, sheets, runs, actions and settings (Ctrl+J)"));
    connect(reachButton, &QPushButton::clicked, this, &MainWindow::openReach);
    auto* corner = new QWidget;
    auto* cornerLayout = new QHBoxLayout(corner);
    cornerLayout->setContentsMargins(0, 2, 8, 2);
    cornerLayout->addWidget(reachButton);
    menuBar()->setCornerWidget(corner);
}

// ---- Reach ----

void MainWindow::openReach() {
    reach_->open(everything());
    noteUsage();
}

/// How lately connections were used, for the next time that somebody reaches for one.
void MainWindow::noteUsage() {
    desk_.ledgerUsage(this, [this](const std::vector<store::Ledger::Usage>& usage) {
        lastUse_.clear();
        for (const auto& u : usage) lastUse_.insert(toQt(u.connectionId), u.last);
    });
}

/// Those used last come first; the others stay in their order behind them.
std::vector<db::ConnectionProfile> MainWindow::profilesByUse() const {
    std::vector<db::ConnectionProfile> profiles = desk_.profiles();
    std::ranges::stable_sort(profiles, std::ranges::greater{}, [this](const db::ConnectionProfile& p) {
        return lastUse_.value(toQt(p.id), base::Moment{});
    });
    return profiles;
}

std::vector<Reachable> MainWindow::everything() {
    std::vector<Reachable> all;
    for (int i = 0; i < pages_->count(); ++i) {
        const QPointer<QWidget> page = pages_->widget(i);
        all.push_back({tabs_->tabText(i), tr("sheet"), tr("open"), [this, page] {
                           if (page) tabs_->setCurrentIndex(pages_->indexOf(page));
                           if (page) page->setFocus();
                       }});
    }
    const std::vector<db::ConnectionProfile> profiles = profilesByUse();
    for (const auto& p : profiles) {
        const QString id = toQt(p.id);
        all.push_back({tr("New sheet on %1").arg(toQt(p.name)), tr("action"), toQt(db::environmentWord(p.environment)),
                       [this, id] { openSheet(id); }, synonymsOf(tr("New sheet"))});
    }
    for (const auto& p : profiles) {
        const QString id = toQt(p.id);
        const auto state = desk_.catalog(id);
        if (state.catalog) {
            for (const catalog::Relation* r : state.catalog->relations()) {
                all.push_back(
                    {toQt(r->name), toQt(catalog::kindName(r->kind)), toQt(p.name),
                     [this, id, object = catalog::ObjectName{.kind = r->kind, .schema = r->schema, .name = r->name}] {
                         openObject({id, {}, object});
                     }});
            }
        }
    }
    for (QAction* action : actions_) {
        const QString words = plainText(action->text());
        const bool isSetting = words.endsWith(tr("theme")) || words == tr("Left column") || words == tr("Close-up") ||
                               words == tr("Larger") || words == tr("Smaller") || words == tr("Shade every other row");
        all.push_back({words, isSetting ? tr("setting") : tr("action"),
                       action->shortcut().toString(QKeySequence::NativeText), [action] { action->trigger(); },
                       synonymsOf(words)});
    }
    for (const int rows : {200, 1000, 5000, 20000}) {
        all.push_back(
            {tr("First page: %1 rows").arg(toQt(base::grouped(rows))), tr("setting"),
             desk_.settings().pageRows == static_cast<std::size_t>(rows) ? tr("as it is") : QString(),
             [this, rows] { desk_.changeSettings([rows](auto& s) { s.pageRows = static_cast<std::size_t>(rows); }); },
             synonymsOf(tr("First page"))});
    }
    return all;
}

void MainWindow::reachIntoLedger(const QString& text) {
    if (text.trimmed().size() < 2) return;
    store::LedgerQuery query = store::parseLedgerSearch(fromQt(text), base::now());
    query.limit = kReachLedgerEntries;
    desk_.ledgerFind(query, this, [this, text](Result<std::vector<store::LedgerEntry>> entries) {
        if (!entries) return;
        std::vector<Reachable> found;
        for (const auto& e : *entries) {
            found.push_back({toQt(base::oneLine(e.start.statement, 120)), tr("ledger"),
                             toQt(base::spoken(e.startedAt, base::now())),
                             [this, id = toQt(e.start.connectionId), statement = e.start.statement] {
                                 sheetOn(id)->appendStatement(statement);
                             }});
        }
        reach_->add(text, std::move(found));
    });
}

void MainWindow::showKeys() {
    for (int i = 0; i < pages_->count(); ++i) {
        if (pages_->widget(i)->objectName() == QLatin1String("keysPage")) return tabs_->setCurrentIndex(i);
    }
    auto* table = new QTableWidget(0, 2);
    name(table, "keysPage", tr("Keys"));
    table->setProperty("look", "onCard");
    table->setHorizontalHeaderLabels({tr("Key"), tr("What it does")});
    table->horizontalHeader()->setStretchLastSection(true);
    table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table->verticalHeader()->hide();
    table->setShowGrid(false);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    const auto add = [table](const QString& key, const QString& words) {
        const int row = table->rowCount();
        table->insertRow(row);
        table->setItem(row, 0, new QTableWidgetItem(key));
        table->setItem(row, 1, new QTableWidgetItem(words));
    };
    for (const QAction* action : actions_) {
        if (!action->shortcut().isEmpty()) {
            add(action->shortcut().toString(QKeySequence::NativeText), plainText(action->text()));
        }
    }
    add(tr("Alt+1 … Alt+9"), tr("Card of the tray"));
    add(tr("F10"), tr("Menus; Alt and a letter opens one"));
    add(tr("←, →, Alt+←, Alt+→"), tr("On a card: go along the tray, move the card"));
    add(tr("P, F2, R, W, Delete"), tr("On a card: pin, rename, run again into it, own window, remove"));
    add(tr("Ctrl+Plus, Ctrl+Minus"), tr("In the rows: larger and smaller cells"));
    add(tr("Ctrl+Space, Shift+Space"), tr("In the rows: choose the column, the row"));
    add(tr("Page Up, Page Down"), tr("In a record: the row before, the next one"));
    add(tr("/"), tr("In the object list: find"));
    add(tr("Return"), tr("In a list: open what is chosen; Ctrl+Return in the object list: first rows"));
    table->setColumnWidth(0, 190);
    const int index = addPage(table, tr("Keys"));
    tabs_->setTabIcon(index, colourDot(Theme::current().colour("juniper")));
    tabs_->setTabData(index, Theme::current().colour("card"));
    tabs_->setCurrentIndex(index);
}

}  // namespace pantry::app
