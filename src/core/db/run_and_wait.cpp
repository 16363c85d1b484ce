#include "core/db/run_and_wait.h"

#include <future>

namespace pantry::db {
namespace {

class Waiter final : public RunObserver {
public:
    void started(base::Moment /*when*/) override {}
    void columns(data::ResultSetPtr result) override { result_ = std::move(result); }
    void rows(std::size_t /*rowCount*/) override {}
    void notice(const Notice& /*notice*/) override {}
    void paused(std::size_t /*rowCount*/) override {}
    void finished(const RunSummary& /*summary*/) override { end_.set_value({}); }
    void failed(const Error& error, const RunSummary& /*summary*/) override { end_.set_value(error); }

    Result<data::ResultSetPtr> wait() {
        const Status status = end_.get_future().get();
        if (!status) return status.error();
        return result_;
    }

private:
    data::ResultSetPtr result_;
    std::promise<Status> end_;
};

}  // namespace

Result<data::ResultSetPtr> runAndWait(Session& session, sql::Statement statement) {
    const auto waiter = std::make_shared<Waiter>();
    session.execute({.statement = std::move(statement), .pageRows = std::nullopt}, waiter);
    return waiter->wait();
}

}  // namespace pantry::db
