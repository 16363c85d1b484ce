#include "app/shell/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QStatusBar>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/input_guards.h"
#include "app/look/pick_list.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/shell/page_tabs.h"
#include "core/base/text.h"
#include "core/db/connection_colours.h"
#include "core/sql/text/lexer.h"

namespace pantry::app {
namespace {

constexpr int kSmallestText = 7;
constexpr int kLargestText = 30;
constexpr qint64 kTwiceMs = 600;  // two presses that belong together

}  // namespace

MainWindow::MainWindow(Desk& desk)
    : desk_(desk),
      columns_(new QSplitter(Qt::Horizontal, this)),
      leftColumn_(new QFrame(this)),
      closeUp_(new CloseUp(this)),
      reach_(nullptr) {
    setObjectName(QLatin1String(objectName::kMainWindow));
    Theme::current().dress(this);
    setWindowTitle(tr("Agile Pantry"));
    setWindowIcon(QIcon(QStringLiteral(":/icons/agile-pantry.svg")));
    setMinimumSize(900, 560);
    setAcceptDrops(true);
    connect(&desk_, &Desk::connected, this, &MainWindow::say);
    noteUsage();
    resize(1280, 800);
    makeLeftColumn();
    guardInput(this);
    makeMiddle();
    columns_->addWidget(leftColumn_);
    columns_->insertWidget(1, pages_->parentWidget());
    columns_->addWidget(closeUp_);
    connect(closeUp_, &CloseUp::columnChosen, this, [this](int column) {
        if (SheetPage* page = currentSheet()) page->result()->grid()->goToColumn(column);
    });
    connect(closeUp_, &CloseUp::followWanted, this, &MainWindow::follow);
    connect(closeUp_, &CloseUp::sheetWanted, this, [this](const FollowLink& link) {
        SheetPage* page = openSheetLikeThis(link.query + ";");
        if (page != nullptr) page->runAll();
    });
    columns_->setChildrenCollapsible(false);
    columns_->setHandleWidth(1);
    columns_->setStretchFactor(1, 1);
    const auto& s = desk_.windowState();
    columns_->setSizes({s.leftColumnWidth, 1280 - s.leftColumnWidth - s.closeUpWidth, s.closeUpWidth});
    connect(columns_, &QSplitter::splitterMoved, this, [this] {
        desk_.changeWindowState([this](auto& settings) {
            const auto sizes = columns_->sizes();
            if (sizes[0] > 0) settings.leftColumnWidth = sizes[0];
            if (sizes[2] > 0) settings.closeUpWidth = sizes[2];
        });
    });
    setCentralWidget(columns_);
    reach_ = new Reach(this);
    makeStatusLine();
    makeMenus();
    connect(reach_, &Reach::textChanged, this, &MainWindow::reachIntoLedger);
    connect(&desk_, &Desk::noticeRaised, this, &MainWindow::raiseNotice);
    connect(&desk_, &Desk::profilesChanged, this, [this] {
        for (SheetPage* page : sheets()) refreshTab(page);
        refreshStatus();
    });
    connect(&Theme::current(), &Theme::changed, this, [this] {
        for (int i = 0; i < pages_->count(); ++i) {
            if (auto* page = qobject_cast<SheetPage*>(pages_->widget(i))) {
                refreshTab(page);
            } else {
                tabs_->setTabData(i, Theme::current().colour("card"));
            }
        }
    });
    leftColumn_->setVisible(s.isLeftColumnShown);
    applyTextSize();
    connect(&desk_, &Desk::settingsChanged, this, &MainWindow::applyTextSize);
    restoreSheets();
}

// ---- Parts ----

void MainWindow::makeLeftColumn() {
    leftColumn_->setObjectName(QLatin1String(objectName::kLeftColumn));
    leftColumn_->setMinimumWidth(180);
    leftPages_ = new QStackedWidget(leftColumn_);
    catalog_ = new CatalogPanel(desk_, leftPages_);
    ledger_ = new LedgerPanel(desk_, leftPages_);
    name(catalog_, objectName::kCatalogPage, tr("Catalog"));
    name(ledger_, objectName::kLedgerPage, tr("Ledger"));
    leftPages_->addWidget(catalog_);
    leftPages_->addWidget(ledger_);
    catalogTab_ = makeButton(tr("Catalog"), "page", objectName::kCatalogTab, tr("Show the catalog"), leftColumn_);
    ledgerTab_ = makeButton(tr("Ledger"), "page", objectName::kLedgerTab, tr("Show the ledger"), leftColumn_);
    auto* words = new QHBoxLayout;
    words->setContentsMargins(14, 0, 10, 0);
    for (QPushButton* tab : {catalogTab_, ledgerTab_}) {
        tab->setCheckable(true);
        words->addWidget(tab);
    }
    words->addStretch();
    auto* layout = new QVBoxLayout(leftColumn_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(words);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(leftPages_, 1);
    connect(catalogTab_, &QPushButton::clicked, this, [this] { showLeftPage(0); });
    connect(ledgerTab_, &QPushButton::clicked, this, [this] { showLeftPage(1); });
    connect(catalog_, &CatalogPanel::sheetRequested, this, [this](const QString& id) { openSheet(id); });
    connect(catalog_, &CatalogPanel::objectRequested, this, &MainWindow::openObject);
    connect(catalog_, &CatalogPanel::rowsRequested, this, &MainWindow::showFirstRows);
    connect(catalog_, &CatalogPanel::nameRequested, this, [this](const QString& text) {
        if (SheetPage* page = currentSheet()) {
            page->editor()->insertText(fromQt(text));
            page->editor()->setFocus();
        }
    });
    connect(ledger_, &LedgerPanel::statementRequested, this,
            [this](const QString& id, const QString& statement) { sheetOn(id)->appendStatement(fromQt(statement)); });
    showLeftPage(0);
}

void MainWindow::makeMiddle() {
    auto* middle = new QWidget(this);
    // What is in it folds and gives way; so nothing there moves the columns beside it.
    constexpr int kLeastMiddle = 536;
    middle->setMinimumWidth(kLeastMiddle);
    tabs_ = new PageTabs(middle);
    pages_ = new QStackedWidget(middle);
    connections_ = new ConnectionsPage(desk_, pages_);
    auto* fresh = makeButton(QStringLiteral("+"), "plain", "newSheet", tr("New sheet"), middle);
    fresh->setToolTip(commandTip("sheet.new"));
    fresh->setFixedWidth(30);
    notice_ = makeFrame("notice", middle);
    name(notice_, objectName::kNotice, tr("Notice"));
    noticeText_ = makeLabel({}, "", notice_);
    noticeText_->setWordWrap(true);
    auto* understood = makeButton(tr("Understood"), "", "noticeClose", tr("Close the notice"), notice_);
    auto* noticeRow = new QHBoxLayout(notice_);
    noticeRow->setContentsMargins(12, 6, 8, 6);
    noticeRow->addWidget(noticeText_, 1);
    noticeRow->addWidget(understood);
    notice_->hide();
    connect(understood, &QPushButton::clicked, notice_, &QWidget::hide);
    auto* tabRow = new QHBoxLayout;
    tabRow->setContentsMargins(10, 0, 10, 0);
    tabRow->setSpacing(2);
    auto* before = makeButton(QStringLiteral("‹"), "away", objectName::kTabsBefore, tr("Show the tabs before"), middle);
    auto* behind = makeButton(QStringLiteral("›"), "away", objectName::kTabsBehind, tr("Show the tabs behind"), middle);
    auto* all = makeButton(QStringLiteral("▾"), "away", objectName::kTabsAll, tr("All open pages"), middle);
    all->setToolTip(commandTip("page.all"));
    for (QPushButton* button : {before, behind, all}) {
        button->setFixedWidth(26);
        button->setFocusPolicy(Qt::NoFocus);
        button->hide();
    }
    tabRow->addWidget(tabs_);
    tabRow->addWidget(before);
    tabRow->addWidget(behind);
    tabRow->addWidget(all);
    tabRow->addWidget(fresh);
    tabRow->addStretch();
    connect(tabs_, &PageTabs::overflowed, this, [before, behind, all](bool isOverflow) {
        for (QPushButton* button : {before, behind, all}) button->setVisible(isOverflow);
    });
    connect(before, &QPushButton::clicked, tabs_, [this] { tabs_->scrollBy(-1); });
    connect(behind, &QPushButton::clicked, tabs_, [this] { tabs_->scrollBy(1); });
    connect(all, &QPushButton::clicked, this, &MainWindow::pageList);
    connect(tabs_, &QTabBar::tabBarDoubleClicked, this, &MainWindow::renamePage);
    auto* layout = new QVBoxLayout(middle);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(notice_);
    layout->addLayout(tabRow);
    layout->addWidget(pages_, 1);
    connect(fresh, &QPushButton::clicked, this, [this] { openSheetLikeThis(); });
    connect(tabs_, &QTabBar::currentChanged, this, &MainWindow::choosePage);
    connect(tabs_, &QTabBar::tabCloseRequested, this, &MainWindow::closePage);
    connect(tabs_, &QTabBar::tabMoved, this, [this](int from, int to) {
        QWidget* page = pages_->widget(from);
        pages_->removeWidget(page);
        pages_->insertWidget(to, page);
        pages_->setCurrentIndex(tabs_->currentIndex());
        keepPositions();
    });
    connect(connections_, &ConnectionsPage::sheetRequested, this, [this](const QString& id) { openSheet(id); });
    connect(connections_, &ConnectionsPage::fileRequested, this, &MainWindow::openFile);
    connect(connections_, &ConnectionsPage::sheetWithTextRequested, this,
            [this](const QString& id, const QString& text) {
                SheetPage* page = openSheet(id, text);
                page->editor()->setCaret(0);
                page->sheet().setTitle(tr("First look"));
            });
    connections_->setParent(this);
    connections_->hide();
}

void MainWindow::makeStatusLine() {
    kept_ = makeLabel({}, "");
    selection_ = makeLabel({}, "");
    caret_ = makeLabel({}, "");
    times_ = makeLabel({}, "");
    name(kept_, objectName::kStatusKept, tr("Where the last run was kept"));
    name(selection_, objectName::kStatusSelection, tr("What the selected cells add up to"));
    name(caret_, objectName::kStatusCaret, tr("Place of the cursor"));
    name(times_, objectName::kStatusTimes, tr("Time at the server and here"));
    statusBar()->setSizeGripEnabled(false);
    statusBar()->addWidget(kept_);
    statusBar()->addWidget(selection_, 1);
    statusBar()->addPermanentWidget(caret_);
    statusBar()->addPermanentWidget(times_);
}

// ---- Pages ----

std::vector<SheetPage*> MainWindow::sheets() const {
    std::vector<SheetPage*> all;
    for (int i = 0; i < pages_->count(); ++i) {
        if (auto* page = qobject_cast<SheetPage*>(pages_->widget(i))) all.push_back(page);
    }
    return all;
}

SheetPage* MainWindow::currentSheet() const { return qobject_cast<SheetPage*>(pages_->currentWidget()); }

/// A sheet on a connection, brought to the front: the one that is there already, else the last one, else a new one.
SheetPage* MainWindow::sheetOn(const QString& connectionId, const std::string& database) {
    const auto isOnIt = [&](const SheetPage* page) {
        return page != nullptr && page->sheet().connectionId() == connectionId && page->sheet().database() == database;
    };
    if (isOnIt(currentSheet())) return currentSheet();
    const std::vector<SheetPage*> all = sheets();
    if (const auto last = std::ranges::find_if(all.rbegin(), all.rend(), isOnIt); last != all.rend()) {
        tabs_->setCurrentIndex(pages_->indexOf(*last));
        return *last;
    }
    store::SheetState state;
    state.connectionId = fromQt(connectionId);
    state.database = database;
    return openNewSheet(std::move(state), {});
}

QString MainWindow::connectionInFront() const {
    if (const SheetPage* page = currentSheet()) return page->sheet().connectionId();
    if (const auto* page = qobject_cast<ObjectPage*>(pages_->currentWidget())) return page->place().connectionId;
    return catalog_->connectionId();
}

void MainWindow::restoreSheets() {
    SheetPage* front = nullptr;
    for (store::SheetState& state : desk_.takeKeptSheets()) {
        const bool isCurrent = state.isCurrent;
        SheetPage* page = addSheet(std::move(state), false);
        if (isCurrent || front == nullptr) front = page;
    }
    if (front == nullptr) return showConnections();
    tabs_->setCurrentIndex(pages_->indexOf(front));
    choosePage(tabs_->currentIndex());
    front->editor()->setFocus();
}

SheetPage* MainWindow::addSheet(store::SheetState state, bool isInFront) {
    auto* page = new SheetPage(desk_, new Sheet(desk_, std::move(state), nullptr), pages_);
    const int index = addPage(page, page->sheet().title());
    refreshTab(page);
    connect(&page->sheet(), &Sheet::titleChanged, this, [this, page] { refreshTab(page); });
    connect(&page->sheet(), &Sheet::connectionChanged, this, [this, page] {
        refreshTab(page);
        if (page != currentSheet()) return;
        catalog_->choosePlace(page->sheet().connectionId(), page->sheet().database());
        catalog_->noteSheet(page->sheet().connectionId(), page->sheet().database());
    });
    connect(&page->sheet(), &Sheet::cardChanged, this, &MainWindow::refreshStatus);
    connect(&page->sheet(), &Sheet::elapsedChanged, this, [this, page] { noteElapsed(page); });
    connect(&page->sheet(), &Sheet::runningChanged, this, [this, page] { noteElapsed(page); });
    connect(page, &SheetPage::remarked, this, &MainWindow::say);
    connect(page->editor(), &SqlEditor::caretMoved, this, &MainWindow::refreshStatus);
    connect(page->tray(), &Tray::chosen, this, &MainWindow::refreshStatus);
    connect(page->result(), &ResultPane::selectionSummed, selection_, &QLabel::setText);
    connect(page->result(), &ResultPane::cellFocused, this,
            [this, page](int row, int column) { followCell(page, row, column); });
    page->result()->setComparable([this, page] { return comparableResults(page); });
    connect(page->result(), &ResultPane::sheetWanted, this, [this](const QString& title, const QString& text) {
        SheetPage* fresh = openSheetLikeThis(fromQt(text));
        if (fresh != nullptr) fresh->sheet().setTitle(title);
    });
    connect(&desk_, &Desk::settingsChanged, page, &SheetPage::applySettings);
    if (isInFront) tabs_->setCurrentIndex(index);
    return page;
}

/// Results of all sheets, those of one sheet first.
std::vector<ResultSource*> MainWindow::comparableResults(SheetPage* first) const {
    std::vector<SheetPage*> inOrder = sheets();
    std::stable_partition(inOrder.begin(), inOrder.end(), [first](const SheetPage* page) { return page == first; });
    std::vector<ResultSource*> cards;
    for (SheetPage* page : inOrder) {
        for (Card* card : page->sheet().cards()) {
            const bool isComparable = card->view() != nullptr && !card->isGoingOn() && !card->isComparison();
            if (isComparable) cards.push_back(card);
        }
    }
    return cards;
}

SheetPage* MainWindow::openSheet(const QString& connectionId, const QString& text) {
    store::SheetState state;
    state.connectionId = fromQt(connectionId);
    return openNewSheet(std::move(state), fromQt(text));
}

SheetPage* MainWindow::openSheetLikeThis(const base::SharedText& text) {
    if (SheetPage* page = currentSheet()) return openNewSheet(page->sheet().likeThis(), text);
    store::SheetState state;
    state.connectionId = fromQt(connectionInFront());
    const auto* page = qobject_cast<ObjectPage*>(pages_->currentWidget());
    state.database = page != nullptr ? page->place().database : catalog_->database();
    return openNewSheet(std::move(state), text);
}

SheetPage* MainWindow::openNewSheet(store::SheetState state, const base::SharedText& text) {
    state.id = db::makeProfileId();
    desk_.beginWith(toQt(state.connectionId));
    std::vector<QString> titles;
    for (int i = 0; i < tabs_->count(); ++i) titles.push_back(tabs_->tabText(i));
    QString title;
    do {
        title = tr("Sheet %1").arg(nextSheetNumber_++);
    } while (std::ranges::find(titles, title) != titles.end());
    state.title = fromQt(title);
    state.text = text;
    state.caret = state.text.size();
    SheetPage* page = addSheet(std::move(state), true);
    choosePage(tabs_->currentIndex());
    page->sheet().keepNow();
    page->editor()->setFocus();
    const auto* p = page->sheet().profile();
    if (p != nullptr) say(tr("New sheet on %1").arg(toQt(p->name)));
    return page;
}

void MainWindow::reopenSheet() {
    desk_.reopenSheet(this, [this](std::optional<store::SheetState> state) {
        if (!state) return say(tr("No closed sheet is kept."));
        desk_.beginWith(toQt(state->connectionId));
        SheetPage* page = addSheet(std::move(*state), true);
        choosePage(tabs_->currentIndex());
        page->editor()->setFocus();
    });
}

void MainWindow::openObject(const ObjectPlace& wanted) {
    ObjectPlace place = wanted;
    desk_.beginWith(place.connectionId);
    const auto catalog = desk_.catalog(place.connectionId, place.database).catalog;
    if (const auto* relation = catalog ? catalog->find(place.object.schema, place.object.name) : nullptr;
        relation != nullptr && place.object.kind <= catalog::ObjectKind::VirtualTable) {
        place.object = {.kind = relation->kind, .schema = relation->schema, .name = relation->name};
    }
    for (int i = 0; i < pages_->count(); ++i) {
        const auto* page = qobject_cast<ObjectPage*>(pages_->widget(i));
        if (page != nullptr && page->place() == place) return tabs_->setCurrentIndex(i);
    }
    catalog_->choosePlace(place.connectionId, place.database);
    catalog_->chooseObject(place.object);
    auto* page = new ObjectPage(desk_, place, pages_);
    connect(page, &ObjectPage::rowsRequested, this, &MainWindow::showFirstRows);
    connect(page, &ObjectPage::objectRequested, this, &MainWindow::openObject);
    const int index = addPage(page, toQt(place.object.name));
    tabs_->setTabIcon(index, iconOf(place.object.kind));
    tabs_->setTabData(index, Theme::current().colour("card"));
    tabs_->setCurrentIndex(index);
    page->setFocus();
}

void MainWindow::showConnections() {
    int index = pages_->indexOf(connections_);
    if (index < 0) {
        index = addPage(connections_, tr("Connections"));
        tabs_->setTabIcon(index, colourDot(Theme::current().colour("quiet")));
        tabs_->setTabData(index, Theme::current().colour("card"));
    }
    tabs_->setCurrentIndex(index);
    choosePage(index);
}

int MainWindow::addPage(QWidget* page, const QString& title) {
    pages_->addWidget(page);
    return tabs_->addTab(title);
}

void MainWindow::refreshTab(SheetPage* page) {
    const int index = pages_->indexOf(page);
    if (index < 0) return;
    const auto* p = page->sheet().profile();
    const Theme& theme = Theme::current();
    const QColor colour = p != nullptr ? theme.connectionColour(db::signalColour(*p)) : theme.colour("quiet");
    const SheetFile& file = page->sheet().file();
    tabs_->setTabText(index, page->sheet().title() + (file.isUnsaved() ? QStringLiteral(" •") : QString()));
    tabs_->updateGeometry();
    tabs_->setTabIcon(index, colourDot(colour));
    tabs_->setTabData(index, theme.tinted(colour, 0.16));
    QString tip = p != nullptr ? tr("%1 on %2").arg(page->sheet().title(), toQt(p->name)) : page->sheet().title();
    if (file.state()) tip += QStringLiteral("\n") + toQt(file.state()->path);
    if (page->sheet().isPassing())
        tip += QStringLiteral("\n") + tr("In passing: the next table's rows take its place, until you write in it");
    if (file.isUnsaved())
        tip += QStringLiteral("\n") + tr("Not saved since it was changed (%1)").arg(keyText("sheet.save"));
    tabs_->setTabToolTip(index, tip);
    tabs_->setPassing(index, page->sheet().isPassing());
    tabs_->update();
}

void MainWindow::choosePage(int index) {
    if (index < 0 || index >= pages_->count()) return;
    pages_->setCurrentIndex(index);
    SheetPage* page = currentSheet();
    closeUp_->setVisible(page != nullptr && desk_.windowState().isCloseUpShown);
    const bool isConnections = pages_->currentWidget() == connections_;
    leftColumn_->setVisible(desk_.windowState().isLeftColumnShown && !isConnections);
    if (page != nullptr) {
        catalog_->choosePlace(page->sheet().connectionId(), page->sheet().database());
        catalog_->noteSheet(page->sheet().connectionId(), page->sheet().database());
        ledger_->setConnection(page->sheet().connectionId());
        const QModelIndex current = page->result()->grid()->currentIndex();
        followCell(page, current.row(), current.column());
    }
    if (page == nullptr) catalog_->noteSheet({}, {});
    selection_->clear();
    keepPositions();
    refreshStatus();
}

/// All pages by name, for when there are more tabs than room.
void MainWindow::pageList() {
    std::vector<PickList::Choice> choices;
    for (int i = 0; i < pages_->count(); ++i) {
        const auto* page = qobject_cast<SheetPage*>(pages_->widget(i));
        const auto* p = page != nullptr ? page->sheet().profile() : nullptr;
        choices.push_back({.text = tabs_->tabText(i),
                           .detail = p != nullptr ? toQt(p->name) : QString(),
                           .icon = tabs_->tabIcon(i),
                           .isCurrent = i == pages_->currentIndex(),
                           .act = [this, page = QPointer<QWidget>(pages_->widget(i))] {
                               if (page) tabs_->setCurrentIndex(pages_->indexOf(page));
                               if (page) page->setFocus();
                           }});
    }
    auto* list = new PickList(std::move(choices), tr("Open pages"), this);
    list->openAt(tabs_->mapToGlobal(QPoint(std::max(0, tabs_->width() - list->width()), tabs_->height())));
}

/// A sheet's name is typed where it stands.
void MainWindow::renamePage(int index) {
    auto* page = qobject_cast<SheetPage*>(index < 0 ? nullptr : pages_->widget(index));
    if (page == nullptr) return;
    auto* edit = new QLineEdit(page->sheet().title(), tabs_);
    name(edit, objectName::kTabName, tr("Name of the sheet"));
    edit->setGeometry(tabs_->tabRect(index).adjusted(28, 6, -6, -4));
    edit->selectAll();
    edit->show();
    edit->setFocus();
    connect(edit, &QLineEdit::editingFinished, this, [edit, guard = QPointer<SheetPage>(page)] {
        const QString typed = edit->text().trimmed();
        edit->hide();
        edit->deleteLater();
        if (!guard) return;
        if (!typed.isEmpty()) guard->sheet().setTitle(typed);
        guard->editor()->setFocus();
    });
}

/// For how long something has been running, in the place of the tab's ×, so that no tab moves.
void MainWindow::noteElapsed(SheetPage* page) {
    tabs_->setElapsed(pages_->indexOf(page), page->sheet().elapsedWords());
}

void MainWindow::keepPositions() {
    for (int i = 0; i < pages_->count(); ++i) {
        if (auto* page = qobject_cast<SheetPage*>(pages_->widget(i)))
            page->sheet().setPosition(i, i == pages_->currentIndex());
    }
}

void MainWindow::closePage(int index) {
    if (index < 0 || index >= pages_->count()) return;
    QWidget* page = pages_->widget(index);
    if (page == connections_ && pages_->count() == 1) return;
    if (auto* leaving = qobject_cast<SheetPage*>(page); leaving != nullptr) {
        if (!mayLeave({leaving}) || !askUnsaved(leaving)) return;
    }
    pages_->removeWidget(page);
    tabs_->removeTab(index);
    if (auto* sheet = qobject_cast<SheetPage*>(page)) {
        sheet->sheet().close();
        say(tr("Closed %1. %2 brings it back.").arg(sheet->sheet().title(), keyText("sheet.reopen")));
    }
    if (page == connections_) {
        connections_->setParent(this);
        connections_->hide();
    } else {
        page->deleteLater();
    }
    const QString words = selection_->text();
    if (pages_->count() == 0) {
        showConnections();
    } else {
        choosePage(tabs_->currentIndex());
    }
    say(words);
}

void MainWindow::showFirstRows(const ObjectPlace& place) {
    const auto* p = desk_.profile(place.connectionId);
    if (p == nullptr) return;
    const sql::Dialect dialect = db::dialectOf(p->engine);
    const std::string& schema = place.object.schema;
    const std::string qualified = (schema.empty() || schema == "main" ? "" : sql::quotedName(schema, dialect) + ".") +
                                  sql::quotedName(place.object.name, dialect);
    passingSheet(place)->showInPassing(toQt(place.object.name), "SELECT * FROM " + qualified);
}

/// The sheet that shows first rows in passing, of the same place; a new one when there is none.
SheetPage* MainWindow::passingSheet(const ObjectPlace& place) {
    for (SheetPage* page : sheets()) {
        const Sheet& sheet = page->sheet();
        const bool isIt = sheet.isPassing() && !sheet.isRunning() && sheet.connectionId() == place.connectionId &&
                          sheet.database() == place.database;
        if (!isIt) continue;
        tabs_->setCurrentIndex(pages_->indexOf(page));
        return page;
    }
    store::SheetState state;
    state.connectionId = fromQt(place.connectionId);
    state.database = place.database;
    return openNewSheet(std::move(state), {});
}

// ---- What follows what ----

void MainWindow::showLeftPage(int page) {
    leftPages_->setCurrentIndex(page);
    catalogTab_->setChecked(page == 0);
    ledgerTab_->setChecked(page == 1);
    if (!leftColumn_->isVisible() && isVisible()) {
        leftColumn_->show();
        desk_.changeWindowState([](auto& s) { s.isLeftColumnShown = true; });
    }
}

void MainWindow::followCell(SheetPage* page, int row, int column) {
    if (page == currentSheet()) closeUp_->show(page->result()->model(), row, column, page->sheet().dialect());
}

/// Reads the rows at the end of a key's way and shows the first of them in the close-up.
void MainWindow::follow(const FollowLink& link) {
    constexpr std::size_t kMostRows = 50;
    const SheetPage* page = currentSheet();
    const ResultSource* card = page != nullptr ? page->result()->source() : nullptr;
    if (card == nullptr) return;
    desk_.readRows(card->connectionId(), card->origin().database, link.query, kMostRows, this,
                   [this, link](const Result<data::ResultSetPtr>& rows) { closeUp_->showThere(link, rows); });
}

void MainWindow::refreshStatus() {
    const SheetPage* page = currentSheet();
    if (page == nullptr) {
        const auto count = static_cast<std::int64_t>(desk_.profiles().size());
        kept_->setText(count == 0 ? tr("No connections yet") : toQt(base::counted(count, "connection", "connections")));
        caret_->setText(tr("Connections, ledger and log hold no password"));
        return times_->clear();
    }
    closeUp_->setPlace(page->facts());
    const Card* card = page->tray()->current();
    if (card != nullptr && card->ledgerId > 0) {
        kept_->setText(tr("Kept in the ledger · %1").arg(toQt(base::localTime(card->startedAt()))));
    } else {
        kept_->clear();
    }
    const SqlEditor::CaretPlace place = page->editor()->caretPlace();
    caret_->setText(place.column ? tr("Ln %1, col %2").arg(place.line).arg(*place.column)
                                 : tr("Ln %1").arg(place.line));
    if (card != nullptr && !card->isGoingOn() && card->state() != Card::State::Failed) {
        const auto here =
            std::max(std::chrono::microseconds(0), card->summary().totalTime - card->summary().serverTime);
        times_->setText(tr("%1 server · %2 here")
                            .arg(toQt(base::readable(card->summary().serverTime)), toQt(base::readable(here))));
    } else {
        times_->clear();
    }
}

/// What was said stays until something else is said, and not for long: later it would be taken for what is so.
void MainWindow::say(const QString& text) {
    constexpr int kStaysMs = 15'000;
    selection_->setText(text);
    if (text.isEmpty()) return;
    QTimer::singleShot(kStaysMs, this, [this, text] {
        if (selection_->text() == text) selection_->clear();
    });
}

void MainWindow::raiseNotice(const QString& text) {
    noticeText_->setText(notice_->isVisible() ? noticeText_->text() + QStringLiteral("\n") + text : text);
    notice_->show();
}

void MainWindow::chooseTheme(const QString& name) {
    Theme::current().choose(name);
    desk_.changeSettings([&](auto& s) { s.theme = fromQt(name); });
}

void MainWindow::changeTextSize(int step) {
    // Everything together; or the cells alone, when somebody is in them.
    const SheetPage* page = currentSheet();
    const bool isInGrid = page != nullptr && page->result()->grid()->hasFocus();
    const auto stepped = [step](int size, int usual) {
        return step == 0 ? usual : std::clamp(size + step, kSmallestText, kLargestText);
    };
    desk_.changeSettings([&](store::Settings& s) {
        const store::Settings usual;
        s.gridTextSize = stepped(s.gridTextSize, usual.gridTextSize);
        if (!isInGrid) s.textSize = stepped(s.textSize, usual.textSize);
    });
}

void MainWindow::applyTextSize() {
    Theme::current().setTextSize(desk_.settings().textSize);
    closeUp_->setTextSize(desk_.settings().textSize);
}

/// Left column, editor, tray and grid, close-up, and round again.
void MainWindow::goToNextPart() {
    SheetPage* page = currentSheet();
    if (page == nullptr) return pages_->currentWidget()->setFocus();
    std::vector<QWidget*> parts;
    if (leftColumn_->isVisible()) parts.push_back(leftPages_->currentWidget()->findChild<QLineEdit*>());
    parts.push_back(page->editor());
    if (page->result()->isVisible() && page->result()->model()->rowCount() > 0) parts.push_back(page->result()->grid());
    if (closeUp_->isVisible() && closeUp_->stop() != nullptr) parts.push_back(closeUp_->stop());
    std::size_t next = 0;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const bool isHere = parts[i]->hasFocus() || parts[i]->isAncestorOf(QApplication::focusWidget());
        if (isHere) next = (i + 1) % parts.size();
    }
    parts[next]->setFocus(Qt::TabFocusReason);
    if (parts[next] == page->result()->grid() && !page->result()->grid()->currentIndex().isValid()) {
        page->result()->grid()->setCurrentIndex(page->result()->model()->index(0, 0));
    }
}

/// Esc Esc, which cannot be a shortcut of two keys: those swallow whatever follows a single Esc.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    const bool isKey =
        event->type() == QEvent::KeyPress && qobject_cast<QWidget*>(watched) == QApplication::focusWidget();
    if (!isKey || reach_->isVisible()) return QMainWindow::eventFilter(watched, event);
    SheetPage* page = currentSheet();
    const bool isEscape = static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape;
    if (!isEscape || page == nullptr || page->editor()->isCompleting()) {
        lastEscape_.invalidate();
    } else if (lastEscape_.isValid() && lastEscape_.elapsed() < kTwiceMs) {
        lastEscape_.invalidate();
        page->toggleResult();
    } else {
        lastEscape_.start();
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    if (reach_ != nullptr) reach_->hide();
}

/// Nothing is asked: sheets are kept as they are and come back at the next start.
/// Asks before open changes are lost; true when the sheets may go.
bool MainWindow::mayLeave(const std::vector<const SheetPage*>& pages) {
    std::int64_t changes = 0;
    QStringList names;
    for (const SheetPage* page : pages) {
        if (!page->sheet().hasOpenChanges()) continue;
        changes += page->sheet().sessionState().openChanges;
        names += page->sheet().title();
    }
    if (names.isEmpty()) return true;
    QMessageBox question(
        QMessageBox::NoIcon, tr("Open changes"),
        tr("%1 not committed in %2.")
            .arg(toQt(base::counted(changes, "change is", "changes are")), names.join(QStringLiteral(", "))),
        QMessageBox::NoButton, this);
    question.setObjectName(QLatin1String(objectName::kOpenChanges));
    question.setInformativeText(tr("Closing rolls them back. To keep them, stay and commit."));
    auto* stay = question.addButton(tr("Stay"), QMessageBox::RejectRole);
    auto* go = question.addButton(tr("Roll back and close"), QMessageBox::DestructiveRole);
    go->setObjectName(QLatin1String(objectName::kOpenChangesGo));
    question.setDefaultButton(stay);
    question.setEscapeButton(stay);
    question.exec();
    return question.clickedButton() == go;
}

void MainWindow::closeEvent(QCloseEvent* event) {
    const std::vector<SheetPage*> all = sheets();
    if (!mayLeave({all.begin(), all.end()})) return event->ignore();
    keepEverything();
    event->accept();
}

void MainWindow::keepEverything() {
    for (SheetPage* page : sheets()) page->sheet().keepNow();
    desk_.flush();
}

}  // namespace pantry::app
