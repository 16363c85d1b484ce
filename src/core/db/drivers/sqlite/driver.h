#pragma once

#include "core/db/driver.h"
#include "core/db/engine_traits.h"

namespace pantry::db {

/// SQLite files, through the engine's own library.
///
/// Options: busy_wait_ms, how long to wait for a lock (5000).
class SqliteDriver final : public Driver {
public:
    [[nodiscard]] static const EngineTraits& traits();

    Result<std::unique_ptr<EngineConnection>> open(const ConnectionProfile& profile,
                                                   const std::optional<std::string>& password,
                                                   const base::Cancellation& cancellation) const override;
    std::vector<TestStage> test(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                const base::Cancellation& cancellation) const override;
};

}  // namespace pantry::db
