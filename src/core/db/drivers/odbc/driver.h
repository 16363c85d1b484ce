#pragma once

#include "core/db/driver.h"
#include "core/db/engine_traits.h"

namespace pantry::db {

/// Whatever has an ODBC driver, through the system's driver manager (unixODBC).
///
/// A profile's database is the name of a data source, or the pairs of a connection string: DRIVER={…};Server=…
/// Left out: what ODBC does not know, such as databases of a server, routines' definitions, and places of errors.
class OdbcDriver final : public Driver {
public:
    [[nodiscard]] static const EngineTraits& traits();

    Result<std::unique_ptr<EngineConnection>> open(const ConnectionProfile& profile,
                                                   const std::optional<std::string>& password,
                                                   const base::Cancellation& cancellation) const override;
    std::vector<TestStage> test(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                const base::Cancellation& cancellation) const override;
};

/// Names of the data sources that are set up on this machine.
[[nodiscard]] std::vector<std::string> odbcSources();

}  // namespace pantry::db
