#pragma once

#include <QFileSystemWatcher>
#include <QHash>
#include <QObject>
#include <QSet>
#include <QString>
#include <QTimer>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "core/base/serial_worker.h"
#include "core/catalog/catalog.h"
#include "core/data/store/result_budget.h"
#include "core/data/view/grid_choices.h"
#include "core/db/profile.h"
#include "core/db/session.h"
#include "core/sql/meaning/catalog_changes.h"
#include "core/store/catalog_choices_file.h"
#include "core/store/connections_file.h"
#include "core/store/engine_files.h"
#include "core/store/export_presets.h"
#include "core/store/grid_choices_file.h"
#include "core/store/home.h"
#include "core/store/ledger.h"
#include "core/store/settings.h"
#include "core/store/sheet_keeper.h"
#include "core/store/window_state.h"

namespace pantry::app {

/// What the parts of a window share: connections, their catalogs, settings, the ledger and the kept sheets. Files and
/// databases are worked on other threads; the signals come on the window's.
///
/// Threads: the window's thread.
class Desk : public QObject {
    Q_OBJECT

public:
    explicit Desk(store::Home home, QObject* parent = nullptr);
    ~Desk() override;

    /// Reads what the first picture of the window needs: settings, connections, kept sheets. Small files, read before
    /// the window shows.
    void open();

    [[nodiscard]] const store::Home& home() const { return home_; }

    // Connections
    /// Those that one can connect with: all but the templates.
    [[nodiscard]] const std::vector<db::ConnectionProfile>& profiles() const { return profiles_; }
    /// Everything that is saved: connections, templates and groups.
    [[nodiscard]] const store::ConnectionList& connections() const { return list_; }
    [[nodiscard]] const db::ConnectionProfile* profile(const QString& id) const;
    /// Those of one group together, in the user's order of the groups.
    [[nodiscard]] std::vector<const db::ConnectionProfile*> profilesByGroup() const;
    void putProfile(const db::ConnectionProfile& profile);
    /// The same for a wish that was made from `original`: fields that it leaves alone keep what others have written
    /// since. What both changed is told.
    void putProfile(const db::ConnectionProfile& profile, const db::ConnectionProfile& original);
    /// How runs on a connection are guarded by what its file says when they are sent; for db::RunRequest.
    [[nodiscard]] std::function<std::optional<db::RunGuard>()> guardOfNow(const QString& profileId) const;
    /// Removes it; undoRemoval() brings back the one removed last.
    void removeProfile(const QString& id);
    [[nodiscard]] const std::optional<db::ConnectionProfile>& lastRemoved() const { return lastRemoved_; }
    void undoRemoval();
    /// Changes order, groups or several connections at once, here and in the file.
    void changeConnections(const std::function<void(store::ConnectionList&)>& change);
    /// Looks what else could be connected to: servers on this machine, the engines' own files.
    void findConnections(QObject* context, std::function<void(std::vector<store::FoundConnection>)> done);
    void testProfile(const db::ConnectionProfile& profile, const std::optional<std::string>& password, QObject* context,
                     std::function<void(std::vector<db::TestStage>)> done);
    /// What the profile's database can be, as its server tells: see db::placesOnServer().
    void listPlaces(const db::ConnectionProfile& profile, const std::optional<std::string>& password, QObject* context,
                    std::function<void(Result<std::vector<std::string>>)> done);
    /// A password that was entered; empty takes it away. It stays in memory, and goes to the keyring when the profile
    /// says so: `done` hears how that went.
    void setPassword(const db::ConnectionProfile& profile, const std::string& password, QObject* context,
                     std::function<void(const Status&)> done);
    /// What was entered for a connection while the program runs.
    [[nodiscard]] std::optional<std::string> passwordOf(const QString& profileId) const;
    /// Where sessions on a connection get its password from.
    [[nodiscard]] db::PasswordProvider passwordFor(const QString& profileId) const;

    // Catalogs. A connection has one for each of its databases that is looked at; an empty name means the profile's
    // own.
    struct CatalogState {
        catalog::CatalogPtr catalog;  ///< the last one read; may be null
        bool isLoading = false;
        QString progress;            ///< which part is read now
        std::optional<Error> error;  ///< why the last reading failed
    };
    [[nodiscard]] CatalogState catalog(const QString& profileId, const std::string& database = {}) const;
    /// Where a connection leads when one of its databases is chosen; nullopt when the connection is gone.
    [[nodiscard]] std::optional<db::ConnectionProfile> profileAt(const QString& profileId,
                                                                 const std::string& database) const;
    /// Counts with a query of its own line, so that a sheet's transaction is not touched; gives up after some seconds.
    void countRows(const QString& profileId, const std::string& database, const std::string& query, QObject* context,
                   std::function<void(Result<std::int64_t>)> done);
    /// Runs a query that reads, on the line that catalogs are read on: no sheet's transaction is touched. At most so
    /// many rows; gives up after some seconds.
    void readRows(const QString& profileId, const std::string& database, const std::string& query, std::size_t most,
                  QObject* context, std::function<void(Result<data::ResultSetPtr>)> done);
    /// Somebody wants to work with a connection. Until then nothing connects: neither the start of the program nor the
    /// sheets that come back with it reach out to anything.
    void beginWith(const QString& profileId);
    [[nodiscard]] bool hasBegunWith(const QString& profileId) const;
    /// Reads the catalog unless it is there or on its way, once somebody has begun with the connection;
    /// catalogChanged() follows.
    void wantCatalog(const QString& profileId, const std::string& database = {});
    /// Reads the catalog again, or only what has changed in it; catalogChanged() follows.
    void loadCatalog(const QString& profileId, const std::string& database = {},
                     const sql::CatalogChanges& changes = {});
    /// Stops reading; what was there before stays.
    void stopCatalog(const QString& profileId, const std::string& database = {});
    /// Reads the statements that make an object.
    void readDefinition(const QString& profileId, const std::string& database, const catalog::ObjectName& object,
                        QObject* context, std::function<void(Result<catalog::Definition>)> done);

    /// What is chosen to be seen of a catalog.
    [[nodiscard]] catalog::Choices catalogChoices(const QString& profileId, const std::string& database = {}) const;
    /// Changes and keeps it; catalogChanged() follows.
    void changeCatalogChoices(const QString& profileId, const std::string& database,
                              const std::function<void(catalog::Choices&)>& change);

    // Settings
    [[nodiscard]] const store::Settings& settings() const { return settings_; }
    void changeSettings(const std::function<void(store::Settings&)>& change);

    // How the window was left
    [[nodiscard]] const store::WindowState& windowState() const { return windowState_; }
    /// Changes and keeps it, within a second: dragging changes it at every step.
    void changeWindowState(const std::function<void(store::WindowState&)>& change);

    // Results
    /// Counts a result among those that share the memory for results.
    void keepResult(const data::ResultSetPtr& result, bool isPinned);
    void pinResult(const data::ResultSetPtr& result, bool isPinned);
    void noteResultUse(const data::ResultSetPtr& result);
    /// Moves results that were not looked at for long out of memory, when there is too much; works elsewhere.
    void keepWithinBudget();
    [[nodiscard]] data::ResultBudget::Usage resultUsage() { return budget_->usage(); }

    /// What is chosen for the grid of a query; see store::gridKey().
    [[nodiscard]] data::GridChoices gridChoices(const std::string& key) const;
    void changeGridChoices(const std::string& key, const data::GridChoices& choices);

    // Exports
    [[nodiscard]] const store::ExportPresets& exportPresets() const { return exportPresets_; }
    /// Keeps what an export was told, for the next one in the same format, and its folder; empty when it had none.
    void noteExport(const exchange::ExportChoices& choices, const std::string& folder);
    void putExportPreset(const store::ExportPreset& preset);
    void removeExportPreset(const std::string& name);

    // Ledger
    /// `done` gets the entry's id, 0 when nothing could be kept.
    void ledgerStart(const store::RunStart& run, base::Moment when, std::function<void(std::int64_t)> done);
    void ledgerEnd(std::int64_t id, const store::RunEnd& end);
    void ledgerRemove(std::int64_t id);
    void ledgerFind(const store::LedgerQuery& query, QObject* context,
                    std::function<void(Result<std::vector<store::LedgerEntry>>)> done);
    void ledgerUsage(QObject* context, std::function<void(std::vector<store::Ledger::Usage>)> done);

    // Sheets
    [[nodiscard]] std::vector<store::SheetState> takeKeptSheets() { return std::move(keptSheets_); }
    void keepSheet(const store::SheetState& sheet);
    /// Puts a closed sheet away, so that reopenSheet() finds it.
    void closeSheet(const store::SheetState& sheet);
    /// The sheet closed last, if there is one.
    void reopenSheet(QObject* context, std::function<void(std::optional<store::SheetState>)> done);

    /// Tells the user and the log; from any thread.
    void raise(const Error& error);

    /// Waits until everything that was asked for is on disk. Only for the end of the program.
    void flush();

Q_SIGNALS:
    void profilesChanged();
    /// The first time that somebody works with a connection.
    void begun(const QString& profileId);
    void catalogChanged(const QString& profileId);
    /// A reading goes on; catalog() tells where it is.
    void catalogProgressed(const QString& profileId);
    /// A line to a place is open for the first time: who, where, which version.
    void connected(const QString& words);
    void settingsChanged();
    void ledgerChanged();
    /// Something the user must know, such as a file that was kept aside.
    void noticeRaised(const QString& text);

private:
    void watchFiles();
    void keepWindowState();
    void reloadFiles();
    void takeConnections(store::ConnectionList list);
    void forgetRemoved();
    void noteConnections();
    [[nodiscard]] QString greeting(const QString& profileId, const catalog::Catalog& catalog) const;
    [[nodiscard]] QString placeKey(const QString& profileId, const std::string& database) const;
    void forgetCatalogs(const QString& profileId);
    std::shared_ptr<db::Session> catalogSession(const QString& profileId, const std::string& database);
    void noteCatalog(const QString& profileId, const std::string& database, const Result<catalog::CatalogPtr>& result);

    store::Home home_;
    store::ConnectionsFile connectionsFile_;
    store::ConnectionList list_;
    std::vector<db::ConnectionProfile> profiles_;  // those of list_ that are no templates
    std::optional<db::ConnectionProfile> lastRemoved_;
    std::string removedBefore_;  // the id that came after it
    store::Settings settings_;
    store::WindowState windowState_;
    store::WindowState keptWindowState_;  // as the file has it
    QTimer windowStateTimer_;
    std::shared_ptr<data::ResultBudget> budget_;  // also of the thread that moves results
    bool isBudgetLooked_ = false;                 // somebody looks now whether it is kept
    store::AllGridChoices gridChoices_;
    store::ExportPresets exportPresets_;
    store::AllCatalogChoices catalogChoices_;
    QSet<QString> begun_;  // connections that somebody works with since the start
    std::vector<store::SheetState> keptSheets_;
    QHash<QString, CatalogState> catalogs_;  // by placeKey()
    QHash<QString, db::RunHandle> catalogRuns_;
    QHash<QString, sql::CatalogChanges> laterReads_;  // asked for while a reading was on its way
    QHash<QString, std::string> passwords_;
    QHash<QString, std::shared_ptr<db::Session>> catalogSessions_;
    QFileSystemWatcher watcher_;
    QTimer reloadTimer_;
    int changes_ = 0;  // counts what was changed here, so that what was read before it is not taken for newer
    std::unique_ptr<store::Ledger> ledger_;  // the ledger worker's thread only
    std::unique_ptr<base::SerialWorker> ledgerWorker_;
    std::unique_ptr<base::SerialWorker> fileWorker_;  // writes settings and connections, in order
    std::unique_ptr<store::SheetKeeper> sheetKeeper_;
    QTimer retryTimer_;  // of sheets that could not be written
};

}  // namespace pantry::app
