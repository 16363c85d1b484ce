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

    Result<data::ResultSetPtr> wait(RunHandle& run, std::optional<std::chrono::milliseconds> limit) {
        std::future<Status> end = end_.get_future();
        if (limit && end.wait_for(*limit) == std::future_status::timeout) run.cancel();
        const Status status = end.get();
        if (!status) return status.error();
        return result_;
    }

private:
    data::ResultSetPtr result_;
    std::promise<Status> end_;
};

}  // namespace

Result<data::ResultSetPtr> runAndWait(Session& session, sql::Statement statement,
                                      std::optional<std::chrono::milliseconds> limit) {
    const auto waiter = std::make_shared<Waiter>();
    RunHandle run = session.execute({.statement = std::move(statement), .pageRows = std::nullopt}, waiter);
    return waiter->wait(run, limit);
}

}  // namespace pantry::db
