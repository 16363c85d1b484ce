#pragma once

#include <chrono>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/data/chunk.h"
#include "core/data/column.h"
#include "core/db/catalog.h"
#include "core/db/profile.h"

namespace pantry::db {

/// Takes what a statement returns, as it comes.
class RowSink {
public:
    virtual ~RowSink() = default;

    virtual void columns(std::vector<data::Column> columns) = 0;

    /// Hands rows on; `isLast` when the driver knows that no more follow. May wait until somebody wants more; false
    /// when nobody will.
    virtual bool rows(data::ChunkPtr chunk, bool isLast) = 0;

    /// Rows to gather at most before handing them on: few at first, so that the first page shows at once.
    [[nodiscard]] virtual std::size_t rowsWanted() const = 0;

    /// Whether a long wait would be noticed: the link then hands on what it has.
    [[nodiscard]] virtual bool isHandOverDue() const = 0;
};

/// Values for the parameters of a statement by name, without the colon; nullopt is NULL.
using ParameterValues = std::map<std::string, std::optional<std::string>, std::less<>>;

/// What a statement did when it ended well.
struct StatementResult {
    bool hasRows = false;                      ///< it returned columns, though perhaps no row
    bool isComplete = true;                    ///< all its rows were read
    std::optional<std::int64_t> affectedRows;  ///< for statements that change rows
    std::vector<std::string> notices;          ///< what the server said beside
};

/// One open line to a database. An engine's driver makes it; a Session works it.
///
/// Threads: one at a time, except cancel().
class EngineLink {
public:
    virtual ~EngineLink() = default;

    /// Runs one statement to its end, or until the sink wants no more.
    virtual Result<StatementResult> run(std::string_view statement, const ParameterValues& parameters, RowSink& sink,
                                        const base::Cancellation& cancellation) = 0;

    /// Asks the engine to stop what runs now. From any thread; returns at once.
    virtual void cancel() = 0;

    virtual Result<CatalogPtr> loadCatalog(const base::Cancellation& cancellation) = 0;

    /// Engine and version for people: SQLite 3.40.
    [[nodiscard]] virtual std::string serverVersion() = 0;

    /// What the user may want to know about this line, such as “opened for reading only”; empty otherwise.
    [[nodiscard]] virtual std::string remark() const { return {}; }
};

/// One stage of a connection test.
struct TestStage {
    std::string name;            ///< what was tried, as a finished deed: “Found the file”
    std::optional<Error> error;  ///< why it failed
    std::chrono::microseconds duration{};
};

class Driver {
public:
    virtual ~Driver() = default;

    /// Opens a line. Errors: NotFound, Permission, Busy, Damaged, Connection.
    virtual Result<std::unique_ptr<EngineLink>> open(const ConnectionProfile& profile,
                                                     const std::optional<std::string>& password,
                                                     const base::Cancellation& cancellation) const = 0;

    /// Tries a profile stage by stage, up to the first that fails.
    virtual std::vector<TestStage> test(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                        const base::Cancellation& cancellation) const = 0;
};

/// The driver of an engine, or an Error when this build has none.
Result<const Driver*> driverFor(Engine engine);

/// Engines that this build can connect to.
[[nodiscard]] std::vector<Engine> availableEngines();

}  // namespace pantry::db
