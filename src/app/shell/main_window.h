#pragma once

#include <QElapsedTimer>
#include <QHash>
#include <QLabel>
#include <QMainWindow>
#include <QMenu>
#include <QPointer>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTimer>
#include <functional>
#include <map>
#include <string_view>

#include "app/base/late_widget.h"
#include "app/catalog/catalog_panel.h"
#include "app/command/command.h"
#include "app/desk/desk.h"
#include "app/inspect/close_up.h"
#include "app/ledger/ledger_panel.h"
#include "app/pages/connections/connections_page.h"
#include "app/pages/guide/guide_page.h"
#include "app/pages/ledger/ledger_page.h"
#include "app/pages/object/object_page.h"
#include "app/pages/sheet/sheet_page.h"
#include "app/pages/shelf/query_page.h"
#include "app/pages/snippets/snippets_page.h"
#include "app/pages/table/table_page.h"
#include "app/shelf/shelf_panel.h"
#include "app/shell/keys_page.h"
#include "app/shell/notice_strip.h"
#include "app/shell/page_host.h"
#include "app/shell/reach.h"
#include "app/shell/status_text.h"
#include "core/work/setting_wish.h"

namespace pantry::app {

/// The window: left column, tabs with their pages, close-up, status line; and every action with its key.
class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    explicit MainWindow(Desk& desk);

    /// A sheet on a connection, in front, ready to type.
    SheetPage* openSheet(const QString& connectionId, const QString& text = {});
    /// A new sheet where the one in front is: its connection, database and schema.
    SheetPage* openSheetLikeThis(const base::SharedText& text = {});
    void openObject(const ObjectPlace& place);
    void writeScript(const ScriptWish& wish);
    void openTable(const ObjectPlace& place, TablePage::Wish wish);
    void openOverview(const ObjectPlace& place);
    void openServer(const ObjectPlace& place, const QString& subject);
    void openForm(const ObjectPlace& place, const QString& form);
    [[nodiscard]] static std::optional<ObjectPlace> madeIn(const catalog::Catalog& catalog, const ObjectPlace& place);
    void editText(const ObjectPlace& place, const sql::EditedObject& edited);
    void closeObject(const ObjectPlace& place);
    void showMade(const ObjectPlace& place);
    void runText(const ObjectPlace& place, const QString& title, const QString& text);
    void openStatements(const ObjectPlace& place, const QString& title, const QString& text);
    /// A file: SQL comes into a sheet, a database begins a connection, exported connections are brought in.
    void openFile(const QString& path);
    /// A link to a saved query; what cannot be found is told.
    void openLink(const QString& link);
    void showConnections();
    /// Everything about a saved query.
    void showQuery(const store::QueryPlace& place);
    void closeCurrentPage();
    void chooseTheme(const QString& name);
    /// Puts everything that was typed on disk now, and asks nothing: the program is about to be ended.
    void keepEverything();
    void openReach();
    [[nodiscard]] SheetPage* currentSheet() const;
    /// The open sheets, from left to right.
    [[nodiscard]] std::vector<SheetPage*> sheets() const;

protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void offerDatabase(const QString& path);
    void openText(const QString& path, const store::OpenedText& read);
    [[nodiscard]] SheetPage* sheetOfFile(const QString& path) const;
    void saveSheet(bool isAnotherFile);
    void makeShelfVerbs();
    ShelfPanel* makeShelf();
    void bindShelfCommands();
    [[nodiscard]] std::optional<store::QueryPlace> savedPlace(const SheetPage* page) const;
    void openSaved(const store::QueryPlace& place, bool toRun);
    /// Does something with the sheet of a saved query, once it is open.
    void takeGrid(const Sheet& sheet, const std::string& text, const std::string& line);
    void withSaved(const store::QueryPlace& place, std::function<void(SheetPage*)> then);
    void openRunLink(const QString& link);
    SheetPage* openSheetFor(const std::string& connectionName, const std::string& text);
    void showConflicts(const QString& shelf, const std::vector<shelf::Conflict>& conflicts);
    void followMoved(const store::QueryPlace& from, const store::QueryPlace& to);
    void offerShelf(SheetPage* page);
    void saveOnShelf(SheetPage* page, const store::QueryPlace& place, const QString& title, const QString& note);
    void saveAgain(SheetPage* page, const store::QueryPlace& place);
    void keepVersion(SheetPage* page, const store::QueryPlace& place);
    static void takeHead(SheetPage* page, const std::string& before, const std::string& saved);
    void tellSaved(const shelf::Saved& saved);
    bool askUnsaved(SheetPage* page);
    void noteUsage();
    [[nodiscard]] std::vector<db::ConnectionProfile> profilesByUse() const;
    QStackedWidget* leftPages();
    CatalogPanel* makeCatalog();
    LedgerPanel* makeLedger();
    void makeMiddle();
    ConnectionsPage* makeConnections();
    CloseUp* makeCloseUp();
    Reach* makeReach();
    void makeStatusLine();
    void makeMenus();
    void fillMenus();
    void bind(std::string_view id, std::function<void()> act);
    void bindCommands();
    void bindWindowCommands();
    void bindSheetCommands();
    void bindEditCommands();
    void bindQueryCommands();
    void bindResultCommands();
    void bindViewCommands();
    void runCommand(std::string_view id);
    void findEverywhere(const work::TextQuery& query);
    [[nodiscard]] QString whyNot(CommandPlace place) const;
    void greyWhatCannotRun(QMenu* menu, bool isShown);
    void addReachButton();
    SheetPage* sheetOn(const QString& connectionId, const std::string& database = {});
    SheetPage* openNewSheet(store::SheetState state, const base::SharedText& text);
    void restoreSheets();
    void reopenSheet();
    [[nodiscard]] std::vector<ResultSource*> comparableResults(SheetPage* first) const;
    SheetPage* addSheet(store::SheetState state, bool isInFront);
    void closePage(Page* page);
    bool mayLeave(const std::vector<const SheetPage*>& pages);
    void followPage();
    void showLeftPage(int page);
    void chooseLeftPage(int page);
    void showLeftColumn(bool isShown);
    void tellLeftColumn();
    void tellSheet(CatalogPanel& panel) const;
    void tellSheet(ShelfPanel& panel) const;
    void tellSheet(LedgerPanel& panel) const;
    void showCloseUp(bool isShown);
    void tellCloseUp();
    void say(const QString& text);
    void raiseNotice(const QString& text);
    void showFirstRows(const ObjectPlace& place);
    SheetPage* passingSheet(const ObjectPlace& place);
    void showFinding(const SheetPage* page);
    void followCell(SheetPage* page, int row, int column);
    void followCurrentCell(SheetPage* page);
    void refreshStatus();
    void showKept(const QString& text);
    void follow(const FollowLink& link);
    void goToNextPart();
    void changeTextSize(int step);
    void applyLook();
    void showKeys();
    GuidePage* showGuide();
    void addHelpTo(Reach::Scope& scope);
    void showLedger();
    SnippetsPage* showSnippets();
    void makeSnippet();
    void askForLine();
    [[nodiscard]] Reach::Scope everything();
    void addPagesTo(Reach::Scope& scope);
    void addPlacesTo(Reach::Scope& scope);
    void addCommandsTo(Reach::Scope& scope);
    void addFormsTo(Reach::Scope& scope);
    void addLedgerAgesTo(Reach::Scope& scope);
    void addSettingsTo(Reach::Scope& scope);
    [[nodiscard]] Reachable reachableOf(const work::SettingWish& wish);
    void noteReached(const QString& title);
    [[nodiscard]] Reachable reachableOf(const store::LedgerEntry& entry);
    void runFromLedger(const QString& connectionId, const std::string& statement);
    void reachFurther(const QString& text);
    [[nodiscard]] QString connectionInFront();

    Desk& desk_;
    QHash<QString, QMenu*> menus_;  // by their names
    bool areMenusFilled_ = false;
    QSplitter* columns_ = nullptr;
    QFrame* leftColumn_ = nullptr;
    QStackedWidget* leftPages_ = nullptr;
    QPushButton* catalogTab_;
    QPushButton* shelfTab_;
    QPushButton* ledgerTab_;
    LateWidget<CatalogPanel> catalog_;
    QHash<QString, base::Moment> lastUse_;  // by connection
    ShelfVerbs* verbs_;
    LateWidget<ShelfPanel> shelf_;
    LateWidget<LedgerPanel> ledger_;
    QWidget* middle_ = nullptr;
    PageHost* host_;
    std::vector<SheetPage*> sheetPages_;    // of the host
    std::vector<ObjectPage*> objectPages_;  // of the host
    std::vector<QueryPage*> queryPages_;    // of the host
    QPointer<KeysPage> keys_;
    QPointer<GuidePage> guide_;
    QPointer<LedgerPage> ledgerPage_;
    QPointer<SnippetsPage> snippets_;
    LateWidget<ConnectionsPage> connections_;
    LateWidget<CloseUp> closeUp_;
    LateWidget<Reach> reach_;
    NoticeStrip* notice_;
    QLabel* kept_;
    StatusText* status_;
    QLabel* caret_;
    QLabel* times_;
    std::map<std::string_view, std::function<void()>> acts_;  // by the id of a command
    int nextSheetNumber_ = 1;
    QElapsedTimer lastEscape_;
};

}  // namespace pantry::app
