#pragma once

#include <thread>

#include "core/base/mutex.h"
#include "core/db/driver.h"
#include "core/db/drivers/odbc/handle.h"

namespace pantry::db::odbc {

/// One connection through an ODBC driver. Transactions are begun and ended through the driver, since engines word them
/// differently: BEGIN, COMMIT and ROLLBACK are understood here.
class OdbcLink final : public EngineConnection {
public:
    OdbcLink(EnvironmentHandle environment, ConnectionHandle connection, bool isReadOnly);
    ~OdbcLink() override;

    Result<StatementResult> run(const sql::Statement& asked, RowSink& sink,
                                const base::Cancellation& cancellation) override;
    void cancel() override;
    bool isUsable() override;
    ConnectionState state() const override;
    sql::Dialect dialect() const override { return sql::Dialect::Ansi; }
    /// The interface knows no way to close a line for changes that all drivers keep, so what is sent is looked at here.
    Status enter(Access access, const base::Cancellation& /*cancellation*/) override {
        access_ = access;
        return {};
    }
    void leave(const base::Cancellation& /*cancellation*/) override { access_ = Access::AsIs; }
    Result<catalog::CatalogPtr> loadCatalog(const catalog::Request& request,
                                            const base::Cancellation& cancellation) override;
    Result<catalog::Definition> definition(const catalog::ObjectName& object,
                                           const base::Cancellation& cancellation) override;
    std::string serverVersion() override;
    std::string remark() const override;

private:
    struct Running;  // tells cancel() what runs, for as long as it does

    Status begin();
    Status end(bool isKept);
    Result<bool> readResult(SQLHANDLE statement, SQLSMALLINT columnCount, RowSink& sink,
                            const base::Cancellation& cancellation);

    EnvironmentHandle environment_;
    ConnectionHandle connection_;
    Crossing crossing_;
    bool isReadOnly_;
    Access access_ = Access::AsIs;
    bool isInTransaction_ = false;
    base::Mutex mutex_;
    SQLHANDLE running_ GUARDED_BY(mutex_) = nullptr;
    std::thread stopper_ GUARDED_BY(mutex_);
};

/// The catalog of a connection, from the driver's own catalog functions.
Result<catalog::CatalogPtr> loadCatalog(SQLHANDLE connection, Crossing crossing, const std::string& serverVersion,
                                        const catalog::Request& request, const base::Cancellation& cancellation);

}  // namespace pantry::db::odbc
