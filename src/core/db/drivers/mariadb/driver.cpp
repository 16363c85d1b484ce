#include "core/db/drivers/mariadb/driver.h"

#include "core/db/connecting.h"
#include "core/db/drivers/mariadb/link.h"

namespace pantry::db {

Result<std::unique_ptr<EngineLink>> MariaDbDriver::open(const ConnectionProfile& profile,
                                                        const std::optional<std::string>& password,
                                                        const base::Cancellation& cancellation) const {
    auto connection = mariadb::connect(profile, password, cancellation);
    if (!connection) return connection.error();
    auto link = std::make_unique<mariadb::MariaDbLink>(std::move(*connection), profile, password);
    if (Status status = link->prepare(cancellation); !status) return status.error();
    if (Status status = runOnConnect(*link, profile, cancellation); !status) return status.error();
    return std::unique_ptr<EngineLink>(std::move(link));
}

std::vector<TestStage> MariaDbDriver::test(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                           const base::Cancellation& cancellation) const {
    TestStages stages;
    std::unique_ptr<mariadb::MariaDbLink> link;
    const bool isOpen = stages.tryOne("Reached the server and signed in", [&]() -> Status {
        auto connection = mariadb::connect(profile, password, cancellation);
        if (!connection) return connection.error();
        link = std::make_unique<mariadb::MariaDbLink>(std::move(*connection), profile, password);
        return link->prepare(cancellation);
    });
    if (!isOpen) return stages.take();
    stages.rename("Reached the server and signed in: " + link->serverVersion());
    const std::string remark = link->remark();
    if (!remark.empty()) stages.tryOne("The line is " + remark, [] { return Status(); });
    stages.finishWith(*link, profile, cancellation);
    return stages.take();
}

}  // namespace pantry::db
