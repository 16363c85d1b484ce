#include "core/work/document_session.h"

#include <chrono>
#include <utility>

#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/db/profile_change.h"
#include "core/db/session_statements.h"
#include "core/work/background.h"
#include "core/work/run_record.h"
#include "core/work/text_reading.h"

namespace pantry::work {

DocumentSession::DocumentSession(const Needs& needs, RunPlace place, Told told)
    : owner_(needs.owner),
      connections_(needs.connections),
      catalogs_(needs.catalogs),
      preferences_(needs.preferences),
      told_(std::move(told)),
      place_(std::move(place)) {
    lead();
}

DocumentSession::~DocumentSession() { destroyInBackground(std::move(session_)); }

/// Looks where the place leads now.
void DocumentSession::lead() {
    there_ = connections_.profileAt(place_.connection, place_.database);
    if (!there_ || place_.schema.empty()) return;
    const std::string statement = db::setSchema(there_->engine, place_.schema);
    if (!statement.empty()) there_->onConnect += (there_->onConnect.empty() ? "" : ";\n") + statement;
}

void DocumentSession::leave() { changeSession(true); }

void DocumentSession::changeSession(bool isElsewhere) {
    isOtherDue_ = isElsewhereDue_ = false;
    destroyInBackground(std::move(session_));
    if (isElsewhere) told_.left();
    note({});
}

/// Whether somebody must end a transaction first, which is said.
bool DocumentSession::holdsOpenChanges() {
    if (!hasOpenChanges()) return false;
    told_.remarked("This sheet has open changes. Commit them or roll them back before it goes elsewhere.");
    return true;
}

bool DocumentSession::goTo(const std::string& connection) {
    if (place_.connection == connection || holdsOpenChanges()) return false;
    place_ = {.connection = connection};
    connections_.beginWith(connection);
    isPasswordRefused_ = false;
    refused_.reset();
    lead();
    leave();
    told_.placeChanged();
    return true;
}

bool DocumentSession::goToDatabase(const std::string& database) {
    const db::ConnectionProfile* own = connections_.profile(place_.connection);
    if (own == nullptr || database == there_->database || holdsOpenChanges()) return false;
    place_.database = database == own->database ? std::string() : database;
    place_.schema.clear();
    connections_.beginWith(place_.connection);
    lead();
    leave();
    told_.placeChanged();
    return true;
}

void DocumentSession::noteConnections() {
    const auto before = there_;
    lead();
    if (before == there_) return;
    const bool isOther = !before || !there_ || db::leadsElsewhere(*before, *there_);
    // What is held back stays so where one only has to be more careful, or less.
    const bool isElsewhere = isOther && (!before || !there_ || !db::isSamePlace(*before, *there_));
    if (isOther && hasOpenChanges()) {
        // The session with the open changes stays until somebody has ended them.
        isOtherDue_ = true;
        isElsewhereDue_ = isElsewhereDue_ || isElsewhere;
        told_.remarked(
            "The connection was changed. This sheet keeps its old connection until its open changes are committed or "
            "rolled back.");
    } else if (isOther) {
        changeSession(isElsewhere);
    }
    told_.placeChanged();
}

RunPlace DocumentSession::placeForAnother() const {
    RunPlace place{.connection = place_.connection, .database = place_.database, .schema = place_.schema};
    const auto catalog = catalogs_.state(place_.connection, place_.database).catalog;
    const std::string current = currentSchema();
    const bool isUsual =
        catalog && !catalog->facts().searchPath.empty() && catalog->facts().searchPath.front() == current;
    if (!current.empty()) place.schema = isUsual ? std::string() : current;
    return place;
}

std::string DocumentSession::currentSchema() const {
    return there_ ? db::currentSchema(there_->engine, state_.connection) : std::string();
}

Origin DocumentSession::origin() const {
    Origin origin{.connectionId = place_.connection, .database = place_.database, .schema = state_.connection.schema};
    if (there_ && !db::isFile(there_->engine) && !state_.connection.database.empty()) {
        const db::ConnectionProfile* own = connections_.profile(place_.connection);
        const bool isOwn = own != nullptr && state_.connection.database == own->database;
        origin.database = isOwn ? std::string() : state_.connection.database;
    }
    return origin;
}

sql::Language DocumentSession::language(const sql::Language& usual) const {
    return there_ ? db::languageOf(there_->engine, state_.connection) : usual;
}

catalog::View DocumentSession::catalogView() const { return knownCatalog().value_or(catalog::View()); }

std::optional<catalog::View> DocumentSession::knownCatalog() const {
    const CatalogState known = catalogs_.state(place_.connection, place_.database);
    if (!known.catalog || !there_) return std::nullopt;
    catalog::View view(known.catalog);
    const std::string first = currentSchema();
    const std::vector<std::string>& usual = view.searchPath();
    if (first.empty() || (!usual.empty() && usual.front() == first)) return view;
    std::vector<std::string> path{first};
    if (!db::traitsOf(there_->engine).schemasAreDatabases) path.insert(path.end(), usual.begin(), usual.end());
    return view.withSearchPath(std::move(path));
}

// ---- Running ----

std::optional<db::HeldBack> DocumentSession::whyHeld(const sql::Statement& statement) const {
    if (!there_ || statement.text().size() > TextReading::kLongestStatement) return std::nullopt;
    return db::heldBack(db::runGuardOf(*there_),
                        {.engine = there_->engine, .connection = state_.connection, .openChanges = state_.openChanges},
                        statement);
}

db::RunRequest DocumentSession::request(const sql::Statement& statement, Consent consent,
                                        std::shared_ptr<db::RunBatch> batch) const {
    db::RunGuard guard = consent == Consent::OnlyIfItReads ? db::onlyReading() : db::runGuardOf(*there_);
    guard.isConfirmed = consent == Consent::Confirmed;
    return {.statement = statement,
            .pageRows = preferences_.settings().pageRows,
            .batch = std::move(batch),
            .guard = guard,
            .guardOfNow = connections_.guardOfNow(place_.connection)};
}

db::Session* DocumentSession::session() {
    if (!there_) return nullptr;
    connections_.beginWith(place_.connection);
    if (!session_) {
        session_ = std::make_unique<db::Session>(*there_, connections_.passwordFor(place_.connection));
        session_->setCommitsByHand(commitsByHand_);
    }
    return session_.get();
}

std::unique_ptr<db::Session> DocumentSession::another() const {
    if (!there_) return nullptr;
    db::ConnectionProfile there = *there_;
    const db::ConnectionState& now = state_.connection;
    if (!now.database.empty() && !db::isFile(there.engine)) there.database = now.database;
    if (!now.schema.empty()) there.onConnect += ";\n" + db::setSchema(there.engine, now.schema);
    return std::make_unique<db::Session>(std::move(there), connections_.passwordFor(place_.connection));
}

store::RunStart DocumentSession::record(const sql::Statement& statement, const std::string& title) const {
    const std::string& schema = state_.connection.schema.empty() ? place_.schema : state_.connection.schema;
    return startRecord(there_.value_or(db::ConnectionProfile{}), statement, title, schema);
}

std::optional<std::string> DocumentSession::ranOnConnect(const db::RunSummary& summary) const {
    const db::ConnectionProfile* own = connections_.profile(place_.connection);
    // The schema of this document is no statement of the user's.
    if (summary.ranOnConnect.empty() || own == nullptr || own->onConnect.empty()) return std::nullopt;
    return own->onConnect;
}

void DocumentSession::note(const db::SessionState& state) {
    state_ = state;
    if (isOtherDue_ && !hasOpenChanges()) return changeSession(isElsewhereDue_);
    told_.changed();
}

void DocumentSession::noteFinished(const sql::Statement& statement) {
    const auto changes = follower_.noteEnd(statement, currentSchema(), state_.connection.transaction);
    if (changes) catalogs_.noteDefined(place_.connection, place_.database, *changes);
}

bool DocumentSession::noteFailed(const Error& error, const db::RunSummary& summary, const sql::Statement& statement,
                                 int attempt) {
    const bool isRefused = error.kind == ErrorKind::Permission && !summary.session.isConnected;
    const bool isOld = attempt != attempts_;  // a password was given while this one was on its way
    if (isRefused && !isOld) {
        isPasswordRefused_ = true;
        if (!statement.text().empty()) refused_ = statement;
    }
    note(summary.session);
    return isRefused && isOld;
}

void DocumentSession::setCommitsByHand(bool byHand) {
    commitsByHand_ = byHand;
    if (session_) session_->setCommitsByHand(byHand);
    told_.changed();
}

// ---- Password ----

bool DocumentSession::wantsPassword() const {
    if (!there_ || db::isFile(there_->engine) || there_->passwordSource != db::PasswordSource::Ask) return false;
    const CatalogState known = catalogs_.state(place_.connection, place_.database);
    const bool isCatalogRefused = !known.catalog && known.error && known.error->kind == ErrorKind::Permission;
    return isPasswordRefused_ || isCatalogRefused;
}

std::optional<sql::Statement> DocumentSession::connectWith(const std::string& password) {
    if (!there_) return std::nullopt;
    connections_.setPassword(*there_, password, [](const Status&) {});
    isPasswordRefused_ = false;
    ++attempts_;
    leave();
    catalogs_.load(place_.connection, place_.database);
    return std::exchange(refused_, std::nullopt);
}

// ---- Meanwhile ----

void DocumentSession::closeIfIdle() {
    if (session_) session_->closeIfIdle(std::chrono::minutes(preferences_.settings().idleMinutes), [](bool) {});
}

void DocumentSession::pollNotices() {
    if (!session_) return;
    session_->pollNotices(
        [this, post = owner_.post, there = whileThere_.there()](const std::vector<db::Notice>& notices) {
            post(there([this, notices] {
                for (const db::Notice& n : notices) told_.remarked(base::toLower(n.severity) + ": " + n.message);
            }));
        });
}

}  // namespace pantry::work
