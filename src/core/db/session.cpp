#include "core/db/session.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/base/mutex.h"
#include "core/base/text.h"
#include "core/base/uncaught.h"
#include "core/base/utf8.h"
#include "core/db/connecting.h"
#include "core/db/consumer_thread.h"
#include "core/db/driver_properties.h"
#include "core/db/engine_traits.h"
#include "core/db/session_statements.h"
#include "core/sql/meaning/plain_reading.h"
#include "core/sql/meaning/risk.h"
#include "core/sql/meaning/secrets.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {
namespace {

using Clock = std::chrono::steady_clock;
using std::chrono::duration_cast;
using std::chrono::microseconds;

constexpr std::size_t kUnlimited = static_cast<std::size_t>(-1);
constexpr auto kHandOverEvery = std::chrono::milliseconds(40);  // a slow result still shows as it comes
constexpr std::size_t kFirstRows = 100;                         // the first hand-over, so that a grid fills at once

/// Statements that servers refuse inside a transaction.
bool runsOnlyAlone(sql::StatementKind kind) {
    return kind == sql::StatementKind::Vacuum || kind == sql::StatementKind::Kill || kind == sql::StatementKind::Flush;
}

/// What was on its way when the connection broke may have taken effect: a change that stands by itself, or the end of a
/// transaction. What an open transaction has changed so far is undone by the server, and that is certain.
bool mayBeInDoubt(const sql::Statement& statement, bool wasInTransaction) {
    if (statement.kind() == sql::StatementKind::Commit) return wasInTransaction;
    const bool setsUp =
        statement.effect() == sql::StatementEffect::Transacts || statement.effect() == sql::StatementEffect::Configures;
    return !wasInTransaction && !setsUp && !statement.reading().isPlain();
}

Error inDoubt(Error lost) {
    lost.kind = ErrorKind::InDoubt;
    lost.hint = "Whether the statement took effect is not known: look before you run it again.";
    return lost;
}

}  // namespace

/// What caller and session share about one run.
struct RunHandle::State {
    base::Cancellation cancellation;
    base::Mutex mutex;
    base::Condition wake;
    std::size_t wanted GUARDED_BY(mutex) = 0;  // rows in all
    bool isPaused GUARDED_BY(mutex) = false;
    bool isEnded GUARDED_BY(mutex) = false;              // no more rows are wanted
    bool mustYield GUARDED_BY(mutex) = false;            // another run waits, so end instead of pausing
    EngineConnection* link GUARDED_BY(mutex) = nullptr;  // where it runs now

    void cancel() {
        const base::Lock lock(mutex);
        cancellation.request();
        isEnded = true;
        if (link != nullptr) link->cancel();
        wake.notify_all();
    }
    void want(std::size_t rows) {
        const base::Lock lock(mutex);
        wanted = rows == kUnlimited ? kUnlimited : wanted + rows;
        wake.notify_all();
    }
    void endIfPaused() {
        const base::Lock lock(mutex);
        if (!isPaused) return;
        isEnded = true;
        wake.notify_all();
    }
};

void RunHandle::cancel() const {
    if (state_) state_->cancel();
}
void RunHandle::fetchMore(std::size_t rows) const {
    if (state_) state_->want(rows);
}
void RunHandle::fetchAll() const {
    if (state_) state_->want(kUnlimited);
}
void RunHandle::endIfPaused() const {
    if (state_) state_->endIfPaused();
}

/// Between driver and observer: counts, pauses, keeps the time.
class Session::Sink final : public RowSink {
public:
    Sink(RunHandle::State& state, const RunRequest& request, RunObserver& observer)
        : state_(state), request_(request), observer_(observer) {}

    void columns(std::vector<data::Column> columns) override {
        noteFirst();
        if (result_) beginNextResult();
        isLeftOut_ = !request_.consumer && resultCount_ >= kMaxResults;
        if (isLeftOut_) {
            ++resultsLeftOut_;
            return;
        }
        ++resultCount_;
        if (request_.consumer) {
            if (!consumer_) consumer_.emplace(request_.consumer);
            failure_ = consumer_->begin(columns);
            if (!failure_) state_.cancellation.request();
            return;
        }
        result_ = std::make_shared<data::ResultSet>(std::move(columns));
        observer_.columns(result_);
    }

    void notice(const Notice& notice) override {
        if (noticeCount_++ >= kMaxNotices) return;
        if (notice.message.size() <= kMaxNoticeBytes) return observer_.notice(notice);
        Notice cut = notice;
        cut.message = std::string(base::prefixOf(notice.message, kMaxNoticeBytes));
        observer_.notice(cut);
    }

    bool rows(data::ChunkPtr chunk, bool isLast) override {
        noteFirst();
        if (isLeftOut_) return true;
        rowCount_ += chunk->rowCount();
        lastHandOver_ = Clock::now();
        if (request_.consumer) {
            if (!failure_) return false;  // it did not take the columns
            failure_ = consumer_->take(std::move(chunk));
            observer_.rows(rowCount_);
            return failure_.has_value();
        }
        result_->append(std::move(chunk));
        observer_.rows(rowCount_);
        return isLast || waitForDemand();
    }

    data::ChunkPtr spent() override { return consumer_ ? consumer_->spent() : nullptr; }

    std::size_t rowsWanted() const override {
        if (request_.consumer || isLeftOut_) return kUnlimited;
        const base::Lock lock(state_.mutex);
        const std::size_t page = state_.wanted == kUnlimited ? kUnlimited : state_.wanted - rowCount_;
        return rowCount_ == 0 ? std::min(page, kFirstRows) : page;
    }

    bool isHandOverDue() const override { return Clock::now() - lastHandOver_ > kHandOverEvery; }

    /// Waits until a consumer has taken all rows.
    void finish() {
        if (consumer_ && failure_) failure_ = consumer_->finish();
    }

    void fill(RunSummary& summary) const {
        // What is done to get rid of rows that nobody wanted any more is not the statement's time.
        const auto end = left_.value_or(Clock::now());
        summary.rowCount = rowCount_;
        summary.resultsLeftOut = resultsLeftOut_;
        summary.noticesLeftOut = noticeCount_ > kMaxNotices ? noticeCount_ - kMaxNotices : 0;
        summary.serverTime = duration_cast<microseconds>(first_.value_or(end) - start_);
        summary.totalTime = duration_cast<microseconds>(end - start_ - pausedFor_);
    }
    [[nodiscard]] const Status& failure() const { return failure_; }

private:
    void noteFirst() {
        if (!first_) first_ = Clock::now();
    }

    /// Each result of a statement has a first page of its own.
    void beginNextResult() {
        const base::Lock lock(state_.mutex);
        rowCount_ = 0;
        if (state_.wanted != kUnlimited) state_.wanted = request_.pageRows.value_or(kUnlimited);
    }

    bool waitForDemand() {
        base::Lock lock(state_.mutex);
        if (state_.isEnded) return false;
        if (rowCount_ < state_.wanted) return true;
        if (state_.mustYield) return false;
        state_.isPaused = true;
        lock.unlock();
        observer_.paused(rowCount_);
        lock.lock();
        const auto start = Clock::now();
        lock.wait(state_.wake, [&]() REQUIRES(state_.mutex) { return state_.isEnded || rowCount_ < state_.wanted; });
        state_.isPaused = false;
        if (state_.isEnded) {
            left_ = start;
        } else {
            pausedFor_ += Clock::now() - start;
        }
        return !state_.isEnded;
    }

    RunHandle::State& state_;
    const RunRequest& request_;
    RunObserver& observer_;
    std::shared_ptr<data::ResultSet> result_;
    std::size_t rowCount_ = 0;
    std::size_t resultCount_ = 0;
    std::size_t resultsLeftOut_ = 0;
    std::size_t noticeCount_ = 0;
    bool isLeftOut_ = false;  // the result at hand
    Clock::time_point start_ = Clock::now();
    Clock::time_point lastHandOver_ = start_;
    std::optional<Clock::time_point> first_;
    Clock::duration pausedFor_{};
    std::optional<Clock::time_point> left_;  // when a pause began that ended with the statement
    Status failure_;
    std::optional<ConsumerThread> consumer_;
};

Session::Session(ConnectionProfile profile, PasswordProvider password)
    : profile_(std::move(profile)), password_(std::move(password)) {}

Session::Session(ConnectionProfile profile, std::optional<std::string> password)
    : Session(std::move(profile), [password = std::move(password)](const ConnectionProfile&) {
          return Result<std::optional<std::string>>(password);
      }) {}

Session::~Session() {
    closing_.request();
    const base::Lock lock(mutex_);
    for (const auto& run : runs_) run->cancel();
}

RunHandle Session::execute(RunRequest request, std::shared_ptr<RunObserver> observer) {
    auto state = std::make_shared<RunHandle::State>();
    state->want(request.pageRows.value_or(kUnlimited));
    {
        const base::Lock lock(mutex_);
        for (const auto& earlier : runs_) {
            const base::Lock runLock(earlier->mutex);
            earlier->mustYield = true;
            if (earlier->isPaused) earlier->isEnded = true;
            earlier->wake.notify_all();
        }
        runs_.push_back(state);
    }
    worker_.post([this, state, request = std::move(request), observer] {
        if (closing_.isRequested()) state->cancellation.request();
        try {
            run(state, request, *observer);
        } catch (...) {
            const Error error = base::currentException("a statement ran");
            base::reportUncaught("a statement ran");
            dropConnection(*state);
            base::guarded("a failure was told",
                          [&] { observer->failed(error, {.startedAt = base::now(), .session = this->state()}); });
        }
        const base::Lock lock(mutex_);
        std::erase(runs_, state);
    });
    return RunHandle(state);
}

/// After an exception nobody knows what the server will say next: the connection is closed, and the next run opens
/// another.
void Session::dropConnection(RunHandle::State& state) {
    {
        const base::Lock lock(state.mutex);
        state.link = nullptr;
    }
    loss_ = lossOf(state_);
    base::guarded("a connection was closed", [this] { link_.reset(); });
    state_ = {};
    publish(state_);
}

/// Work of our own on the connection, which can be stopped like a run.
template <class Value>
RunHandle Session::read(std::function<Result<Value>(EngineConnection&, const base::Cancellation&)> work,
                        std::function<void(Result<Value>)> callback) {
    auto state = std::make_shared<RunHandle::State>();
    {
        const base::Lock lock(mutex_);
        runs_.push_back(state);
    }
    worker_.post([this, state, work = std::move(work), callback = std::move(callback)] {
        if (closing_.isRequested()) state->cancellation.request();
        Result<Value> value = stopped();
        try {
            auto opened = link(state->cancellation, nullptr);
            {
                const base::Lock lock(state->mutex);
                state->link = opened ? *opened : nullptr;
            }
            value = opened ? work(**opened, state->cancellation) : Result<Value>(opened.error());
            const base::Lock lock(state->mutex);
            state->link = nullptr;
        } catch (...) {
            value = base::currentException("something was read from the server");
            base::reportUncaught("something was read from the server");
            dropConnection(*state);
        }
        lastUse_ = Clock::now();
        {
            const base::Lock lock(mutex_);
            std::erase(runs_, state);
        }
        if (!value && state->cancellation.isRequested()) value = stopped();
        callback(std::move(value));
    });
    return RunHandle(state);
}

RunHandle Session::loadCatalog(catalog::Request request, std::function<void(Result<catalog::CatalogPtr>)> callback) {
    return read<catalog::CatalogPtr>(
        [request = std::move(request)](EngineConnection& connection, const base::Cancellation& cancellation) {
            return connection.loadCatalog(request, cancellation);
        },
        std::move(callback));
}

RunHandle Session::check(std::vector<sql::Statement> statements,
                         std::function<void(Result<std::vector<Opinion>>)> callback) {
    return read<std::vector<Opinion>>(
        [statements = std::move(statements)](EngineConnection& connection,
                                             const base::Cancellation& cancellation) -> Result<std::vector<Opinion>> {
            std::vector<Opinion> opinions;
            for (const sql::Statement& statement : statements) {
                if (cancellation.isRequested()) return stopped();
                const Result<bool> known = connection.check(statement, cancellation);
                if (!known && endsConnection(known.error().kind)) return known.error();
                opinions.push_back(known ? Opinion{.isKnown = *known, .error = {}}
                                         : Opinion{.isKnown = true, .error = known.error()});
            }
            return opinions;
        },
        std::move(callback));
}

RunHandle Session::readDefinition(catalog::ObjectName object,
                                  std::function<void(Result<catalog::Definition>)> callback) {
    return read<catalog::Definition>(
        [object = std::move(object)](EngineConnection& connection, const base::Cancellation& cancellation) {
            return connection.definition(object, cancellation);
        },
        std::move(callback));
}

RunHandle Session::readDetails(catalog::ObjectName object,
                               std::function<void(Result<catalog::ObjectDetails>)> callback) {
    return read<catalog::ObjectDetails>(
        [object = std::move(object)](EngineConnection& connection, const base::Cancellation& cancellation) {
            return connection.details(object, cancellation);
        },
        std::move(callback));
}

RunHandle Session::readParts(std::vector<catalog::ObjectName> objects, bool withDefinitions,
                             std::function<void(Result<std::vector<catalog::ObjectParts>>)> callback) {
    return read<std::vector<catalog::ObjectParts>>(
        [objects = std::move(objects), withDefinitions](
            EngineConnection& connection,
            const base::Cancellation& cancellation) -> Result<std::vector<catalog::ObjectParts>> {
            std::vector<catalog::ObjectParts> all;
            for (const catalog::ObjectName& object : objects) {
                if (cancellation.isRequested()) return stopped();
                catalog::ObjectParts& parts = all.emplace_back(catalog::ObjectParts{.object = object});
                if (withDefinitions) {
                    auto definition = connection.definition(object, cancellation);
                    if (!definition) return definition.error();
                    parts.definition = std::move(*definition);
                }
                const bool isRoutine =
                    object.kind == catalog::ObjectKind::Function || object.kind == catalog::ObjectKind::Procedure;
                if (!isRoutine) continue;
                auto details = connection.details(object, cancellation);
                if (!details) return details.error();
                parts.parameters = std::move(details->parameters);
                parts.returnsRows = details->returnsRows;
            }
            return all;
        },
        std::move(callback));
}

RunHandle Session::readSources(std::vector<std::string> schemas,
                               std::function<void(Result<std::vector<catalog::SourceText>>)> callback) {
    return read<std::vector<catalog::SourceText>>(
        [schemas = std::move(schemas)](EngineConnection& connection, const base::Cancellation& cancellation) {
            return connection.sources(schemas, cancellation);
        },
        std::move(callback));
}

void Session::closeIfIdle(std::chrono::seconds limit, std::function<void(bool)> callback) {
    worker_.post([this, limit, callback = std::move(callback)] {
        const bool isIdle = link_ && Clock::now() - lastUse_ >= limit;
        const bool holdsSomething = state_.connection.transaction != TransactionState::None ||
                                    state_.connection.hasTemporaryTables || state_.connection.isListening;
        if (!isIdle || holdsSomething) return callback(false);
        link_.reset();
        wasConnected_ = false;  // it was we who closed it: nothing to tell
        state_.isConnected = false;
        publish(state_);
        callback(true);
    });
}

namespace {

/// Keeps what is said, and nothing else.
class NoticeKeeper final : public RowSink {
public:
    void columns(std::vector<data::Column> /*columns*/) override {}
    void notice(const Notice& notice) override { notices.push_back(notice); }
    bool rows(data::ChunkPtr /*chunk*/, bool /*isLast*/) override { return false; }
    std::size_t rowsWanted() const override { return 1; }
    bool isHandOverDue() const override { return false; }

    std::vector<Notice> notices;
};

}  // namespace

void Session::pollNotices(std::function<void(std::vector<Notice>)> callback) {
    if (isLookDue_.exchange(true)) return;  // one is enough, however long a paused run keeps the connection
    worker_.post([this, callback = std::move(callback)] {
        isLookDue_ = false;
        if (!link_) return;
        NoticeKeeper keeper;
        link_->readNotices(keeper);
        if (!keeper.notices.empty()) callback(std::move(keeper.notices));
    });
}

SessionState Session::state() const {
    const base::Lock lock(stateMutex_);
    SessionState state = published_;
    state.commitsByHand = commitsByHand_;
    return state;
}

void Session::publish(const SessionState& state) {
    const base::Lock lock(stateMutex_);
    published_ = state;
}

/// What goes with a connection, in words; empty when nothing does.
std::string Session::lossOf(const SessionState& state) const {
    std::string lost;
    if (state.connection.transaction != TransactionState::None) {
        lost = fmt::format("The open transaction with {} is lost with it.",
                           base::counted(state.openChanges, "change", "changes"));
    }
    if (state.connection.hasTemporaryTables)
        lost += fmt::format("{}Its temporary tables are gone.", lost.empty() ? "" : " ");
    return lost;
}

/// The profile as the driver gets it: with the properties that are kept like passwords.
Result<ConnectionProfile> Session::withSecrets() const {
    ConnectionProfile there = profile_;
    if (!there.options.contains("tls-key")) return there;
    auto secret = password_(secretOf(profile_, kTlsKeyPassword));
    if (!secret) return secret.error();
    if (*secret) there.options[std::string(kTlsKeyPassword)] = **secret;
    return there;
}

Result<EngineConnection*> Session::link(const base::Cancellation& cancellation, RunObserver* observer) {
    if (link_ && !link_->isUsable()) {
        link_.reset();
        const bool hadTransaction = state_.connection.transaction != TransactionState::None;
        const bool hadTables = state_.connection.hasTemporaryTables;
        loss_ = lossOf(state_);
        state_ = {};
        publish(state_);
        if (hadTransaction || hadTables) {  // a statement may mean what went with it
            return Error{.kind = ErrorKind::ConnectionLost,
                         .message = fmt::format("The connection to {} was lost while nothing ran.", placeOf(profile_)),
                         .hint = "Nothing was run now; the next run connects again.",
                         .detail = std::exchange(loss_, {})};
        }
    }
    if (link_) return link_.get();
    if (cancellation.isRequested()) return Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
    if (profile_.isUnseen) return notSeenYet(profile_);
    auto driver = driverFor(profile_.engine);
    if (!driver) return driver.error();
    auto password = password_(profile_);
    if (!password) return password.error();
    auto there = withSecrets();
    if (!there) return there.error();
    auto opened = (*driver)->open(*there, *password, cancellation);
    if (!opened) return opened.error();
    link_ = std::move(*opened);
    if (wasConnected_ && observer != nullptr) {
        observer->notice({"CONNECTED", fmt::format("Connected again to {}, since the connection before was lost.{}{}",
                                                   placeOf(profile_), loss_.empty() ? "" : " ", loss_)});
        loss_.clear();
    }
    if (observer != nullptr && traitsOf(profile_.engine).tellsEncryption && !isOnThisMachine(profile_) &&
        link_->encryption().empty()) {
        observer->notice(
            {"WARNING", fmt::format("The connection to {} is not encrypted: everybody on the way can read and "
                                    "change what goes over it.",
                                    placeOf(profile_))});
    }
    wasConnected_ = true;
    state_ = {.connection = link_->state(),
              .isConnected = true,
              .connectedSince = base::now(),
              .encryption = link_->encryption()};
    publish(state_);
    return link_.get();
}

/// What is not known to be plain reading begins a transaction when changes are committed by hand; what sets up the
/// session or a transaction does not.
Status Session::beginByHand(const RunRequest& request, RowSink& sink, const base::Cancellation& cancellation) {
    if (!commitsByHand_ || link_->state().transaction != TransactionState::None) return {};
    const sql::PlainReading& reading = request.statement.reading();
    const auto kind = request.statement.kind();
    const auto effect = request.statement.effect();
    const bool needsTransaction = kind == sql::StatementKind::Declare || kind == sql::StatementKind::Lock;
    const bool setsUp = effect == sql::StatementEffect::Transacts || effect == sql::StatementEffect::Configures;
    if (reading.isControl || (setsUp && !needsTransaction)) return {};
    if (runsOnlyAlone(kind) || commitsByItself(profile_.engine, request.statement, link_->state())) return {};
    if (reading.isPlain()) {
        auto doubt = link_->doubtAbout(reading, cancellation);
        if (!doubt) return doubt.error();
        if (doubt->empty()) return {};
    }
    if (Status entered = link_->enter(Access::Beginning, cancellation); !entered) return entered;
    auto begun = link_->run(traitsOf(profile_.engine).beginTransaction, sink, cancellation);
    link_->leave(cancellation);
    return begun ? Status() : Status(begun.error());
}

/// Looks at a statement with what its connection knows now.
Result<std::optional<HeldBack>> Session::judge(const RunRequest& request, const base::Cancellation& cancellation) {
    std::optional<Error> error;
    const SessionView view{.engine = profile_.engine, .connection = link_->state(), .openChanges = state_.openChanges};
    auto held = heldBack(request.guard, view, request.statement, [&](const sql::PlainReading& reading) {
        auto doubt = link_->doubtAbout(reading, cancellation);
        if (doubt) return *doubt;
        error = doubt.error();
        return std::string();
    });
    if (error) return *error;
    return held;
}

Access Session::accessFor(const RunRequest& request) const {
    const ConnectionState connection = link_->state();
    if (!request.guard.isLocked && !connection.isReadOnly) return Access::AsIs;
    const sql::PlainReading& reading = request.statement.reading();
    const auto effect = request.statement.effect();
    if (effect == sql::StatementEffect::Transacts) return reading.startsWriting ? Access::Beginning : Access::Changing;
    if (reading.isControl || (reading.isPlain() && reading.explainsChange)) return Access::Changing;
    if (!request.guard.isConfirmed) return Access::Reading;
    // Somebody who sets the session's own mode wants it to stay.
    return effect == sql::StatementEffect::Configures && !request.guard.isLocked ? Access::AsIs : Access::Changing;
}

/// Judges, opens or closes the connection as far as that allows, and runs.
Result<StatementResult> Session::runGuarded(const RunRequest& asked, RowSink& sink, RunSummary& summary,
                                            const base::Cancellation& cancellation) {
    RunRequest request = asked;
    if (asked.guardOfNow) {
        if (const auto now = asked.guardOfNow()) request.guard = stricter(asked.guard, *now);
    }
    auto held = judge(request, cancellation);
    if (!held) return held.error();
    if (*held) {
        Error error{.kind = ErrorKind::HeldBack, .message = (*held)->reason};
        if (!request.guard.mustRead) summary.held = std::move(**held);
        return error;
    }
    if (Status begun = beginByHand(request, sink, cancellation); !begun) return begun.error();
    const Access access = accessFor(request);
    if (Status entered = link_->enter(access, cancellation); !entered) return entered.error();
    summary.wasSent = true;
    const bool wasOpen = link_->state().transaction != TransactionState::None;
    auto result = link_->run(request.statement, sink, cancellation);
    link_->leave(cancellation);
    if (!result && result.error().kind == ErrorKind::ConnectionLost && mayBeInDoubt(request.statement, wasOpen)) {
        return inDoubt(result.error());
    }
    const bool isRefused = !result && result.error().kind == ErrorKind::ReadOnly && !request.guard.isConfirmed;
    if (isRefused && !request.guard.mustRead) {
        summary.held = HeldBack{
            .reason = result.error().message, .countQuery = request.statement.risk().countQuery, .wasRefused = true};
    }
    return result;
}

/// Follows the transaction: when it began, and how much it has changed.
void Session::noteEnd(const RunSummary& summary, const sql::Statement& statement,
                      const Result<StatementResult>& result) {
    lastUse_ = Clock::now();
    if (!link_ || !link_->isUsable()) {
        loss_ = lossOf(state_);
        link_.reset();
        state_ = {};
        return publish(state_);
    }
    const bool wasOpen = state_.connection.transaction != TransactionState::None;
    state_.connection = link_->state();
    const bool isOpen = state_.connection.transaction != TransactionState::None;
    if (!isOpen || !wasOpen) state_.openChanges = 0;
    if (isOpen && !wasOpen) state_.openSince = summary.startedAt;
    if (isOpen && result) {
        const bool defines = statement.defines();
        state_.openChanges += result->affectedRows.value_or(0) + (defines ? 1 : 0);
    }
    publish(state_);
}

void Session::run(const std::shared_ptr<RunHandle::State>& state, RunRequest request, RunObserver& observer) {
    RunSummary summary{.startedAt = base::now()};
    if (request.batch && request.batch->isBroken) {
        summary.isBehindBroken = true;
        return observer.failed({.kind = ErrorKind::Cancelled, .message = "Not run: a statement before it failed."},
                               summary);
    }
    const auto fail = [&](Error error) {
        error = sql::withoutSecrets(std::move(error), request.statement.text(), dialectOf(profile_.engine));
        if (request.batch) request.batch->isBroken = true;
        if (!loss_.empty() && endsConnection(error.kind)) {
            error.detail += (error.detail.empty() ? "" : " ") + std::exchange(loss_, {});
        }
        summary.session = this->state();
        observer.failed(error, summary);
    };
    observer.started(summary.startedAt);
    const bool isFresh = !link_ || !link_->isUsable();
    auto opened = link(state->cancellation, &observer);
    if (!opened) return fail(opened.error());
    if (isFresh) summary.ranOnConnect = profile_.onConnect;
    summary.serverVersion = (*opened)->serverVersion();
    request.statement = request.statement.readAs(languageOf(profile_.engine, (*opened)->state()));
    {
        const base::Lock lock(state->mutex);
        state->link = *opened;
    }
    Sink sink(*state, request, observer);
    Result<StatementResult> result = stopped();
    if (!state->cancellation.isRequested()) {
        result = runGuarded(request, sink, summary, state->cancellation);
    }
    {
        const base::Lock lock(state->mutex);
        state->link = nullptr;
    }
    sink.finish();
    sink.fill(summary);
    noteEnd(summary, request.statement, result);
    if (const auto enough = request.consumer ? request.consumer->enough() : std::nullopt) {
        summary.rowCount = *enough;
        result = StatementResult{.hasRows = true, .isComplete = false};
    } else if (!sink.failure()) {
        return fail(sink.failure().error());
    }
    const bool wasStopped = result && !result->isComplete && state->cancellation.isRequested();
    if (wasStopped) result = stopped();
    if (!result) return fail(result.error());
    summary.result = std::move(*result);
    summary.session = this->state();
    observer.finished(summary);
}

}  // namespace pantry::db
