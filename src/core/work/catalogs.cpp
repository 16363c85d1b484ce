#include "core/work/catalogs.h"

#include <charconv>
#include <chrono>
#include <set>
#include <system_error>
#include <utility>

#include "core/db/engine_traits.h"
#include "core/db/guard.h"
#include "core/sql/write/names.h"
#include "core/store/process_identity.h"
#include "core/work/background.h"
#include "core/work/scripts.h"

namespace pantry::work {
namespace {

constexpr std::chrono::seconds kReadTimeout{5};

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

Catalogs::Catalogs(Surroundings& around, Connections& connections, Told told)
    : around_(around), connections_(connections), told_(std::move(told)) {}

void Catalogs::open() {
    if (auto choices = store::loadCatalogChoices(around_.home().catalogChoicesFile())) {
        choices_ = std::move(*choices);
    } else {
        around_.raise(choices.error());
    }
}

Catalogs::Place Catalogs::placeOf(const std::string& connection, const std::string& database) const {
    const db::ConnectionProfile* p = connections_.profile(connection);
    const bool isOwn = p != nullptr && p->database == database;
    return {connection, isOwn ? std::string() : database};
}

CatalogState Catalogs::state(const std::string& connection, const std::string& database) const {
    const auto found = states_.find(placeOf(connection, database));
    return found == states_.end() ? CatalogState{} : found->second;
}

void Catalogs::forget(const std::string& connection) {
    const auto isOfIt = [&](const auto& entry) { return entry.first.first == connection; };
    std::erase_if(states_, isOfIt);
    std::erase_if(sources_, isOfIt);
    for (auto& [place, session] : sessions_) {
        if (place.first == connection) destroyInBackground(std::move(session));
    }
    std::erase_if(sessions_, isOfIt);
}

/// The connection that browsing uses; nullptr when the connection is gone.
std::shared_ptr<db::Session> Catalogs::sessionAt(const std::string& connection, const std::string& database) {
    const auto there = connections_.profileAt(connection, database);
    if (!there) return nullptr;
    auto& session = sessions_[placeOf(connection, database)];
    if (!session) session = std::make_shared<db::Session>(*there, connections_.passwordFor(connection));
    return session;
}

void Catalogs::want(const std::string& connection, const std::string& database) {
    if (!connections_.hasBegunWith(connection)) return;
    const CatalogState known = state(connection, database);
    if (!known.catalog && !known.isLoading) load(connection, database);
}

void Catalogs::load(const std::string& connection, const std::string& database, const sql::CatalogChanges& changes) {
    const Place place = placeOf(connection, database);
    if (states_[place].isLoading) {
        // What changed meanwhile may have been read before it changed.
        const auto later = laterReads_.find(place);
        laterReads_[place] = later == laterReads_.end() ? changes : sql::together(later->second, changes);
        return;
    }
    const auto session = sessionAt(connection, database);
    if (!session) return;
    CatalogState& state = states_[place];
    state.isLoading = true;
    catalog::Request request{.schemas = changes.schemas,
                             .known = state.catalog,
                             .names = changes.names,
                             .withForbidden = choices(connection, database).withForbidden};
    request.progress = [this, post = around_.owner().post, there = whileThere_.there(), place](
                           std::string_view part, std::size_t number, std::size_t all) {
        post(there([this, place, progress = CatalogProgress{std::string(part), number, all}] {
            states_[place].progress = progress;
            told_.progressed(place.first);
        }));
    };
    runs_[place] =
        session->loadCatalog(std::move(request), [this, post = around_.owner().post, there = whileThere_.there(),
                                                  connection, database](Result<catalog::CatalogPtr> result) {
            post(there(
                [this, connection, database, result = std::move(result)] { noteRead(connection, database, result); }));
        });
    told_.changed(connection);
}

bool Catalogs::isKnown(const std::string& connection, const std::string& database) const {
    const CatalogState known = state(connection, database);
    return known.catalog || known.isLoading || known.error;
}

void Catalogs::noteDefined(const std::string& connection, const std::string& database,
                           const sql::CatalogChanges& changes) {
    if (isKnown(connection, database)) load(connection, database, changes);
    if (connections_.profile(connection) == nullptr) return;
    const store::DefinedPlace place{
        .connection = connection, .database = database, .process = store::thisProcess(), .at = base::now()};
    around_.write([file = around_.home().definedFile(), place] { return store::addDefined(file, place); });
}

void Catalogs::takeDefined(const std::vector<store::DefinedPlace>& places) {
    std::set<Place> changed;
    base::Moment newest = takenAt_;
    for (const store::DefinedPlace& one : places) {
        newest = std::max(newest, one.at);
        const bool isNew = one.at > takenAt_ && one.process != store::thisProcess();
        if (isNew && isKnown(one.connection, one.database)) changed.insert(placeOf(one.connection, one.database));
    }
    takenAt_ = newest;
    for (const auto& [connection, database] : changed) load(connection, database);
}

/// A reading that failed leaves the catalog of before, with the reason beside it.
void Catalogs::noteRead(const std::string& connection, const std::string& database,
                        const Result<catalog::CatalogPtr>& result) {
    const Place place = placeOf(connection, database);
    CatalogState& state = states_[place];
    state.isLoading = false;
    state.progress.reset();
    state.error = result ? std::nullopt : std::optional<Error>(result.error());
    if (result) {
        const bool isFirst = state.catalog == nullptr;
        if (!isFirst) {
            changeChoices(connection, database, [before = state.catalog, &result](catalog::Choices& choices) {
                catalog::followRenames(choices, *before, **result);
            });
        }
        state.catalog = *result;
        state.readAt = base::now();
        sources_.erase(place);
        if (isFirst) told_.connected(connection, **result);
    } else if (const auto session = sessions_.extract(place)) {
        destroyInBackground(std::move(session.mapped()));  // the next try begins with a fresh line
    }
    runs_.erase(place);
    told_.changed(connection);
    const auto later = laterReads_.extract(place);
    // What failed was perhaps refused for a password that was given meanwhile: it is read anew, and whole.
    if (later) load(connection, database, result ? later.mapped() : sql::CatalogChanges{});
}

void Catalogs::stop(const std::string& connection, const std::string& database) {
    if (const auto run = runs_.find(placeOf(connection, database)); run != runs_.end()) run->second.cancel();
}

catalog::Choices Catalogs::choices(const std::string& connection, const std::string& database) const {
    const auto [id, place] = placeOf(connection, database);
    const auto found = choices_.find(id + "\n" + place);
    return found == choices_.end() ? catalog::Choices{} : found->second;
}

void Catalogs::changeChoices(const std::string& connection, const std::string& database,
                             const std::function<void(catalog::Choices&)>& change) {
    const auto [id, place] = placeOf(connection, database);
    const std::string key = id + "\n" + place;
    catalog::Choices& choices = choices_[key];
    const catalog::Choices before = choices;
    change(choices);
    if (choices == before) return;
    around_.write([file = around_.home().catalogChoicesFile(), key, choices] {
        return store::saveCatalogChoices(file, key, choices);
    });
    told_.changed(connection);
}

void Catalogs::readDefinition(const std::string& connection, const std::string& database,
                              const catalog::ObjectName& object,
                              std::function<void(Result<catalog::Definition>)> done) {
    const auto session = sessionAt(connection, database);
    if (!session) return;
    session->readDefinition(object, [post = around_.owner().post, there = whileThere_.there(),
                                     done = std::move(done)](const Result<catalog::Definition>& definition) {
        post(there([done, definition] { done(definition); }));
    });
}

void Catalogs::readDetails(const std::string& connection, const std::string& database,
                           const catalog::ObjectName& object,
                           std::function<void(Result<catalog::ObjectDetails>)> done) {
    const auto session = sessionAt(connection, database);
    if (!session) return;
    session->readDetails(object, [post = around_.owner().post, there = whileThere_.there(),
                                  done = std::move(done)](const Result<catalog::ObjectDetails>& details) {
        post(there([done, details] { done(details); }));
    });
}

void Catalogs::writeScript(const std::string& connection, const std::string& database, sql::ScriptKind kind,
                           const std::vector<catalog::ObjectName>& objects, sql::Dialect to,
                           std::function<void(Result<std::string>)> done) {
    const auto session = sessionAt(connection, database);
    const catalog::CatalogPtr catalog = state(connection, database).catalog;
    if (!session || !catalog) return;
    const sql::Dialect from = db::dialectOf(session->profile().engine);
    session->readParts(objects, needsDefinitions(kind),
                       [post = around_.owner().post, there = whileThere_.there(), done = std::move(done), catalog, kind,
                        from, to](Result<std::vector<catalog::ObjectParts>> parts) {
                           Result<std::string> script =
                               parts ? scriptOf(kind, *catalog, std::move(*parts), from, to) : parts.error();
                           post(there([done, script = std::move(script)] { done(script); }));
                       });
}

void Catalogs::readSources(const std::string& connection, const std::string& database,
                           std::function<void(Result<SourcesPtr>)> done) {
    const Place place = placeOf(connection, database);
    if (const auto known = sources_.find(place); known != sources_.end()) return done(known->second);
    const auto session = sessionAt(connection, database);
    const catalog::CatalogPtr catalog = state(connection, database).catalog;
    if (!session || !catalog) return;
    std::vector<std::string> schemas;
    for (const catalog::SchemaPtr& schema : catalog->schemas()) {
        if (schema->isLoaded) schemas.push_back(schema->name);
    }
    session->readSources(
        std::move(schemas), [this, place, catalog, post = around_.owner().post, there = whileThere_.there(),
                             done = std::move(done)](Result<std::vector<catalog::SourceText>> read) {
            Result<SourcesPtr> sources =
                read ? Result<SourcesPtr>(std::make_shared<const std::vector<catalog::SourceText>>(std::move(*read)))
                     : Result<SourcesPtr>(read.error());
            post(there([this, place, catalog, done, sources] {
                // What was read beside an older catalog is not kept.
                if (sources && states_[place].catalog == catalog) sources_[place] = *sources;
                done(sources);
            }));
        });
}

void Catalogs::readRows(const std::string& connection, const std::string& database, const sql::Statement& query,
                        std::size_t most, std::function<void(Result<data::ResultSetPtr>)> done) {
    const auto session = sessionAt(connection, database);
    if (!session) return;
    const auto handle = std::make_shared<db::RunHandle>();
    const auto observer = std::make_shared<RowsObserver>(
        [handle, post = around_.owner().post, there = whileThere_.there(), done = std::move(done)](const auto& rows) {
            post(there([handle, done, rows] {
                handle->endIfPaused();  // a reading that only paused would hold its locks
                done(rows);
            }));
        });
    *handle = session->execute({.statement = query, .pageRows = most, .guard = db::onlyReading()}, observer);
    around_.owner().postAfter(kReadTimeout, [handle] { handle->cancel(); });
}

void Catalogs::count(const std::string& connection, const std::string& database, const sql::Statement& query,
                     std::function<void(Result<std::int64_t>)> done) {
    readRows(connection, database, query, 1,
             [done = std::move(done)](const Result<data::ResultSetPtr>& rows) { done(firstNumber(rows)); });
}

/// On a line of its own nobody who looks around waits for it.
db::RunHandle Catalogs::readAtLength(const std::string& connection, const std::string& database,
                                     const sql::Statement& query, std::size_t most,
                                     std::function<void(Result<data::ResultSetPtr>)> done) {
    const auto profile = connections_.profileAt(connection, database);
    if (!profile) return {};
    const auto session = std::make_shared<db::Session>(*profile, connections_.passwordFor(connection));
    const auto observer = std::make_shared<RowsObserver>(
        [session, post = around_.owner().post, there = whileThere_.there(), done = std::move(done)](const auto& rows) {
            post(there([session = std::shared_ptr<db::Session>(session), done, rows]() mutable {
                done(rows);
                destroyInBackground(std::move(session));
            }));
        });
    return session->execute({.statement = query, .pageRows = most, .guard = db::onlyReading()}, observer);
}

db::RunHandle Catalogs::countAll(const std::string& connection, const std::string& database,
                                 const catalog::ObjectName& table, std::function<void(Result<std::int64_t>)> done) {
    const auto profile = connections_.profileAt(connection, database);
    if (!profile) return {};
    const sql::Dialect dialect = db::dialectOf(profile->engine);
    const sql::Statement query("SELECT count(*) FROM " + sql::qualifiedName(table.schema, table.name, dialect),
                               dialect);
    return readAtLength(connection, database, query, 1,
                        [done = std::move(done)](const Result<data::ResultSetPtr>& rows) { done(firstNumber(rows)); });
}

}  // namespace pantry::work
