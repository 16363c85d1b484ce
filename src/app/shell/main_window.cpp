#include "app/shell/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QMessageBox>
#include <QStatusBar>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/early_fonts.h"
#include "app/look/elided_label.h"
#include "app/look/first_paint.h"
#include "app/look/input_guards.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/sql/write/names.h"
#include "core/sql/write/read_queries.h"

namespace pantry::app {
namespace {

constexpr int kSmallestText = 7;
constexpr int kLargestText = 30;
constexpr qint64 kTwiceMs = 600;  // two presses that belong together

}  // namespace

MainWindow::MainWindow(Desk& desk)
    : desk_(desk),
      catalog_([this] { return makeCatalog(); }, [this](CatalogPanel& panel) { tellSheet(panel); }),
      shelf_([this] { return makeShelf(); }, [this](ShelfPanel& panel) { tellSheet(panel); }),
      ledger_([this] { return makeLedger(); }, [this](LedgerPanel& panel) { tellSheet(panel); }),
      connections_([this] { return makeConnections(); }),
      closeUp_([this] { return makeCloseUp(); }, [this](CloseUp&) { tellCloseUp(); }),
      reach_([this] { return makeReach(); }) {
    // First, and everything is made where it will stand: what moves to another place is dressed again, with all in it.
    Theme::current().dress(this);
    columns_ = makeSplitter(Qt::Horizontal, this);
    leftColumn_ = new QFrame(columns_);
    middle_ = new QWidget(columns_);
    setObjectName(QLatin1String(objectName::kMainWindow));
    setWindowTitle(tr("Agile Pantry"));
    // The first picture does without: for an icon, what reads drawings is loaded, and for the shelf, git reads all
    // certificates of the machine.
    afterFirstPaint(this, [this] {
        setWindowIcon(QIcon(QStringLiteral(":/icons/agile-pantry.svg")));
        desk_.shelf().refresh();
    });
    setMinimumSize(900, 560);
    setAcceptDrops(true);
    connect(&desk_, &Desk::connected, this, &MainWindow::say);
    noteUsage();
    resize(1280, 800);
    columns_->setStretchFactor(1, 1);
    const auto& s = desk_.windowState();
    columns_->setSizes({s.leftColumnWidth, width() - s.leftColumnWidth});
    leftColumn_->setObjectName(QLatin1String(objectName::kLeftColumn));
    leftColumn_->setMinimumWidth(180);
    leftColumn_->hide();  // until a page has it
    makeShelfVerbs();
    guardInput(this);
    makeMiddle();
    connect(columns_, &QSplitter::splitterMoved, this, [this] {
        desk_.preferences().changeWindowState([this](auto& settings) {
            const auto sizes = columns_->sizes();
            if (sizes[0] > 0) settings.leftColumnWidth = sizes[0];
            if (closeUp_.made() != nullptr && sizes[2] > 0) settings.closeUpWidth = sizes[2];
        });
    });
    setCentralWidget(columns_);
    bindCommands();
    makeMenus();
    awaitFonts();
    makeStatusLine();
    connect(&desk_, &Desk::noticeRaised, this, &MainWindow::raiseNotice);
    connect(&desk_, &Desk::profilesChanged, this, &MainWindow::refreshStatus);
    connect(&Theme::current(), &Theme::changed, host_, &PageHost::refresh);
    applyLook();
    connect(&desk_, &Desk::settingsChanged, this, &MainWindow::applyLook);
    restoreSheets();
}

// ---- Parts ----

/// The left column is filled when something of it is first wanted.
QStackedWidget* MainWindow::leftPages() {
    if (leftPages_ != nullptr) return leftPages_;
    leftPages_ = new QStackedWidget(leftColumn_);
    catalogTab_ = makeButton(tr("Catalog"), "page", objectName::kCatalogTab, tr("Show the catalog"), leftColumn_);
    shelfTab_ = makeButton(tr("Shelf"), "page", objectName::kShelfTab, tr("Show the shelf"), leftColumn_);
    ledgerTab_ = makeButton(tr("Ledger"), "page", objectName::kLedgerTab, tr("Show the ledger"), leftColumn_);
    auto* textLayout = new QHBoxLayout;
    textLayout->setContentsMargins(14, 0, 10, 0);
    for (QPushButton* tab : {catalogTab_, shelfTab_, ledgerTab_}) {
        tab->setCheckable(true);
        textLayout->addWidget(tab);
    }
    textLayout->addStretch();
    auto* layout = new QVBoxLayout(leftColumn_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(textLayout);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(leftPages_, 1);
    connect(catalogTab_, &QPushButton::clicked, this, [this] { showLeftPage(0); });
    connect(shelfTab_, &QPushButton::clicked, this, [this] { showLeftPage(1); });
    connect(ledgerTab_, &QPushButton::clicked, this, [this] { showLeftPage(2); });
    for (QPushButton* tab : {catalogTab_, shelfTab_, ledgerTab_}) putBehindInTabOrder(leftColumn_, tab);
    return leftPages_;
}

CatalogPanel* MainWindow::makeCatalog() {
    auto* catalog = new CatalogPanel(desk_, leftPages());
    name(catalog, objectName::kCatalogPage, tr("Catalog"));
    leftPages_->addWidget(catalog);
    putBehindInTabOrder(leftColumn_, catalog);
    connect(catalog, &CatalogPanel::sheetRequested, this, [this](const QString& id) { openSheet(id); });
    connect(catalog, &CatalogPanel::objectRequested, this, &MainWindow::openObject);
    connect(catalog, &CatalogPanel::rowsRequested, this, &MainWindow::showFirstRows);
    connect(catalog, &CatalogPanel::savedRequested, this,
            [this](const store::QueryPlace& place) { openSaved(place, false); });
    connect(catalog, &CatalogPanel::queryRequested, this, &MainWindow::runText);
    connect(catalog, &CatalogPanel::scriptRequested, this, &MainWindow::writeScript);
    connect(catalog, &CatalogPanel::tableRequested, this, &MainWindow::openTable);
    connect(catalog, &CatalogPanel::formRequested, this, &MainWindow::openForm);
    connect(catalog, &CatalogPanel::textRequested, this, &MainWindow::editText);
    connect(catalog, &CatalogPanel::nameRequested, this, [this](const QString& text) {
        if (SheetPage* page = currentSheet()) {
            page->editor()->insertText(fromQt(text));
            page->editor()->setFocus();
        }
    });
    return catalog;
}

LedgerPanel* MainWindow::makeLedger() {
    auto* ledger = new LedgerPanel(desk_, leftPages());
    name(ledger, objectName::kLedgerPage, tr("Ledger"));
    leftPages_->addWidget(ledger);
    putBehindInTabOrder(leftColumn_, ledger);
    connect(ledger, &LedgerPanel::statementRequested, this,
            [this](const QString& id, const QString& statement) { sheetOn(id)->appendStatement(fromQt(statement)); });
    return ledger;
}

CloseUp* MainWindow::makeCloseUp() {
    auto* closeUp = new CloseUp(columns_);
    const auto& s = desk_.windowState();
    columns_->setSizes({s.leftColumnWidth, width() - s.leftColumnWidth - s.closeUpWidth, s.closeUpWidth});
    closeUp->setTextSize(desk_.settings().textSize);
    connect(closeUp, &CloseUp::columnChosen, this, [this](int column) {
        if (SheetPage* page = currentSheet()) page->result()->grid()->goToColumn(column);
    });
    connect(closeUp, &CloseUp::followWanted, this, &MainWindow::follow);
    connect(closeUp, &CloseUp::mendRequested, this, [this] { runCommand("editor.mend"); });
    connect(closeUp, &CloseUp::silenceRequested, this, [this] { runCommand("editor.silence"); });
    connect(closeUp, &CloseUp::sheetWanted, this, [this](const FollowLink& link) {
        SheetPage* page = openSheetLikeThis(link.query + ";");
        if (page != nullptr) page->runAll();
    });
    return closeUp;
}

Reach* MainWindow::makeReach() {
    auto* reach = new Reach(this);
    connect(reach, &Reach::textChanged, this, &MainWindow::reachFurther);
    connect(reach, &Reach::reached, this, &MainWindow::noteReached);
    connect(reach, &Reach::besideRequested, this, [this] { runCommand("page.beside"); });
    return reach;
}

void MainWindow::makeMiddle() {
    // What is in it folds and gives way; so nothing there moves the columns beside it.
    constexpr int kLeastMiddle = 536;
    middle_->setMinimumWidth(kLeastMiddle);
    host_ = new PageHost(middle_);
    notice_ = new NoticeStrip(middle_);
    auto* layout = new QVBoxLayout(middle_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(notice_);
    layout->addWidget(host_, 1);
    connect(host_, &PageHost::newPageRequested, this, [this] { openSheetLikeThis(); });
    connect(host_, &PageHost::chosen, this, &MainWindow::followPage);
    connect(host_, &PageHost::closeRequested, this, &MainWindow::closePage);
}

ConnectionsPage* MainWindow::makeConnections() {
    auto* page = new ConnectionsPage(desk_, host_->placeOfPages());
    page->hide();  // until it has its place
    connect(page, &ConnectionsPage::sheetRequested, this, [this](const QString& id) { openSheet(id); });
    connect(page, &ConnectionsPage::fileRequested, this, &MainWindow::openFile);
    connect(page, &ConnectionsPage::sheetWithTextRequested, this, [this](const QString& id, const QString& text) {
        SheetPage* sheet = openSheet(id, text);
        sheet->editor()->setCaret(0);
        sheet->sheet().setTitle(tr("First look"));
    });
    return page;
}

void MainWindow::makeStatusLine() {
    kept_ = makeLabel({}, "");
    auto* said = new ElidedLabel;  // in a narrow window it gives way
    said->setTextFormat(Qt::PlainText);
    status_ = new StatusText(said, this);
    caret_ = makeLabel({}, "");
    times_ = makeLabel({}, "");
    name(kept_, objectName::kStatusKept, tr("Where the last run was kept"));
    name(said, objectName::kStatusSelection, tr("What has happened, and what the selected cells add up to"));
    name(caret_, objectName::kStatusCaret, tr("Place of the cursor"));
    name(times_, objectName::kStatusTimes, tr("Time at the server and here"));
    statusBar()->setSizeGripEnabled(false);
    statusBar()->addWidget(kept_);
    statusBar()->addWidget(said, 1);
    statusBar()->addPermanentWidget(caret_);
    statusBar()->addPermanentWidget(times_);
}

// ---- Pages ----

/// The page of this kind that is meant; nullptr when it is of another kind. Pages are told apart by who made them.
template <class Kind>
Kind* amongThem(const std::vector<Kind*>& all, const Page* page) {
    const auto found = std::ranges::find_if(all, [page](const Kind* one) { return one == page; });
    return found == all.end() ? nullptr : *found;
}

std::vector<SheetPage*> MainWindow::sheets() const {
    std::vector<SheetPage*> inOrder;
    for (const Page* page : host_->pages()) {
        if (SheetPage* sheet = amongThem(sheetPages_, page)) inOrder.push_back(sheet);
    }
    return inOrder;
}

SheetPage* MainWindow::currentSheet() const { return amongThem(sheetPages_, host_->current()); }

/// A sheet on a connection, brought to the front: the one that is there already, else the last one, else a new one.
SheetPage* MainWindow::sheetOn(const QString& connectionId, const std::string& database) {
    const auto isOnIt = [&](const SheetPage* page) {
        return page != nullptr && page->sheet().connectionId() == connectionId && page->sheet().database() == database;
    };
    if (isOnIt(currentSheet())) return currentSheet();
    const std::vector<SheetPage*> all = sheets();
    if (const auto last = std::ranges::find_if(all.rbegin(), all.rend(), isOnIt); last != all.rend()) {
        host_->bringToFront(*last);
        return *last;
    }
    store::SheetState state;
    state.connectionId = fromQt(connectionId);
    state.database = database;
    return openNewSheet(std::move(state), {});
}

QString MainWindow::connectionInFront() {
    const auto place = host_->current() != nullptr ? host_->current()->place() : std::nullopt;
    if (place) return place->connectionId;
    return catalog_->connectionId();
}

void MainWindow::restoreSheets() {
    SheetPage* front = nullptr;
    for (store::SheetState& state : desk_.documents().takeKept()) {
        const bool isCurrent = state.isCurrent;
        SheetPage* page = addSheet(std::move(state), false);
        if (isCurrent || front == nullptr) front = page;
    }
    if (front == nullptr) return showConnections();
    host_->bringToFront(front);
    host_->restoreBeside();
    followPage();
    front->editor()->setFocus();
}

SheetPage* MainWindow::addSheet(store::SheetState state, bool isInFront) {
    // It gets its place when it is made: what is put together within a dressed window is dressed at each step.
    auto* page = new SheetPage(desk_, new Sheet(desk_, std::move(state), nullptr), host_->placeOfPages());
    sheetPages_.push_back(page);
    host_->add(page, false);
    connect(&page->sheet(), &Sheet::connectionChanged, this, [this, page] {
        if (page != currentSheet()) return;
        tellLeftColumn();
        refreshStatus();  // the close-up tells who and where
    });
    connect(&page->sheet(), &Sheet::cardChanged, this, &MainWindow::refreshStatus);
    connect(page, &SheetPage::everywhereWanted, this, &MainWindow::findEverywhere);
    connect(page, &SheetPage::versionsRequested, this, [this, page] {
        if (const auto place = savedPlace(page)) showQuery(*place);
    });
    connect(page, &SheetPage::commandRequested, this, [this](const QString& id) { runCommand(fromQt(id)); });
    connect(page, &SheetPage::objectRequested, this, &MainWindow::openObject);
    connect(page, &SheetPage::findingChanged, this, [this, page] { showFinding(page); });
    connect(page, &SheetPage::remarked, this, [this, page](const QString& text) { status_->say(text, page); });
    connect(page->editor(), &SqlEditor::caretMoved, this, &MainWindow::refreshStatus);
    connect(page->tray(), &Tray::chosen, this, &MainWindow::refreshStatus);
    connect(page, &SheetPage::selectionSummed, status_, &StatusText::setFacts);
    connect(page, &SheetPage::cellFocused, this, [this, page](int row, int column) { followCell(page, row, column); });
    page->setComparable([this, page] { return comparableResults(page); });
    connect(page, &SheetPage::sheetWanted, this, [this](const QString& title, const QString& text) {
        SheetPage* fresh = openSheetLikeThis(fromQt(text));
        if (fresh != nullptr) fresh->sheet().setTitle(title);
    });
    if (isInFront) host_->bringToFront(page);
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
    const auto place = host_->current() != nullptr ? host_->current()->place() : std::nullopt;
    state.database = place ? place->database : catalog_->database();
    return openNewSheet(std::move(state), text);
}

SheetPage* MainWindow::openNewSheet(store::SheetState state, const base::SharedText& text) {
    state.id = db::makeProfileId();
    desk_.connections().beginWith(state.connectionId);
    std::vector<QString> titles;
    for (const Page* page : host_->pages()) titles.push_back(page->title());
    QString title;
    do {
        title = tr("Sheet %1").arg(nextSheetNumber_++);
    } while (std::ranges::find(titles, title) != titles.end());
    state.title = fromQt(title);
    state.text = text;
    state.caret = state.text.size();
    SheetPage* page = addSheet(std::move(state), true);
    followPage();
    page->sheet().keepNow();
    page->editor()->setFocus();
    const auto* p = page->sheet().profile();
    if (p != nullptr) say(tr("New sheet on %1").arg(toQt(p->name)));
    return page;
}

void MainWindow::reopenSheet() {
    desk_.documents().reopenLast(whileThere(this, [this](std::optional<store::SheetState> state) {
        if (!state) return say(tr("No closed sheet is kept."));
        desk_.connections().beginWith(state->connectionId);
        SheetPage* page = addSheet(std::move(*state), true);
        followPage();
        page->editor()->setFocus();
    }));
}

void MainWindow::showConnections() {
    if (host_->holds(connections_.get())) {
        host_->bringToFront(connections_.get());
    } else {
        host_->add(connections_.get(), true);
    }
    followPage();
}

/// What stands beside a page follows the one in front.
void MainWindow::followPage() {
    const Page* page = host_->current();
    if (page == nullptr) return;
    showCloseUp(page->hasCloseUp() && desk_.windowState().isCloseUpShown);
    showLeftColumn(page->hasLeftColumn() && desk_.windowState().isLeftColumnShown);
    tellLeftColumn();
    if (SheetPage* sheet = currentSheet()) {
        if (ledgerPage_) ledgerPage_->setConnection(sheet->sheet().connectionId());
        followCurrentCell(sheet);
    }
    status_->followPage(page);
    refreshStatus();
}

void MainWindow::tellLeftColumn() {
    if (CatalogPanel* panel = catalog_.made()) tellSheet(*panel);
    if (ShelfPanel* panel = shelf_.made()) tellSheet(*panel);
    if (LedgerPanel* panel = ledger_.made()) tellSheet(*panel);
}

void MainWindow::tellSheet(CatalogPanel& panel) const {
    const SheetPage* page = currentSheet();
    if (page == nullptr) return panel.noteSheet({}, {});
    panel.choosePlace(page->sheet().connectionId(), page->sheet().database());
    panel.noteSheet(page->sheet().connectionId(), page->sheet().database());
}

void MainWindow::tellSheet(ShelfPanel& panel) const {
    const SheetPage* page = currentSheet();
    panel.setDialect(page != nullptr ? std::optional(page->sheet().dialect()) : std::nullopt);
}

void MainWindow::tellSheet(LedgerPanel& panel) const {
    if (const SheetPage* page = currentSheet()) panel.setConnection(page->sheet().connectionId());
}

/// What the close-up shows of the sheet in front.
void MainWindow::tellCloseUp() {
    SheetPage* page = currentSheet();
    if (page == nullptr) return;
    followCurrentCell(page);
    closeUp_->setPlace(page->facts());
    showFinding(page);
}

void MainWindow::showCloseUp(bool isShown) {
    if (isShown || closeUp_.made() != nullptr) closeUp_->setVisible(isShown);
}

void MainWindow::showLeftColumn(bool isShown) {
    if (isShown && leftPages()->count() == 0) chooseLeftPage(0);
    leftColumn_->setVisible(isShown);
}

void MainWindow::closeCurrentPage() {
    if (host_->current() != nullptr) closePage(host_->current());
}

void MainWindow::closePage(Page* page) {
    if (page == connections_.made() && host_->count() == 1) return;
    if (SheetPage* leaving = amongThem(sheetPages_, page)) {
        if (!mayLeave({leaving}) || !askUnsaved(leaving)) return;
    }
    const std::optional<UnfinishedText> unfinished = page->unfinished();
    const std::optional<PagePlace> place = page->place();
    host_->remove(page);
    std::erase_if(sheetPages_, [page](const SheetPage* one) { return one == page; });
    std::erase_if(objectPages_, [page](const ObjectPage* one) { return one == page; });
    std::erase_if(queryPages_, [page](const QueryPage* one) { return one == page; });
    QString text = page->leave();
    if (unfinished && place) {
        openStatements({place->connectionId, place->database, {}}, unfinished->title, unfinished->text);
        text = tr("What was not applied is in a new sheet.");
    }
    if (page->isKept()) {
        page->setParent(this);
        page->hide();
    } else {
        page->deleteLater();
    }
    host_->count() == 0 ? showConnections() : followPage();
    say(text);
}

/// The sheet that shows first rows in passing, of the same place; a new one when there is none.
SheetPage* MainWindow::passingSheet(const ObjectPlace& place) {
    for (SheetPage* page : sheets()) {
        const Sheet& sheet = page->sheet();
        const bool isIt = sheet.isPassing() && !sheet.isRunning() && sheet.connectionId() == place.connectionId &&
                          sheet.database() == place.database;
        if (!isIt) continue;
        host_->bringToFront(page);
        return page;
    }
    store::SheetState state;
    state.connectionId = fromQt(place.connectionId);
    state.database = place.database;
    return openNewSheet(std::move(state), {});
}

// ---- What follows what ----

void MainWindow::chooseLeftPage(int page) {
    QWidget* wanted = page == 0   ? static_cast<QWidget*>(catalog_.get())
                      : page == 1 ? static_cast<QWidget*>(shelf_.get())
                                  : static_cast<QWidget*>(ledger_.get());
    leftPages_->setCurrentWidget(wanted);
    catalogTab_->setChecked(page == 0);
    shelfTab_->setChecked(page == 1);
    ledgerTab_->setChecked(page == 2);
}

void MainWindow::showLeftPage(int page) {
    chooseLeftPage(page);
    if (!leftColumn_->isVisible() && isVisible()) {
        leftColumn_->show();
        desk_.preferences().changeWindowState([](auto& s) { s.isLeftColumnShown = true; });
    }
}

void MainWindow::followCell(SheetPage* page, int row, int column) {
    if (page != currentSheet() || closeUp_.made() == nullptr) return;
    const ResultPane* result = page->madeResult();
    closeUp_->show(result != nullptr ? result->model() : nullptr, row, column, page->sheet().dialect());
}

void MainWindow::followCurrentCell(SheetPage* page) {
    const ResultPane* result = page->madeResult();
    const QModelIndex current = result != nullptr ? result->grid()->currentIndex() : QModelIndex();
    followCell(page, current.row(), current.column());
}

void MainWindow::showFinding(const SheetPage* page) {
    if (page != currentSheet() || closeUp_.made() == nullptr) return;
    const TextHint* hint = page->editor()->hintAtCaret();
    if (hint == nullptr) return closeUp_->showFinding(std::nullopt);
    const QString severity = hint->severity == sql::Severity::Error     ? tr("Mistake")
                             : hint->severity == sql::Severity::Warning ? tr("Likely a mistake")
                                                                        : tr("Hint");
    closeUp_->showFinding(FindingText{
        .severity = severity, .message = hint->message, .rule = toQt(hint->rule), .canMend = hint->mend.has_value()});
}

/// Reads the rows at the end of a key's way and shows the first of them in the close-up.
void MainWindow::follow(const FollowLink& link) {
    constexpr std::size_t kMaxRows = 50;
    const SheetPage* page = currentSheet();
    const ResultPane* result = page != nullptr ? page->madeResult() : nullptr;
    const ResultSource* card = result != nullptr ? result->source() : nullptr;
    if (card == nullptr) return;
    desk_.catalogs().readRows(
        fromQt(card->connectionId()), card->origin().database, link.query, kMaxRows,
        whileThere(this, [this, link](const Result<data::ResultSetPtr>& rows) { closeUp_->showThere(link, rows); }));
}

/// With nothing to say it takes no room, so that the line begins where it always does.
void MainWindow::showKept(const QString& text) {
    kept_->setText(text);
    kept_->setVisible(!text.isEmpty());
}

void MainWindow::refreshStatus() {
    const SheetPage* page = currentSheet();
    if (page == nullptr && host_->current() != connections_.made()) {
        showKept({});
        caret_->clear();
        return times_->clear();
    }
    if (page == nullptr) {
        const auto count = static_cast<std::int64_t>(desk_.connections().profiles().size());
        showKept(count == 0 ? tr("No connections yet") : toQt(base::counted(count, "connection", "connections")));
        caret_->setText(tr("Connections, ledger and log hold no password"));
        return times_->clear();
    }
    if (closeUp_.made() != nullptr) closeUp_->setPlace(page->facts());
    showFinding(page);
    const Card* card = page->tray()->current();
    const bool isKept = card != nullptr && card->run().isKept();
    showKept(isKept ? tr("Kept in the ledger · %1").arg(toQt(base::localTime(card->startedAt()))) : QString());
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
/// About the page that is in front now.
void MainWindow::say(const QString& text) { status_->say(text, host_->current()); }

void MainWindow::raiseNotice(const QString& text) { notice_->add(text); }

void MainWindow::chooseTheme(const QString& name) {
    desk_.preferences().changeSettings([&](auto& s) { s.theme = fromQt(name); });
}

void MainWindow::changeTextSize(int step) {
    // Everything together; or the cells alone, when somebody is in them.
    const SheetPage* page = currentSheet();
    const ResultPane* result = page != nullptr ? page->madeResult() : nullptr;
    const bool isInGrid = result != nullptr && result->grid()->hasFocus();
    const auto stepped = [step](int size, int usual) {
        return step == 0 ? usual : std::clamp(size + step, kSmallestText, kLargestText);
    };
    desk_.preferences().changeSettings([&](store::Settings& s) {
        const store::Settings usual;
        s.gridTextSize = stepped(s.gridTextSize, usual.gridTextSize);
        if (!isInGrid) s.textSize = stepped(s.textSize, usual.textSize);
    });
}

/// As it was chosen here, or in another window.
void MainWindow::applyLook() {
    const QString theme = toQt(desk_.settings().theme);
    if (Theme::current().name() != theme) Theme::current().choose(theme);
    Theme::current().setTextSize(desk_.settings().textSize);
    if (closeUp_.made() != nullptr) closeUp_->setTextSize(desk_.settings().textSize);
}

/// Left column, editor, tray and grid, close-up, and round again.
void MainWindow::goToNextPart() {
    SheetPage* page = currentSheet();
    if (page == nullptr) return host_->current()->setFocus();
    std::vector<QWidget*> parts;
    if (leftColumn_->isVisible()) parts.push_back(leftPages_->currentWidget()->findChild<QLineEdit*>());
    parts.push_back(page->editor());
    if (page->result()->isVisible() && page->result()->model()->rowCount() > 0) parts.push_back(page->result()->grid());
    if (CloseUp* closeUp = closeUp_.made(); closeUp != nullptr && closeUp->isVisible() && closeUp->stop() != nullptr)
        parts.push_back(closeUp->stop());
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
    const bool isReaching = reach_.made() != nullptr && reach_->isVisible();
    if (!isKey || isReaching) return QMainWindow::eventFilter(watched, event);
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
    if (reach_.made() != nullptr) reach_->hide();
}

/// Nothing is asked: sheets are kept as they are and come back at the next start.
/// Asks before open changes are lost; true when the sheets may go.
bool MainWindow::mayLeave(const std::vector<const SheetPage*>& pages) {
    std::int64_t changes = 0;
    QStringList names;
    for (const SheetPage* page : pages) {
        if (!page->sheet().session().hasOpenChanges()) continue;
        changes += page->sheet().session().state().openChanges;
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
    for (Page* page : host_->pages()) {
        const auto unfinished = page->unfinished();
        const auto place = page->place();
        if (unfinished && place) {
            openStatements({place->connectionId, place->database, {}}, unfinished->title, unfinished->text);
        }
    }
    keepEverything();
    event->accept();
}

void MainWindow::keepEverything() {
    for (SheetPage* page : sheets()) page->sheet().keepNow();
    desk_.flush();
}

}  // namespace pantry::app

#include "moc_main_window.cpp"
