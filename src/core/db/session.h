#pragma once

#include <atomic>
#include <chrono>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/mutex.h"
#include "core/base/serial_worker.h"
#include "core/base/time.h"
#include "core/data/store/result_set.h"
#include "core/db/driver.h"
#include "core/db/guard.h"
#include "core/sql/meaning/statement.h"

namespace pantry::db {

/// A session as it stands after a run.
struct SessionState {
    ConnectionState connection;
    bool isConnected = false;
    base::Moment connectedSince{};
    std::string encryption;  ///< protocol and cipher; empty for none
    bool commitsByHand = false;
    std::int64_t openChanges = 0;  ///< rows changed and objects defined in the open transaction
    base::Moment openSince{};      ///< when that transaction began
};

/// What one run tells at most; what comes after is counted and thrown away.
inline constexpr std::size_t kMaxResults = 100;
inline constexpr std::size_t kMaxNotices = 2000;
inline constexpr std::size_t kMaxNoticeBytes = 1 << 20;

/// How a run ended.
struct RunSummary {
    base::Moment startedAt{};
    std::chrono::microseconds serverTime{};  ///< from sending to the first row or the end
    std::chrono::microseconds totalTime{};   ///< with reading the rows, without pauses
    std::size_t rowCount = 0;                ///< rows read
    StatementResult result;
    std::string serverVersion;
    SessionState session;
    std::optional<HeldBack> held = {};  ///< why it waits for a confirmation, when that is why it failed
    bool wasSent = false;               ///< the server has seen it
    std::size_t resultsLeftOut = 0;     ///< results beyond kMaxResults, whose rows were thrown away
    std::size_t noticesLeftOut = 0;     ///< notices beyond kMaxNotices
    std::string ranOnConnect = {};      ///< the connection was opened for this run, and these statements with it
    bool isBehindBroken = false;        ///< not run, since one before it in its batch failed or was held back
};

/// Hears what becomes of a run. All calls come on the session's thread, in this order: started, columns (for
/// statements with rows; once for each result), rows, notices and paused as they happen, then exactly one of finished
/// and failed.
class RunObserver {
public:
    virtual ~RunObserver() = default;
    virtual void started(base::Moment when) = 0;
    virtual void columns(data::ResultSetPtr result) = 0;
    /// Rows of the result at hand so far.
    virtual void rows(std::size_t rowCount) = 0;
    /// Something that the server, or the session itself, says beside.
    virtual void notice(const Notice& notice) = 0;
    /// The page is full; more rows come on demand.
    virtual void paused(std::size_t rowCount) = 0;
    virtual void finished(const RunSummary& summary) = 0;
    virtual void failed(const Error& error, const RunSummary& summary) = 0;
};

/// Takes rows instead of a ResultSet: for exports in constant memory. Called on one thread at a time, beside the
/// session's; everything is taken before the run ends.
class ChunkConsumer {
public:
    virtual ~ChunkConsumer() = default;
    virtual Status begin(const std::vector<data::Column>& columns) = 0;
    virtual Status take(const data::Chunk& chunk) = 0;
    /// How many rows it has kept, when it refused what came because it wants no more: the run ends well then, with so
    /// many.
    [[nodiscard]] virtual std::optional<std::size_t> enough() const { return std::nullopt; }
};

/// Statements that were asked for together: when one fails or is stopped, those after it are not run.
///
/// Threads: internally synchronised.
struct RunBatch {
    std::atomic<bool> isBroken{false};
};

struct RunRequest {
    sql::Statement statement;
    /// Rows to read before pausing; nullopt reads to the end.
    std::optional<std::size_t> pageRows = 1000;
    /// Where rows go instead of into a ResultSet.
    std::shared_ptr<ChunkConsumer> consumer = {};
    std::shared_ptr<RunBatch> batch = {};
    /// Judged when its turn comes, with what the connection knows then. What is held back fails with RunSummary::held.
    RunGuard guard = {};
    /// Asked just before judging, on the session's thread: how the connection is guarded now. What is stricter holds.
    std::function<std::optional<RunGuard>()> guardOfNow = {};
};

/// A run that was asked for. Copies are the same run.
///
/// Threads: internally synchronised.
class RunHandle {
public:
    RunHandle() = default;

    /// Asks the run to stop, wherever it is; rows that came stay.
    void cancel() const;
    /// Reads on after a pause: `rows` more, or all.
    void fetchMore(std::size_t rows) const;
    void fetchAll() const;
    /// Ends a paused run; what was read stays. Nothing happens to one that is not paused.
    void endIfPaused() const;

    struct State;

private:
    friend class Session;
    explicit RunHandle(std::shared_ptr<State> state) : state_(std::move(state)) {}
    std::shared_ptr<State> state_;
};

/// Gives the password of a profile, when a connection is opened and on the session's thread. Errors: why there is none.
using PasswordProvider = std::function<Result<std::optional<std::string>>(const ConnectionProfile& profile)>;

/// One connection to a database and the thread that works it. Opens on first use; work is done in the order asked for.
///
/// A connection that was lost is opened again for the next run, which says so. Only when a transaction was open on it
/// the first run after the loss is refused, since what it continues is gone.
///
/// Threads: internally synchronised; observers and callbacks are called on the session's thread.
class Session {
public:
    Session(ConnectionProfile profile, PasswordProvider password);
    Session(ConnectionProfile profile, std::optional<std::string> password);
    /// Stops what runs, drops what waits (its observers hear failed), and joins the thread.
    ~Session();
    Session(const Session&) = delete;
    Session& operator=(const Session&) = delete;

    /// Runs a statement. A paused run before it is ended: a connection reads one result at a time.
    RunHandle execute(RunRequest request, std::shared_ptr<RunObserver> observer);

    /// Loads the catalog and calls back once; the handle can stop it.
    RunHandle loadCatalog(catalog::Request request, std::function<void(Result<catalog::CatalogPtr>)> callback);

    /// Reads the statements that make an object and calls back once; the handle can stop it.
    /// What the server says of statements without running them, in their order.
    struct Opinion {
        bool isKnown = true;         ///< it could tell
        std::optional<Error> error;  ///< what it says against it
    };
    RunHandle check(std::vector<sql::Statement> statements, std::function<void(Result<std::vector<Opinion>>)> callback);
    RunHandle readDefinition(catalog::ObjectName object, std::function<void(Result<catalog::Definition>)> callback);
    /// Reads what is known of an object beyond the catalog, and calls back once.
    RunHandle readDetails(catalog::ObjectName object, std::function<void(Result<catalog::ObjectDetails>)> callback);
    /// Reads what scripts of some objects need, in their order, and calls back once.
    RunHandle readParts(std::vector<catalog::ObjectName> objects, bool withDefinitions,
                        std::function<void(Result<std::vector<catalog::ObjectParts>>)> callback);
    /// Reads the texts of views, routines and triggers of some schemas, and calls back once.
    RunHandle readSources(std::vector<std::string> schemas,
                          std::function<void(Result<std::vector<catalog::SourceText>>)> callback);

    /// Whether a change begins a transaction that stays open until somebody ends it. Holds from the next run on.
    void setCommitsByHand(bool byHand) { commitsByHand_ = byHand; }

    /// Closes the connection when nothing used it for so long, no transaction is open and no temporary table would be
    /// lost; calls back with whether it did. The next run opens it again.
    void closeIfIdle(std::chrono::seconds limit, std::function<void(bool)> callback);

    /// Looks, without waiting for the server, what it said while nothing ran, and whether the connection is still
    /// there; calls back when there is something to tell.
    void pollNotices(std::function<void(std::vector<Notice>)> callback);

    /// The state that the last work left; from any thread.
    [[nodiscard]] SessionState state() const;

    [[nodiscard]] const ConnectionProfile& profile() const { return profile_; }

private:
    class Sink;
    Result<EngineConnection*> link(const base::Cancellation& cancellation, RunObserver* observer);
    Status beginByHand(const RunRequest& request, RowSink& sink, const base::Cancellation& cancellation);
    Result<std::optional<HeldBack>> judge(const RunRequest& request, const base::Cancellation& cancellation);
    [[nodiscard]] Access accessFor(const RunRequest& request) const;
    Result<StatementResult> runGuarded(const RunRequest& asked, RowSink& sink, RunSummary& summary,
                                       const base::Cancellation& cancellation);
    void noteEnd(const RunSummary& summary, const sql::Statement& statement, const Result<StatementResult>& result);
    [[nodiscard]] Result<ConnectionProfile> withSecrets() const;
    [[nodiscard]] std::string lossOf(const SessionState& state) const;
    void publish(const SessionState& state);
    void dropConnection(RunHandle::State& state);
    void run(const std::shared_ptr<RunHandle::State>& state, RunRequest request, RunObserver& observer);
    template <class Value>
    RunHandle read(std::function<Result<Value>(EngineConnection&, const base::Cancellation&)> work,
                   std::function<void(Result<Value>)> callback);

    ConnectionProfile profile_;
    PasswordProvider password_;

    base::Mutex mutex_;
    std::vector<std::shared_ptr<RunHandle::State>> runs_ GUARDED_BY(mutex_);  // asked for and not ended
    base::Cancellation closing_;

    std::atomic<bool> commitsByHand_{false};
    std::atomic<bool> isLookDue_{false};  // pollNotices() waits for its turn
    mutable base::Mutex stateMutex_;
    SessionState published_ GUARDED_BY(stateMutex_);

    // The worker's thread only:
    std::unique_ptr<EngineConnection> link_;
    SessionState state_;
    bool wasConnected_ = false;
    std::string loss_;  // what went with a connection that was lost; told with the next one
    std::chrono::steady_clock::time_point lastUse_ = std::chrono::steady_clock::now();
    base::SerialWorker worker_;  // last: starts when everything above is there
};

}  // namespace pantry::db
