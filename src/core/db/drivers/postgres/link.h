#pragma once

#include <atomic>
#include <chrono>
#include <future>
#include <memory>
#include <optional>
#include <set>
#include <string>

#include "core/base/mutex.h"
#include "core/db/detail_parts.h"
#include "core/db/driver.h"
#include "core/db/drivers/postgres/handle.h"
#include "core/db/drivers/postgres/names.h"
#include "core/db/parameters.h"

// Only for .cpp files of the PostgreSQL driver.

namespace pantry::db::postgres {

/// Requests to stop that are on their way to the server, each on a thread that may outlive the connection.
///
/// Threads: internally synchronised.
class StopsUnderWay {
public:
    void begin() {
        const base::Lock lock(mutex_);
        ++count_;
    }
    void end() {
        const base::Lock lock(mutex_);
        --count_;
        none_.notify_all();
    }
    [[nodiscard]] bool areNone() const {
        const base::Lock lock(mutex_);
        return count_ == 0;
    }
    /// Waits until none is, since one that arrives late would stop what comes next; not for ever.
    void wait() {
        constexpr std::chrono::seconds kMax{2};
        base::Lock lock(mutex_);
        lock.waitFor(none_, kMax, [this]() REQUIRES(mutex_) { return count_ == 0; });
    }

private:
    mutable base::Mutex mutex_;
    base::Condition none_;
    int count_ = 0;
};

/// A connection to a PostgreSQL server.
///
/// Before a statement that may return rows is sent, the server is asked to describe its columns, so that their types
/// and origins have names from the first row on; unknown ones are looked up once. The statement itself goes as the
/// user wrote it, in the extended protocol, in which the server takes one statement and refuses a second one behind it.
class PostgresLink final : public EngineConnection {
public:
    PostgresLink(ConnectionHandle connection, ConnectionProfile profile);
    ~PostgresLink() override;

    /// What every new connection is set to. Errors: those of the server.
    Status prepare(const base::Cancellation& cancellation);

    Result<bool> check(const sql::Statement& asked, const base::Cancellation& cancellation) override;
    Result<StatementResult> run(const sql::Statement& asked, RowSink& sink,
                                const base::Cancellation& cancellation) override;
    void cancel() override;
    bool isUsable() override;
    ConnectionState state() const override;
    sql::Dialect dialect() const override { return sql::Dialect::Postgres; }
    Status enter(Access access, const base::Cancellation& cancellation) override;
    void leave(const base::Cancellation& cancellation) override;
    Result<std::string> doubtAbout(const sql::PlainReading& reading, const base::Cancellation& cancellation) override;
    void readNotices(RowSink& sink) override;
    Result<catalog::CatalogPtr> loadCatalog(const catalog::Request& request,
                                            const base::Cancellation& cancellation) override;
    Result<catalog::Definition> definition(const catalog::ObjectName& object,
                                           const base::Cancellation& cancellation) override;
    Result<catalog::ObjectDetails> details(const catalog::ObjectName& object,
                                           const base::Cancellation& cancellation) override;
    Result<std::vector<catalog::SourceText>> sources(const std::vector<std::string>& schemas,
                                                     const base::Cancellation& cancellation) override;
    std::string serverVersion() override;
    std::string remark() const override;
    std::string encryption() const override;

    /// Runs a query of our own and gives its rows whole.
    Result<ResultHandle> ask(const std::string& query, const base::Cancellation& cancellation);
    Result<std::vector<TextRow>> askRows(const std::string& query, const base::Cancellation& cancellation);
    [[nodiscard]] int versionNumber() const;

private:
    class Reading;
    enum class Step { Ready, Idle, Lost };

    Status send(const BoundStatement& bound, const std::vector<std::optional<std::string>>& values);
    Status describe(const std::string& text, const base::Cancellation& cancellation);
    Result<ResultHandle> describeOne(const std::string& text, const base::Cancellation& cancellation);
    Result<ResultHandle> nextResult(Reading& reading);
    Step waitForResult(int milliseconds);
    Step waitForInput(int milliseconds);
    Status flush();
    Status readResults(Reading& reading, StatementResult& out);
    Status takeRow(Reading& reading, const PGresult* row);
    Status copyOut(Reading& reading, StatementResult& out);
    Status copyIn(Reading& reading);
    Status discardRest(Reading& reading);
    void refreshState(const sql::Statement& statement, const base::Cancellation& cancellation);
    void takeNotifications(RowSink& sink);
    [[nodiscard]] TransactionState transaction() const;
    [[nodiscard]] bool readsByDefault() const;
    Status setReadsByDefault(bool reads, const base::Cancellation& cancellation);
    [[nodiscard]] std::string literal(std::string_view text) const;
    Result<std::vector<std::string>> viewDefinitions(const std::vector<sql::CalledName>& relations,
                                                     const base::Cancellation& cancellation);
    [[nodiscard]] std::string valuesOf(const sql::PlainReading& reading) const;
    Error loseLine(bool wasStopped);
    void leaveLineBehind();
    void cancelAgain(Reading& reading);
    static void receiveNotice(void* self, const PGresult* notice);

    ConnectionHandle connection_;
    ConnectionProfile profile_;
    Names names_;
    ConnectionState state_;
    base::WakeSignal wake_;
    std::shared_ptr<PGcancel> cancelKey_;
    std::atomic<bool> isCancelling_{false};
    std::shared_ptr<StopsUnderWay> stops_ = std::make_shared<StopsUnderWay>();
    Access access_ = Access::AsIs;
    bool readsByDefault_ = false;  // for servers that do not report it
    bool isLocked_ = false;        // it was we who made the session read by default
    bool isReopened_ = false;      // and it is open for one statement
    bool hasSavepoint_ = false;    // the lock within a transaction
    RowSink* sink_ = nullptr;      // of what runs now, for notices
};

/// Whether a name of the engine means values that are kept as something else than text.
enum class Decoding { Text, Integer, Boolean, Bytes };
[[nodiscard]] Decoding decodingOf(Oid type);

Result<catalog::CatalogPtr> loadCatalog(PostgresLink& link, const std::string& serverVersion,
                                        const catalog::Request& request, const base::Cancellation& cancellation);
Result<catalog::Definition> readDefinition(PostgresLink& link, const catalog::ObjectName& object,
                                           const base::Cancellation& cancellation);

}  // namespace pantry::db::postgres
