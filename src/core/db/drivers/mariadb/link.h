#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/mutex.h"
#include "core/db/detail_parts.h"
#include "core/db/driver.h"
#include "core/db/drivers/mariadb/handle.h"

// Only for .cpp files of the MariaDB driver.

namespace pantry::db::mariadb {

/// A connection to a MariaDB or MySQL server.
///
/// Its client library reads rows without a way to be interrupted, so a stop goes two ways: KILL QUERY on a line of its
/// own, and, for a server that does not answer, the closing of the socket.
class MariaDbLink final : public EngineConnection {
public:
    MariaDbLink(ConnectionHandle connection, ConnectionProfile profile, std::optional<std::string> password);
    ~MariaDbLink() override;

    /// What every new connection is set to. Errors: those of the server.
    Status prepare(const base::Cancellation& cancellation);

    Result<bool> check(const sql::Statement& asked, const base::Cancellation& cancellation) override;
    Result<StatementResult> run(const sql::Statement& asked, RowSink& sink,
                                const base::Cancellation& cancellation) override;
    void cancel() override;
    bool isUsable() override;
    ConnectionState state() const override { return state_; }
    sql::Dialect dialect() const override { return sql::Dialect::MySql; }
    Status enter(Access access, const base::Cancellation& cancellation) override;
    void leave(const base::Cancellation& cancellation) override;
    Result<std::string> doubtAbout(const sql::PlainReading& reading, const base::Cancellation& cancellation) override;
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

    using RowTaker = std::function<void(MYSQL_ROW row, const unsigned long* lengths)>;
    /// Runs a query of our own and hands over each row.
    Status ask(const std::string& query, const RowTaker& take);
    Result<std::vector<TextRow>> askRows(const std::string& query);

private:
    class Reading;
    struct Stopping;

    Result<StatementResult> runText(const std::string& text, RowSink& sink, const base::Cancellation& cancellation);
    Status readResults(Reading& reading, StatementResult& out);
    Status readRows(Reading& reading, MYSQL_RES* result, StatementResult& out);
    void tellWarnings(RowSink& sink);
    void refreshState(const sql::Statement& statement);
    void noteTransaction();
    Status setReads(bool reads);
    Result<std::vector<std::string>> viewDefinitions(const std::vector<sql::CalledName>& relations);
    [[nodiscard]] Error lost() const;
    Error failure(std::string_view statement, const base::Cancellation& cancellation);
    [[nodiscard]] std::string literal(const std::optional<std::string>& value) const;

    ConnectionHandle connection_;
    ConnectionProfile profile_;
    std::optional<std::string> password_;
    ConnectionState state_;
    bool sessionReads_ = false;           // the transactions that this session begins only read
    bool isReopened_ = false;             // they do not for one statement
    bool isLost_ = false;                 // a stop closed the socket
    std::shared_ptr<Stopping> stopping_;  // shared with the threads that stop
};

Result<catalog::CatalogPtr> loadCatalog(MariaDbLink& link, const std::string& serverVersion,
                                        const catalog::Request& request, const base::Cancellation& cancellation);
Result<catalog::Definition> readDefinition(MariaDbLink& link, const catalog::ObjectName& object,
                                           const base::Cancellation& cancellation);

}  // namespace pantry::db::mariadb
