#include "core/db/drivers/mariadb/driver.h"

#include "core/db/connecting.h"
#include "core/db/drivers/mariadb/link.h"

namespace pantry::db {
namespace {

constexpr std::uint16_t kMariaDbPort = 3306;

Result<std::unique_ptr<EngineConnection>> signIntoMariaDb(const ConnectionProfile& profile,
                                                          const std::optional<std::string>& password,
                                                          const base::Cancellation& cancellation) {
    auto connection = mariadb::connect(profile, password, cancellation);
    if (!connection) return connection.error();
    auto link = std::make_unique<mariadb::MariaDbLink>(std::move(*connection), profile, password);
    if (Status status = link->prepare(cancellation); !status) return status.error();
    return std::unique_ptr<EngineConnection>(std::move(link));
}

}  // namespace

Result<std::unique_ptr<EngineConnection>> MariaDbDriver::open(const ConnectionProfile& profile,
                                                              const std::optional<std::string>& password,
                                                              const base::Cancellation& cancellation) const {
    return openServer([&] { return signIntoMariaDb(profile, password, cancellation); }, profile, cancellation);
}

std::vector<TestStage> MariaDbDriver::test(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                           const base::Cancellation& cancellation) const {
    return testServer([&] { return signIntoMariaDb(profile, password, cancellation); }, profile, kMariaDbPort,
                      cancellation);
}

}  // namespace pantry::db
