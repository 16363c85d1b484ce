#include "app/desk/desk.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <spdlog/spdlog.h>

#include <algorithm>
#include <charconv>
#include <future>
#include <iterator>
#include <utility>

#include "app/base/background.h"
#include "app/base/text.h"
#include "core/base/secret_text.h"
#include "core/db/driver.h"
#include "core/db/driver_properties.h"
#include "core/db/places_on_server.h"
#include "core/db/profile_change.h"
#include "core/store/connection_merge.h"
#include "core/store/guard_of_now.h"
#include "core/store/keyring.h"
#include "core/store/passwords.h"

namespace pantry::app {

Desk::Desk(store::Home home, QObject* parent)
    : QObject(parent),
      home_(std::move(home)),
      connectionsFile_(home_.connectionsFile()),
      ledgerWorker_(std::make_unique<base::SerialWorker>()),
      fileWorker_(std::make_unique<base::SerialWorker>()),
      sheetKeeper_(std::make_unique<store::SheetKeeper>(home_.sheetsFolder(), [this](const auto& error) {
          if (error) return raise(*error);
          onWindowThread(this, [this] { Q_EMIT noticeRaised(tr("Everything that was typed is kept again.")); });
      })) {
    constexpr int kRetryMs = 2000;
    retryTimer_.setInterval(kRetryMs);
    connect(&retryTimer_, &QTimer::timeout, this, [this] { sheetKeeper_->retry(); });
    retryTimer_.start();
    constexpr int kKeepWindowStateMs = 1000;
    windowStateTimer_.setSingleShot(true);
    windowStateTimer_.setInterval(kKeepWindowStateMs);
    connect(&windowStateTimer_, &QTimer::timeout, this, &Desk::keepWindowState);
}

Desk::~Desk() {
    for (std::string& password : passwords_) base::wipe(password);
    catalogSessions_.clear();
    forgetRemoved();
    flush();
}

void Desk::flush() {
    keepWindowState();
    ledgerWorker_ = std::make_unique<base::SerialWorker>();  // the old ones finish what they have first
    fileWorker_ = std::make_unique<base::SerialWorker>();
    sheetKeeper_->flush();
}

void Desk::raise(const Error& error) {
    spdlog::warn("{}", error.text());
    onWindowThread(this, [this, text = toQt(error)] { Q_EMIT noticeRaised(text); });
}

void Desk::open() {
    if (Status status = home_.prepare(); !status) raise(status.error());
    if (auto settings = store::loadSettings(home_.settingsFile())) {
        settings_ = settings->settings;
        if (settings->notice) raise(*settings->notice);
    } else {
        raise(settings.error());
    }
    if (auto state = store::loadWindowState(home_.windowFile(), home_.settingsFile())) {
        windowState_ = keptWindowState_ = *state;
    } else {
        raise(state.error());
    }
    budget_ = std::make_shared<data::ResultBudget>(settings_.resultMegabytes << 20, home_.state);
    if (auto presets = store::loadExportPresets(home_.exportsFile())) exportPresets_ = std::move(*presets);
    if (auto choices = store::loadGridChoices(home_.gridChoicesFile())) {
        gridChoices_ = std::move(*choices);
    } else {
        raise(choices.error());
    }
    if (auto list = connectionsFile_.load()) {
        list_ = std::move(*list);
        std::ranges::copy_if(list_.profiles, std::back_inserter(profiles_),
                             [](const db::ConnectionProfile& p) { return !p.isTemplate; });
        if (list_.notice) raise(*list_.notice);
    } else {
        raise(list.error());
    }
    if (auto choices = store::loadCatalogChoices(home_.catalogChoicesFile())) {
        catalogChoices_ = std::move(*choices);
    } else {
        raise(choices.error());
    }
    if (auto sheets = store::SheetStore(home_.sheetsFolder()).takeOver()) {
        keptSheets_ = std::move(*sheets);
    } else {
        raise(sheets.error());
    }
    watchFiles();
    ledgerWorker_->post([this] {
        auto ledger = store::Ledger::open(home_.ledgerFile());
        if (!ledger) return raise(ledger.error());
        ledger_ = std::move(*ledger);
    });
}

// ---- What other windows and programs write ----

/// Files are replaced rather than changed, so the folder is what is watched.
void Desk::watchFiles() {
    constexpr int kRestMs = 120;
    reloadTimer_.setSingleShot(true);
    reloadTimer_.setInterval(kRestMs);
    connect(&reloadTimer_, &QTimer::timeout, this, &Desk::reloadFiles);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, &reloadTimer_, qOverload<>(&QTimer::start));
    watcher_.addPath(toQt(home_.config.string()));
}

/// Behind everything that is still to be written here, so that the files hold our own changes too.
void Desk::reloadFiles() {
    fileWorker_->post([this, changes = changes_] {
        auto list = connectionsFile_.load();
        auto settings = store::loadSettings(home_.settingsFile());
        onWindowThread(this, [this, changes, list = std::move(list), settings = std::move(settings)] {
            if (changes != changes_) return reloadTimer_.start();  // something was changed here meanwhile
            if (settings && settings->settings != settings_) {
                settings_ = settings->settings;
                Q_EMIT settingsChanged();
            }
            if (list) takeConnections(*list);
        });
    });
}

void Desk::takeConnections(store::ConnectionList list) {
    if (list.profiles == list_.profiles && list.groups == list_.groups) return;
    list_ = std::move(list);
    noteConnections();
}

// ---- Connections ----

const db::ConnectionProfile* Desk::profile(const QString& id) const {
    const std::string wanted = fromQt(id);
    for (const auto& p : profiles_) {
        if (p.id == wanted) return &p;
    }
    return nullptr;
}

std::vector<const db::ConnectionProfile*> Desk::profilesByGroup() const {
    std::vector<std::string> groups{std::string()};  // those without a group come first
    for (const store::ConnectionGroup& g : list_.groups) groups.push_back(g.name);
    std::vector<const db::ConnectionProfile*> ordered;
    for (const std::string& group : groups) {
        for (const auto& p : profiles_) {
            if (p.group == group) ordered.push_back(&p);
        }
    }
    return ordered;
}

/// What leads elsewhere now is connected to anew.
void Desk::noteConnections() {
    std::vector<db::ConnectionProfile> before = std::move(profiles_);
    profiles_.clear();
    std::ranges::copy_if(list_.profiles, std::back_inserter(profiles_),
                         [](const db::ConnectionProfile& p) { return !p.isTemplate; });
    for (const db::ConnectionProfile& old : before) {
        const db::ConnectionProfile* now = profile(toQt(old.id));
        if (now == nullptr || db::leadsElsewhere(old, *now)) forgetCatalogs(toQt(old.id));
    }
    Q_EMIT profilesChanged();
}

std::function<std::optional<db::RunGuard>()> Desk::guardOfNow(const QString& profileId) const {
    return store::guardOfNow(home_.connectionsFile(), fromQt(profileId));
}

void Desk::putProfile(const db::ConnectionProfile& wanted, const db::ConnectionProfile& original) {
    changeConnections([this, wanted, original](store::ConnectionList& list) {
        const auto current = std::ranges::find(list.profiles, wanted.id, &db::ConnectionProfile::id);
        if (current == list.profiles.end()) return store::putProfile(list, wanted);
        const store::MergedProfile both = store::merged(original, wanted, *current);
        if (!both.conflicts.empty() && &list != &list_) {
            raise({.kind = ErrorKind::InvalidInput,
                   .message = fmt::format("{} was changed elsewhere meanwhile, too: {}.", wanted.name,
                                          fmt::join(both.conflicts, ", ")),
                   .hint = "What was saved here holds; look whether it is right."});
        }
        store::putProfile(list, both.profile);
    });
}

void Desk::changeConnections(const std::function<void(store::ConnectionList&)>& change) {
    ++changes_;
    change(list_);
    store::complete(list_);
    fileWorker_->post([this, change] {
        const Status status = connectionsFile_.change([&](store::ConnectionList& list) -> Status {
            change(list);
            return {};
        });
        if (!status) raise(status.error());
    });
    noteConnections();
}

void Desk::putProfile(const db::ConnectionProfile& profile) {
    changeConnections([profile](store::ConnectionList& list) { store::putProfile(list, profile); });
}

void Desk::removeProfile(const QString& id) {
    const std::string wanted = fromQt(id);
    const auto found = std::ranges::find(list_.profiles, wanted, &db::ConnectionProfile::id);
    if (found == list_.profiles.end()) return;
    forgetRemoved();
    lastRemoved_ = *found;
    removedBefore_ = found + 1 == list_.profiles.end() ? std::string() : (found + 1)->id;
    changeConnections([wanted](store::ConnectionList& list) {
        std::erase_if(list.profiles, [&](const db::ConnectionProfile& p) { return p.id == wanted; });
    });
}

/// Once a removal cannot be undone any more, the keyring need not hold the password either.
void Desk::forgetRemoved() {
    const auto removed = std::exchange(lastRemoved_, std::nullopt);
    if (!removed || removed->passwordSource != db::PasswordSource::Keyring) return;
    fileWorker_->post([this, id = removed->id] {
        if (const Status status = store::Keyring::forget(id); !status) raise(status.error());
    });
}

void Desk::undoRemoval() {
    if (!lastRemoved_) return;
    const db::ConnectionProfile profile = *std::exchange(lastRemoved_, std::nullopt);
    changeConnections([profile, before = removedBefore_](store::ConnectionList& list) {
        store::putProfile(list, profile);
        store::moveProfile(list, profile.id, profile.group, before);
    });
}

void Desk::findConnections(QObject* context, std::function<void(std::vector<store::FoundConnection>)> done) {
    inBackground(
        base::Work::Network, context, [saved = profiles_] { return store::EngineFiles::ofThisUser().found(saved); },
        std::move(done));
}

void Desk::testProfile(const db::ConnectionProfile& profile, const std::optional<std::string>& password,
                       QObject* context, std::function<void(std::vector<db::TestStage>)> done) {
    inBackground(
        base::Work::Network, context,
        [profile, password]() -> std::vector<db::TestStage> {
            auto driver = db::driverFor(profile.engine);
            if (!driver) return {{.name = "Found a driver", .error = driver.error()}};
            const auto found = store::passwordProvider(password)(profile);
            if (!found) return {{.name = "Found the password", .error = found.error()}};
            return (*driver)->test(profile, *found, {});
        },
        std::move(done));
}

void Desk::listPlaces(const db::ConnectionProfile& profile, const std::optional<std::string>& password,
                      QObject* context, std::function<void(Result<std::vector<std::string>>)> done) {
    inBackground(
        base::Work::Network, context,
        [profile, password]() -> Result<std::vector<std::string>> {
            const auto found = store::passwordProvider(password)(profile);
            if (!found) return found.error();
            return db::placesOnServer(profile, *found, {});
        },
        std::move(done));
}

void Desk::setPassword(const db::ConnectionProfile& profile, const std::string& password, QObject* context,
                       std::function<void(const Status&)> done) {
    const QString id = toQt(profile.id);
    if (passwords_.contains(id)) base::wipe(passwords_[id]);
    if (password.empty()) {
        passwords_.remove(id);
    } else {
        passwords_[id] = password;
    }
    if (password.empty() || profile.passwordSource != db::PasswordSource::Keyring) return done({});
    inBackground(
        base::Work::Network, context,
        [profile, password] { return store::Keyring::keep(profile.id, "Agile Pantry: " + profile.name, password); },
        std::move(done));
}

db::PasswordProvider Desk::passwordFor(const QString& profileId) const {
    const db::ConnectionProfile* p = profile(profileId);
    const db::ConnectionProfile key = db::secretOf(p != nullptr ? *p : db::ConnectionProfile{}, db::kTlsKeyPassword);
    return [own = store::passwordProvider(passwordOf(profileId)), id = key.id,
            secret = passwordOf(toQt(key.id))](const db::ConnectionProfile& wanted) {
        if (secret && wanted.id == id) return Result<std::optional<std::string>>(secret);
        return own(wanted);
    };
}

std::optional<std::string> Desk::passwordOf(const QString& profileId) const {
    const auto found = passwords_.constFind(profileId);
    return found == passwords_.constEnd() ? std::nullopt : std::optional(*found);
}

// ---- Catalogs ----

QString Desk::placeKey(const QString& profileId, const std::string& database) const {
    const db::ConnectionProfile* p = profile(profileId);
    const bool isOwn = database.empty() || (p != nullptr && p->database == database);
    return profileId + QLatin1Char('\n') + (isOwn ? QString() : toQt(database));
}

std::optional<db::ConnectionProfile> Desk::profileAt(const QString& profileId, const std::string& database) const {
    const db::ConnectionProfile* p = profile(profileId);
    if (p == nullptr) return std::nullopt;
    db::ConnectionProfile there = *p;
    if (!database.empty()) there.database = database;
    return there;
}

Desk::CatalogState Desk::catalog(const QString& profileId, const std::string& database) const {
    return catalogs_.value(placeKey(profileId, database));
}

void Desk::forgetCatalogs(const QString& profileId) {
    const QString prefix = profileId + QLatin1Char('\n');
    for (const QString& key : catalogs_.keys()) {
        if (key.startsWith(prefix)) catalogs_.remove(key);
    }
    for (const QString& key : catalogSessions_.keys()) {
        if (key.startsWith(prefix)) destroyInBackground(catalogSessions_.take(key));
    }
}

/// The line that browsing uses, so that it never waits for a query; nullptr when the connection is gone.
std::shared_ptr<db::Session> Desk::catalogSession(const QString& profileId, const std::string& database) {
    const auto there = profileAt(profileId, database);
    if (!there) return nullptr;
    auto& session = catalogSessions_[placeKey(profileId, database)];
    if (!session) session = std::make_shared<db::Session>(*there, passwordFor(profileId));
    return session;
}

void Desk::beginWith(const QString& profileId) {
    if (begun_.contains(profileId)) return;
    begun_.insert(profileId);
    Q_EMIT begun(profileId);
}

bool Desk::hasBegunWith(const QString& profileId) const { return begun_.contains(profileId); }

void Desk::wantCatalog(const QString& profileId, const std::string& database) {
    if (!hasBegunWith(profileId)) return;
    const CatalogState state = catalog(profileId, database);
    if (!state.catalog && !state.isLoading) loadCatalog(profileId, database);
}

void Desk::loadCatalog(const QString& profileId, const std::string& database, const sql::CatalogChanges& changes) {
    const QString key = placeKey(profileId, database);
    if (catalogs_[key].isLoading) {
        // What changed meanwhile may have been read before it changed.
        const auto later = laterReads_.constFind(key);
        laterReads_[key] = later == laterReads_.constEnd() ? changes : sql::together(*later, changes);
        return;
    }
    const auto session = catalogSession(profileId, database);
    if (!session) return;
    catalogs_[key].isLoading = true;
    const auto guard = QPointer<QObject>(this);
    catalog::Request request{.schemas = changes.schemas,
                             .known = catalogs_[key].catalog,
                             .names = changes.names,
                             .withForbidden = catalogChoices(profileId, database).withForbidden};
    request.progress = [this, guard, key, profileId](std::string_view part, std::size_t number, std::size_t all) {
        onWindowThread(guard, [this, key, profileId, part = std::string(part), number, all] {
            catalogs_[key].progress = tr("%1, %2 of %3").arg(toQt(part)).arg(number).arg(all);
            Q_EMIT catalogProgressed(profileId);
        });
    };
    catalogRuns_[key] = session->loadCatalog(
        std::move(request), [this, guard, profileId, database](Result<catalog::CatalogPtr> result) {
            onWindowThread(guard, [this, profileId, database, result = std::move(result)] {
                noteCatalog(profileId, database, result);
            });
        });
    Q_EMIT catalogChanged(profileId);
}

QString Desk::greeting(const QString& profileId, const catalog::Catalog& catalog) const {
    const db::ConnectionProfile* p = profile(profileId);
    if (p == nullptr) return {};
    QString words = tr("Connected to %1: %2").arg(toQt(p->name), toQt(catalog.facts().serverVersion));
    if (!catalog.facts().database.empty()) words += tr(", database %1").arg(toQt(catalog.facts().database));
    if (!p->user.empty()) words += tr(", as %1").arg(toQt(p->user));
    return words;
}

/// A reading that failed leaves the catalog of before, with the reason beside it.
void Desk::noteCatalog(const QString& profileId, const std::string& database,
                       const Result<catalog::CatalogPtr>& result) {
    const QString key = placeKey(profileId, database);
    CatalogState& state = catalogs_[key];
    state.isLoading = false;
    state.progress.clear();
    state.error = result ? std::nullopt : std::optional<Error>(result.error());
    if (result) {
        const bool isFirst = state.catalog == nullptr;
        state.catalog = *result;
        if (isFirst) Q_EMIT connected(greeting(profileId, **result));
    } else {
        destroyInBackground(catalogSessions_.take(key));  // the next try begins with a fresh line
    }
    catalogRuns_.remove(key);
    Q_EMIT catalogChanged(profileId);
    if (!laterReads_.contains(key)) return;
    const sql::CatalogChanges later = laterReads_.take(key);
    // What failed was perhaps refused for a password that was given meanwhile: it is read anew, and whole.
    loadCatalog(profileId, database, result ? later : sql::CatalogChanges{});
}

void Desk::stopCatalog(const QString& profileId, const std::string& database) {
    catalogRuns_.value(placeKey(profileId, database)).cancel();
}

void Desk::readDefinition(const QString& profileId, const std::string& database, const catalog::ObjectName& object,
                          QObject* context, std::function<void(Result<catalog::Definition>)> done) {
    const auto session = catalogSession(profileId, database);
    if (!session) return;
    session->readDefinition(object, [guard = QPointer<QObject>(context), done = std::move(done)](auto definition) {
        onWindowThread(guard, [done, definition = std::move(definition)] { done(definition); });
    });
}

catalog::Choices Desk::catalogChoices(const QString& profileId, const std::string& database) const {
    const auto found = catalogChoices_.find(fromQt(placeKey(profileId, database)));
    return found == catalogChoices_.end() ? catalog::Choices{} : found->second;
}

void Desk::changeCatalogChoices(const QString& profileId, const std::string& database,
                                const std::function<void(catalog::Choices&)>& change) {
    const std::string place = fromQt(placeKey(profileId, database));
    catalog::Choices& choices = catalogChoices_[place];
    const catalog::Choices before = choices;
    change(choices);
    if (choices == before) return;
    fileWorker_->post([this, place, choices] {
        const auto file = home_.catalogChoicesFile();
        if (Status status = store::saveCatalogChoices(file, place, choices); !status) raise(status.error());
    });
    Q_EMIT catalogChanged(profileId);
}

namespace {

constexpr int kReadPatienceMs = 5000;

/// Hands a run's rows on once, when they are all there.
class RowsObserver final : public db::RunObserver {
public:
    using Done = std::function<void(const Result<data::ResultSetPtr>&)>;
    explicit RowsObserver(Done done) : done_(std::move(done)) {}
    void started(base::Moment /*when*/) override {}
    void columns(data::ResultSetPtr result) override { result_ = std::move(result); }
    void rows(std::size_t /*rowCount*/) override {}
    void notice(const db::Notice& /*notice*/) override {}
    void paused(std::size_t /*rowCount*/) override {
        if (done_) std::exchange(done_, {})(result_);
    }
    void finished(const db::RunSummary& /*summary*/) override {
        if (done_) std::exchange(done_, {})(result_);
    }
    void failed(const Error& error, const db::RunSummary& /*summary*/) override {
        if (done_) std::exchange(done_, {})(error);
    }

private:
    Done done_;
    data::ResultSetPtr result_;
};

Result<std::int64_t> firstNumber(const Result<data::ResultSetPtr>& rows) {
    if (!rows) return rows.error();
    const bool isThere = *rows && (*rows)->rowCount() > 0 && !(*rows)->columns().empty();
    std::int64_t number = 0;
    const std::string text = isThere ? data::toText((*rows)->cell(0, 0)) : std::string();
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), number);
    if (code == std::errc() && !text.empty()) return number;
    return Error{.kind = ErrorKind::Statement, .message = "The server did not answer with a number."};
}

}  // namespace

void Desk::readRows(const QString& profileId, const std::string& database, const std::string& query, std::size_t most,
                    QObject* context, std::function<void(Result<data::ResultSetPtr>)> done) {
    const auto session = catalogSession(profileId, database);
    if (!session) return;
    const auto handle = std::make_shared<db::RunHandle>();
    const auto observer =
        std::make_shared<RowsObserver>([this, handle, guard = QPointer<QObject>(context),
                                        done = std::move(done)](const Result<data::ResultSetPtr>& rows) {
            // A reading that only paused would hold its locks.
            onWindowThread(this, [handle] { handle->endIfPaused(); });
            onWindowThread(guard, [done, rows] { done(rows); });
        });
    *handle = session->execute({.statement = query, .pageRows = most, .guard = db::onlyReading()}, observer);
    QTimer::singleShot(kReadPatienceMs, this, [handle] { handle->cancel(); });
}

void Desk::countRows(const QString& profileId, const std::string& database, const std::string& query, QObject* context,
                     std::function<void(Result<std::int64_t>)> done) {
    readRows(profileId, database, query, 1, context,
             [done = std::move(done)](const Result<data::ResultSetPtr>& rows) { done(firstNumber(rows)); });
}

// ---- Settings ----

void Desk::changeSettings(const std::function<void(store::Settings&)>& change) {
    const store::Settings before = settings_;
    change(settings_);
    if (settings_ == before) return;
    ++changes_;
    fileWorker_->post([this, settings = settings_, before] {
        const Status status = store::saveSettings(home_.settingsFile(), settings, before);
        if (!status) raise(status.error());
    });
    Q_EMIT settingsChanged();
}

void Desk::changeWindowState(const std::function<void(store::WindowState&)>& change) {
    change(windowState_);
    if (windowState_ != keptWindowState_ && !windowStateTimer_.isActive()) windowStateTimer_.start();
}

void Desk::keepWindowState() {
    windowStateTimer_.stop();
    if (windowState_ == keptWindowState_) return;
    fileWorker_->post([this, file = home_.windowFile(), state = windowState_, before = keptWindowState_] {
        if (const Status status = store::saveWindowState(file, state, before); !status) raise(status.error());
    });
    keptWindowState_ = windowState_;
}

// ---- Ledger ----

void Desk::keepResult(const data::ResultSetPtr& result, bool isPinned) {
    budget_->add(result);
    if (isPinned) budget_->setPinned(result.get(), true);
}

void Desk::pinResult(const data::ResultSetPtr& result, bool isPinned) { budget_->setPinned(result.get(), isPinned); }

void Desk::noteResultUse(const data::ResultSetPtr& result) { budget_->noteUse(result.get()); }

void Desk::keepWithinBudget() {
    if (std::exchange(isBudgetLooked_, true)) return;  // the one on its way sees what is there then
    inBackground(
        base::Work::Long, this, [budget = budget_] { return budget->enforce(); },
        [this](const Status& status) {
            isBudgetLooked_ = false;
            if (!status) raise(status.error());
        });
}

data::GridChoices Desk::gridChoices(const std::string& key) const {
    const auto found = gridChoices_.find(key);
    return found == gridChoices_.end() ? data::GridChoices{} : found->second;
}

void Desk::changeGridChoices(const std::string& key, const data::GridChoices& choices) {
    if (gridChoices(key) == choices) return;
    gridChoices_[key] = choices;
    fileWorker_->post([this, file = home_.gridChoicesFile(), key, choices] {
        if (const Status status = store::saveGridChoices(file, key, choices); !status) raise(status.error());
    });
}

void Desk::noteExport(const exchange::ExportChoices& choices, const std::string& folder) {
    if (!folder.empty()) exportPresets_.folder = folder;
    exportPresets_.lastFormat = choices.format;
    exportPresets_.lastUsed[choices.format] = choices;
    fileWorker_->post([this, file = home_.exportsFile(), choices, folder] {
        if (const Status status = store::saveLastExport(file, choices, folder); !status) raise(status.error());
    });
}

void Desk::putExportPreset(const store::ExportPreset& preset) {
    auto& named = exportPresets_.named;
    std::erase_if(named, [&](const auto& other) { return other.name == preset.name; });
    named.insert(std::ranges::upper_bound(named, preset.name, {}, &store::ExportPreset::name), preset);
    fileWorker_->post([this, file = home_.exportsFile(), preset] {
        if (const Status status = store::saveExportPreset(file, preset); !status) raise(status.error());
    });
}

void Desk::removeExportPreset(const std::string& name) {
    std::erase_if(exportPresets_.named, [&](const auto& preset) { return preset.name == name; });
    fileWorker_->post([this, file = home_.exportsFile(), name] {
        if (const Status status = store::removeExportPreset(file, name); !status) raise(status.error());
    });
}

void Desk::ledgerStart(const store::RunStart& run, base::Moment when, std::function<void(std::int64_t)> done) {
    ledgerWorker_->post([this, run, when, done = std::move(done)] {
        std::int64_t id = 0;
        if (ledger_) {
            auto started = ledger_->start(run, when);
            if (!started) raise(started.error());
            id = started.value_or(0);
        }
        onWindowThread(this, [this, id, done] {
            done(id);
            Q_EMIT ledgerChanged();
        });
    });
}

void Desk::ledgerEnd(std::int64_t id, const store::RunEnd& end) {
    if (id == 0) return;
    ledgerWorker_->post([this, id, end] {
        if (!ledger_) return;
        if (Status status = ledger_->end(id, end); !status) raise(status.error());
        onWindowThread(this, [this] { Q_EMIT ledgerChanged(); });
    });
}

void Desk::ledgerRemove(std::int64_t id) {
    ledgerWorker_->post([this, id] {
        if (!ledger_) return;
        if (Status status = ledger_->remove(id); !status) raise(status.error());
        onWindowThread(this, [this] { Q_EMIT ledgerChanged(); });
    });
}

void Desk::ledgerFind(const store::LedgerQuery& query, QObject* context,
                      std::function<void(Result<std::vector<store::LedgerEntry>>)> done) {
    ledgerWorker_->post([this, query, guard = QPointer<QObject>(context), done = std::move(done)] {
        Result<std::vector<store::LedgerEntry>> entries = std::vector<store::LedgerEntry>{};
        if (ledger_) entries = ledger_->find(query);
        onWindowThread(guard, [done, entries = std::move(entries)]() mutable { done(std::move(entries)); });
    });
}

void Desk::ledgerUsage(QObject* context, std::function<void(std::vector<store::Ledger::Usage>)> done) {
    ledgerWorker_->post([this, guard = QPointer<QObject>(context), done = std::move(done)] {
        std::vector<store::Ledger::Usage> usage;
        if (ledger_) usage = ledger_->usage().value_or(std::vector<store::Ledger::Usage>{});
        onWindowThread(guard, [done, usage = std::move(usage)] { done(usage); });
    });
}

// ---- Sheets ----

void Desk::keepSheet(const store::SheetState& sheet) { sheetKeeper_->keep(sheet); }

void Desk::closeSheet(const store::SheetState& sheet) {
    sheetKeeper_->close(sheet, [this](const Status& status) {
        if (!status) raise(status.error());
    });
}

void Desk::reopenSheet(QObject* context, std::function<void(std::optional<store::SheetState>)> done) {
    sheetKeeper_->reopenLast([this, guard = QPointer<QObject>(context), done = std::move(done)](auto sheet) {
        if (!sheet) raise(sheet.error());
        onWindowThread(guard, [done, sheet = sheet.value_or(std::optional<store::SheetState>())] { done(sheet); });
    });
}

}  // namespace pantry::app
