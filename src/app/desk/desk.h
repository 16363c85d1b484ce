#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QString>
#include <QTimer>

#include "core/work/catalogs.h"
#include "core/work/connections.h"
#include "core/work/documents.h"
#include "core/work/kept_runs.h"
#include "core/work/ledger_keeper.h"
#include "core/work/preferences.h"
#include "core/work/result_memory.h"
#include "core/work/shelf_keeper.h"
#include "core/work/surroundings.h"
#include "core/work/written_before.h"

namespace pantry::app {

/// The application without a window, as the parts of a window see it: what core/work holds, and its news as signals. It
/// lends the window's event loop to what works on other threads.
///
/// Threads: the window's thread; raise() is for any.
class Desk : public QObject {
    Q_OBJECT

public:
    explicit Desk(store::Home home, QObject* parent = nullptr);
    ~Desk() override;

    /// Reads what the first picture of the window needs: settings, connections, kept sheets. Small files, read before
    /// the window shows.
    void open();

    [[nodiscard]] const store::Home& home() const { return around_.home(); }
    /// The window's event loop, for what works elsewhere.
    [[nodiscard]] const work::OwnerThread& owner() const { return around_.owner(); }
    [[nodiscard]] work::Preferences& preferences() { return preferences_; }
    [[nodiscard]] const store::Settings& settings() const { return preferences_.settings(); }
    [[nodiscard]] const store::WindowState& windowState() const { return preferences_.windowState(); }
    [[nodiscard]] work::Connections& connections() { return connections_; }
    [[nodiscard]] const work::Connections& connections() const { return connections_; }
    [[nodiscard]] work::Catalogs& catalogs() { return catalogs_; }
    [[nodiscard]] work::ResultMemory& results() { return results_; }
    [[nodiscard]] work::KeptRuns& keptRuns() { return keptRuns_; }
    [[nodiscard]] work::LedgerKeeper& ledger() { return ledger_; }
    [[nodiscard]] work::ShelfKeeper& shelf() { return shelf_; }
    /// What was written on a connection before.
    [[nodiscard]] work::WrittenBefore& writtenBefore() { return writtenBefore_; }
    [[nodiscard]] work::Documents& documents() { return documents_; }

    /// Tells the user and the log; from any thread.
    void raise(const Error& error);
    /// Waits until everything that was asked for is on disk. Only for the end of the program.
    void flush();

Q_SIGNALS:
    void profilesChanged();
    /// The first time that somebody works with a connection.
    void begun(const QString& profileId);
    void catalogChanged(const QString& profileId);
    /// A reading goes on; the catalog's state tells where it is.
    void catalogProgressed(const QString& profileId);
    /// A connection to a place is open for the first time: who, where, which version.
    void connected(const QString& text);
    void settingsChanged();
    void ledgerChanged();
    /// Queries on the shelves, or the shelves, are other ones.
    void shelfChanged();
    /// Something the user must know, such as a file that was kept aside.
    void noticeRaised(const QString& text);

private:
    void watchFiles();
    void watchShelves();
    void reloadFiles();
    [[nodiscard]] QString greeting(const std::string& connection, const catalog::Catalog& catalog) const;

    work::Surroundings around_;
    work::Preferences preferences_;
    work::Connections connections_;
    work::Catalogs catalogs_;
    work::ResultMemory results_;
    work::KeptRuns keptRuns_;
    work::LedgerKeeper ledger_;
    work::WrittenBefore writtenBefore_;
    work::Documents documents_;
    work::ShelfKeeper shelf_;
    QFileSystemWatcher watcher_;
    QTimer reloadTimer_;
    QFileSystemWatcher shelfWatcher_;
    QTimer shelfTimer_;
    QTimer thinTimer_;  // of the ledger
};

}  // namespace pantry::app
