#include "app/desk/desk.h"

#include <algorithm>

#include <utility>

#include "app/base/background.h"
#include "app/base/text.h"
#include "core/store/defined_file.h"
#include "core/store/log.h"

namespace pantry::app {
namespace {

/// The window's event loop as what works elsewhere sees it.
work::OwnerThread eventLoop(QObject* context) {
    return {.post = [there = QPointer<QObject>(context)](
                        std::function<void()> job) { onWindowThread(there, std::move(job)); },
            .postAfter =
                [there = QPointer<QObject>(context)](std::chrono::milliseconds delay, std::function<void()> job) {
                    onWindowThread(
                        there, [there, delay, job = std::move(job)] { QTimer::singleShot(delay, there.data(), job); });
                }};
}

}  // namespace

Desk::Desk(store::Home home, QObject* parent)
    : QObject(parent),
      around_(std::move(home), eventLoop(this), [this](const Error& error) { raise(error); }),
      preferences_(around_, [this] { Q_EMIT settingsChanged(); }),
      connections_(around_, {.changed = [this] { Q_EMIT profilesChanged(); },
                             .ledElsewhere = [this](const std::string& id) { catalogs_.forget(id); },
                             .begun = [this](const std::string& id) { Q_EMIT begun(toQt(id)); }}),
      catalogs_(around_, connections_,
                {.changed = [this](const std::string& id) { Q_EMIT catalogChanged(toQt(id)); },
                 .progressed = [this](const std::string& id) { Q_EMIT catalogProgressed(toQt(id)); },
                 .connected = [this](const std::string& id,
                                     const auto& catalog) { Q_EMIT connected(greeting(id, catalog)); }}),
      results_(around_),
      keptRuns_(around_),
      ledger_(around_,
              [this] {
                  writtenBefore_.forget();
                  Q_EMIT ledgerChanged();
              }),
      writtenBefore_(around_.owner(), ledger_),
      documents_(around_, [this] { Q_EMIT noticeRaised(tr("Everything that was typed is kept again.")); }),
      shelf_(around_, [this] {
          watchShelves();
          Q_EMIT shelfChanged();
      }) {}

Desk::~Desk() { flush(); }

void Desk::flush() {
    preferences_.keepWindowState();
    ledger_.flush();
    shelf_.flush();
    around_.flush();
    documents_.flush();
    keptRuns_.flush();
}

void Desk::raise(const Error& error) {
    store::log(store::LogLevel::Warning, error.text());
    onWindowThread(this, [this, text = toQt(error)] { Q_EMIT noticeRaised(text); });
}

void Desk::open() {
    if (const Status status = home().prepare(); !status) raise(status.error());
    preferences_.open();
    results_.open(settings().resultMegabytes << 20);
    keptRuns_.setKeepsRows(settings().keepsRows);
    connect(this, &Desk::settingsChanged, this, [this] { keptRuns_.setKeepsRows(settings().keepsRows); });
    connections_.open();
    catalogs_.open();
    documents_.open();
    watchFiles();
    ledger_.open();
    // Not while somebody waits for the first picture; then now and then.
    constexpr auto kFirst = std::chrono::minutes(1);
    constexpr auto kEach = std::chrono::hours(6);
    thinTimer_.setInterval(kFirst);
    connect(&thinTimer_, &QTimer::timeout, this, [this, kEach] {
        ledger_.thin(settings().ledgerDays, settings().ledgerRuns);
        keptRuns_.tidy();
        thinTimer_.setInterval(kEach);
    });
    thinTimer_.start();
}

/// What other windows and programs write: files are replaced rather than changed, so the folder is what is watched.
void Desk::watchFiles() {
    constexpr int kDebounceMs = 120;
    reloadTimer_.setSingleShot(true);
    reloadTimer_.setInterval(kDebounceMs);
    connect(&reloadTimer_, &QTimer::timeout, this, &Desk::reloadFiles);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, &reloadTimer_, qOverload<>(&QTimer::start));
    watcher_.addPath(toQt(home().config.string()));
    shelfTimer_.setSingleShot(true);
    shelfTimer_.setInterval(kDebounceMs);
    connect(&shelfTimer_, &QTimer::timeout, this, [this] { shelf_.refresh(); });
    connect(&shelfWatcher_, &QFileSystemWatcher::directoryChanged, &shelfTimer_, qOverload<>(&QTimer::start));
    connect(&shelfWatcher_, &QFileSystemWatcher::fileChanged, &shelfTimer_, qOverload<>(&QTimer::start));
}

/// What other programs do on the shelves. Folders tell of files that come, go and are replaced; files of those that are
/// written in place, as far as there are not too many of them to watch. What came into a folder between the reading and
/// the watching is seen by reading once more.
void Desk::watchShelves() {
    constexpr qsizetype kMax = 1000;
    QSet<QString> paths;
    for (const work::ShelfInfo& info : shelf_.shelves()) {
        for (const std::filesystem::path& folder : info.folders)
            if (paths.size() < kMax) paths.insert(toQt(folder.string()));
    }
    const qsizetype folders = paths.size();
    for (const work::ShelvedQuery& one : shelf_.queries()) {
        if (paths.size() - folders >= kMax) break;
        paths.insert(toQt(shelf_.fileOf(one.place).string()));
    }
    const QStringList watchedFolders = shelfWatcher_.directories();
    QStringList gone = shelfWatcher_.files() + watchedFolders;
    gone.removeIf([&](const QString& path) { return paths.remove(path); });
    if (!gone.isEmpty()) shelfWatcher_.removePaths(gone);
    if (!paths.isEmpty()) shelfWatcher_.addPaths(paths.values());
    const QStringList now = shelfWatcher_.directories();
    const bool isOneNew = std::ranges::any_of(now, [&](const QString& one) { return !watchedFolders.contains(one); });
    if (isOneNew) shelfTimer_.start();
}

/// Behind everything that is still to be written here, so that the files hold our own changes too.
void Desk::reloadFiles() {
    around_.behindWrites([this, changes = around_.changes()] {
        auto list = connections_.load();
        auto settings = store::loadSettings(home().settingsFile());
        auto defined = store::loadDefined(home().definedFile());
        onWindowThread(this, [this, changes, list = std::move(list), settings = std::move(settings),
                              defined = std::move(defined)] {
            if (defined) catalogs_.takeDefined(*defined);
            if (changes != around_.changes()) return reloadTimer_.start();  // something was changed here meanwhile
            if (settings) preferences_.take(settings->settings);
            if (list) connections_.take(*list);
        });
    });
}

QString Desk::greeting(const std::string& connection, const catalog::Catalog& catalog) const {
    const db::ConnectionProfile* p = connections_.profile(connection);
    if (p == nullptr) return {};
    QString text = tr("Connected to %1: %2").arg(toQt(p->name), toQt(catalog.facts().serverVersion));
    if (!catalog.facts().database.empty()) text += tr(", database %1").arg(toQt(catalog.facts().database));
    if (!p->user.empty()) text += tr(", as %1").arg(toQt(p->user));
    return text;
}

}  // namespace pantry::app

#include "moc_desk.cpp"
