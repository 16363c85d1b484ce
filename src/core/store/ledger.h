#pragma once

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/time.h"

namespace pantry::store {

enum class RunStatus { Running, Succeeded, Failed, Stopped, Interrupted };
[[nodiscard]] std::string_view statusWord(RunStatus status);

/// What is known of a run when it starts.
struct RunStart {
    std::string connectionId;
    std::string connectionName;
    std::string environment;
    std::string engine;
    std::string database;
    std::string user;
    std::string statement;        ///< kept without its secrets: see sql::withoutSecrets
    std::string sheet;            ///< the sheet's title; empty from the command line
    std::string parameters = {};  ///< what they stood for, as people read it, secrets hidden; empty without any
};

/// What is known when it ends.
struct RunEnd {
    RunStatus status = RunStatus::Succeeded;
    std::chrono::microseconds duration{};
    std::optional<std::int64_t> rows;  ///< returned, as far as they were read
    std::optional<std::int64_t> affected;
    bool isPartial = false;  ///< more rows were there
    std::string error;
};

struct LedgerEntry {
    std::int64_t id = 0;
    base::Moment startedAt{};
    RunStart start;
    RunEnd end;
};

struct LedgerQuery {
    std::string connectionId;        ///< empty: all connections
    std::vector<std::string> words;  ///< each must occur in statement, error, sheet or connection
    bool onlyFailed = false;
    bool onlySlow = false;  ///< a second or more
    std::optional<base::Moment> since;
    std::optional<std::int64_t> rowsAbove;
    std::int64_t beforeId = 0;  ///< older than this entry; 0 begins with the newest
    std::size_t limit = 200;
};

/// Reads what people type to search: words, and failed, slow, today, rows>1000 among them.
[[nodiscard]] LedgerQuery parseLedgerSearch(std::string_view text, base::Moment now);

/// The history of everything that ran, on disk. A run is written when it starts, so that a crash leaves it there; an
/// entry whose process is gone counts as interrupted.
///
/// Threads: one at a time; other processes may use the same file.
class Ledger {
public:
    /// Errors: TooNew for one that a newer version wrote (it is not changed), Permission, Io, Damaged.
    static Result<std::unique_ptr<Ledger>> open(const std::filesystem::path& path);
    ~Ledger();
    Ledger(const Ledger&) = delete;
    Ledger& operator=(const Ledger&) = delete;

    Result<std::int64_t> start(const RunStart& run, base::Moment when);
    Status end(std::int64_t id, const RunEnd& end);
    Status remove(std::int64_t id);

    /// Newest first.
    Result<std::vector<LedgerEntry>> find(const LedgerQuery& query) const;

    /// How often each connection ran something, and when last.
    struct Usage {
        std::string connectionId;
        std::int64_t runs = 0;
        base::Moment last{};
    };
    Result<std::vector<Usage>> usage() const;

private:
    struct Impl;
    explicit Ledger(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> impl_;
};

}  // namespace pantry::store
