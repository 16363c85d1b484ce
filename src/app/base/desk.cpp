#include "app/base/desk.h"

#include <spdlog/spdlog.h>

#include <future>

#include "app/base/background.h"
#include "app/base/text.h"
#include "core/db/driver.h"

namespace pantry::app {

Desk::Desk(workspace::Home home, QObject* parent)
    : QObject(parent),
      home_(std::move(home)),
      connectionsFile_(home_.connectionsFile()),
      sheetStore_(home_.sheetsFolder()),
      ledgerWorker_(std::make_unique<base::SerialWorker>()),
      fileWorker_(std::make_unique<base::SerialWorker>()) {}

Desk::~Desk() {
    catalogSessions_.clear();
    flush();
}

void Desk::flush() {
    ledgerWorker_ = std::make_unique<base::SerialWorker>();  // the old ones finish what they have first
    fileWorker_ = std::make_unique<base::SerialWorker>();
}

void Desk::raise(const Error& error) {
    spdlog::warn("{}", error.text());
    onWindowThread(this, [this, text = toQt(error)] { Q_EMIT noticeRaised(text); });
}

void Desk::open() {
    if (Status status = home_.prepare(); !status) raise(status.error());
    if (auto settings = workspace::loadSettings(home_.settingsFile())) {
        settings_ = settings->settings;
        if (settings->notice) raise(*settings->notice);
    } else {
        raise(settings.error());
    }
    if (auto list = connectionsFile_.load()) {
        profiles_ = std::move(list->profiles);
        if (list->notice) raise(*list->notice);
    } else {
        raise(list.error());
    }
    if (auto sheets = sheetStore_.takeOver()) {
        keptSheets_ = std::move(*sheets);
    } else {
        raise(sheets.error());
    }
    ledgerWorker_->post([this] {
        auto ledger = workspace::Ledger::open(home_.ledgerFile());
        if (!ledger) return raise(ledger.error());
        ledger_ = std::move(*ledger);
    });
}

// ---- Connections ----

const db::ConnectionProfile* Desk::profile(const QString& id) const {
    const std::string wanted = fromQt(id);
    for (const auto& p : profiles_) {
        if (p.id == wanted) return &p;
    }
    return nullptr;
}

void Desk::putProfile(const db::ConnectionProfile& profile) {
    bool isNew = true;
    for (auto& p : profiles_) {
        if (p.id != profile.id) continue;
        p = profile;
        isNew = false;
    }
    if (isNew) profiles_.push_back(profile);
    const QString id = toQt(profile.id);
    catalogs_.remove(id);
    destroyInBackground(catalogSessions_.take(id));
    fileWorker_->post([this, profile] {
        if (Status status = connectionsFile_.put(profile); !status) raise(status.error());
    });
    Q_EMIT profilesChanged();
}

void Desk::removeProfile(const QString& id) {
    std::erase_if(profiles_, [wanted = fromQt(id)](const auto& p) { return p.id == wanted; });
    catalogs_.remove(id);
    destroyInBackground(catalogSessions_.take(id));
    fileWorker_->post([this, wanted = fromQt(id)] {
        if (Status status = connectionsFile_.remove(wanted); !status) raise(status.error());
    });
    Q_EMIT profilesChanged();
}

void Desk::testProfile(const db::ConnectionProfile& profile, const std::optional<std::string>& password,
                       QObject* context, std::function<void(std::vector<db::TestStage>)> done) {
    inBackground(
        context,
        [profile, password]() -> std::vector<db::TestStage> {
            auto driver = db::driverFor(profile.engine);
            if (!driver) return {{.name = "Found a driver", .error = driver.error()}};
            return (*driver)->test(profile, password, {});
        },
        std::move(done));
}

void Desk::setPassword(const QString& profileId, const std::string& password) {
    if (password.empty()) {
        passwords_.remove(profileId);
    } else {
        passwords_[profileId] = password;
    }
}

std::optional<std::string> Desk::passwordOf(const QString& profileId) const {
    const auto found = passwords_.constFind(profileId);
    return found == passwords_.constEnd() ? std::nullopt : std::optional(*found);
}

// ---- Catalogs ----

Desk::CatalogState Desk::catalog(const QString& profileId) const { return catalogs_.value(profileId); }

void Desk::loadCatalog(const QString& profileId) {
    const db::ConnectionProfile* p = profile(profileId);
    if (p == nullptr || catalogs_[profileId].isLoading) return;
    catalogs_[profileId].isLoading = true;
    auto& session = catalogSessions_[profileId];
    if (!session) session = std::make_shared<db::Session>(*p, passwordOf(profileId));
    session->loadCatalog([this, guard = QPointer<QObject>(this), profileId](Result<db::CatalogPtr> result) {
        onWindowThread(guard, [this, profileId, result = std::move(result)] {
            CatalogState& state = catalogs_[profileId];
            state.isLoading = false;
            state.error = result ? std::nullopt : std::optional<Error>(result.error());
            if (result) {
                state.catalog = *result;
            } else {
                state.catalog.reset();
                destroyInBackground(catalogSessions_.take(profileId));  // the next try begins with a fresh line
            }
            Q_EMIT catalogChanged(profileId);
        });
    });
    Q_EMIT catalogChanged(profileId);
}

namespace {

/// Waits for the one number of a query.
class CountObserver final : public db::RunObserver {
public:
    using Done = std::function<void(Result<std::int64_t>)>;
    explicit CountObserver(Done done) : done_(std::move(done)) {}
    void started(base::Moment) override {}
    void columns(data::ResultSetPtr result) override { result_ = std::move(result); }
    void rows(std::size_t) override {}
    void notice(const db::Notice&) override {}
    void paused(std::size_t) override {}
    void finished(const db::RunSummary&) override {
        const bool hasNumber = result_ && result_->rowCount() == 1 && !result_->columns().empty();
        done_(hasNumber ? Result<std::int64_t>(result_->cell(0, 0).integer)
                        : Result<std::int64_t>(Error{.message = "The server gave no number."}));
    }
    void failed(const Error& error, const db::RunSummary&) override {
        Error told = error;
        if (error.kind == ErrorKind::Cancelled) told.message = "Counting took too long.";
        done_(told);
    }

private:
    Done done_;
    data::ResultSetPtr result_;
};

}  // namespace

void Desk::countRows(const QString& profileId, const std::string& query, QObject* context,
                     std::function<void(Result<std::int64_t>)> done) {
    constexpr int kPatienceMs = 5000;
    const db::ConnectionProfile* p = profile(profileId);
    if (p == nullptr) return;
    auto& session = catalogSessions_[profileId];
    if (!session) session = std::make_shared<db::Session>(*p, passwordOf(profileId));
    const auto observer = std::make_shared<CountObserver>(
        [guard = QPointer<QObject>(context), done = std::move(done)](const Result<std::int64_t>& rows) {
            onWindowThread(guard, [done, rows] { done(rows); });
        });
    const db::RunHandle handle = session->execute({.statement = query, .pageRows = std::nullopt}, observer);
    QTimer::singleShot(kPatienceMs, this, [handle] { handle.cancel(); });
}

// ---- Settings ----

void Desk::changeSettings(const std::function<void(workspace::Settings&)>& change) {
    const workspace::Settings before = settings_;
    change(settings_);
    if (settings_ == before) return;
    fileWorker_->post([this, settings = settings_] {
        if (Status status = workspace::saveSettings(home_.settingsFile(), settings); !status) raise(status.error());
    });
    Q_EMIT settingsChanged();
}

// ---- Ledger ----

void Desk::ledgerStart(const workspace::RunStart& run, base::Moment when, std::function<void(std::int64_t)> done) {
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

void Desk::ledgerEnd(std::int64_t id, const workspace::RunEnd& end) {
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

void Desk::ledgerFind(const workspace::LedgerQuery& query, QObject* context,
                      std::function<void(Result<std::vector<workspace::LedgerEntry>>)> done) {
    ledgerWorker_->post([this, query, guard = QPointer<QObject>(context), done = std::move(done)] {
        Result<std::vector<workspace::LedgerEntry>> entries = std::vector<workspace::LedgerEntry>{};
        if (ledger_) entries = ledger_->find(query);
        onWindowThread(guard, [done, entries = std::move(entries)]() mutable { done(std::move(entries)); });
    });
}

void Desk::ledgerUsage(QObject* context, std::function<void(std::vector<workspace::Ledger::Usage>)> done) {
    ledgerWorker_->post([this, guard = QPointer<QObject>(context), done = std::move(done)] {
        std::vector<workspace::Ledger::Usage> usage;
        if (ledger_) usage = ledger_->usage().value_or(std::vector<workspace::Ledger::Usage>{});
        onWindowThread(guard, [done, usage = std::move(usage)] { done(usage); });
    });
}

// ---- Sheets ----

void Desk::keepSheet(const workspace::SheetState& sheet) {
    fileWorker_->post([this, sheet] {
        if (Status status = sheetStore_.save(sheet); !status) raise(status.error());
    });
}

void Desk::closeSheet(const workspace::SheetState& sheet) {
    fileWorker_->post([this, sheet] {
        if (Status status = sheetStore_.close(sheet); !status) raise(status.error());
    });
}

void Desk::reopenSheet(QObject* context, std::function<void(std::optional<workspace::SheetState>)> done) {
    fileWorker_->post([this, guard = QPointer<QObject>(context), done = std::move(done)] {
        auto sheet = sheetStore_.reopenLast();
        if (!sheet) raise(sheet.error());
        onWindowThread(guard, [done, sheet = sheet.value_or(std::optional<workspace::SheetState>())] { done(sheet); });
    });
}

}  // namespace pantry::app
