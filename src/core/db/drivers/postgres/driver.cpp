#include "core/db/drivers/postgres/driver.h"

#include "core/db/connecting.h"
#include "core/db/drivers/postgres/link.h"

namespace pantry::db {
namespace {

constexpr std::uint16_t kPostgresPort = 5432;

Result<std::unique_ptr<EngineConnection>> signIntoPostgres(const ConnectionProfile& profile,
                                                           const std::optional<std::string>& password,
                                                           const base::Cancellation& cancellation) {
    auto connection = postgres::connect(profile, password, cancellation);
    if (!connection) return connection.error();
    auto link = std::make_unique<postgres::PostgresLink>(std::move(*connection), profile);
    if (Status status = link->prepare(cancellation); !status) return status.error();
    return std::unique_ptr<EngineConnection>(std::move(link));
}

}  // namespace

Result<std::unique_ptr<EngineConnection>> PostgresDriver::open(const ConnectionProfile& profile,
                                                               const std::optional<std::string>& password,
                                                               const base::Cancellation& cancellation) const {
    return openServer([&] { return signIntoPostgres(profile, password, cancellation); }, profile, cancellation);
}

std::vector<TestStage> PostgresDriver::test(const ConnectionProfile& profile,
                                            const std::optional<std::string>& password,
                                            const base::Cancellation& cancellation) const {
    return testServer([&] { return signIntoPostgres(profile, password, cancellation); }, profile, kPostgresPort,
                      cancellation);
}

}  // namespace pantry::db
