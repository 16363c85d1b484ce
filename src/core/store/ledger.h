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
#include "core/sql/text/dialect.h"
#include "core/store/ledger_search.h"

namespace pantry::store {

enum class RunStatus { Running, Succeeded, Failed, Stopped, Interrupted, HeldBack };
[[nodiscard]] std::string_view statusWord(RunStatus status);

/// What is known of a run when it starts.
struct RunStart {
    std::string connectionId;
    std::string connectionName;
    std::string environment;
    std::string engine;
    std::string server = {};  ///< where it listens: a host with its port, a socket, or the file
    std::string database = {};
    std::string schema = {};  ///< where names are looked for first; empty where nobody chose one
    std::string user = {};
    std::string statement;        ///< kept without its secrets: see sql::withoutSecrets
    std::string sheet = {};       ///< the sheet's title; empty from the command line
    std::string saved = {};       ///< the saved query that it came from; empty for none
    std::string parameters = {};  ///< what they stood for, as people read it, secrets hidden; empty without any
};

/// What is known when it ends.
struct RunEnd {
    RunStatus status = RunStatus::Succeeded;
    std::chrono::microseconds duration{};  ///< fetching included
    std::chrono::microseconds fetching{};  ///< of it, reading rows
    std::optional<std::int64_t> rows;      ///< returned, as far as they were read
    std::optional<std::int64_t> affected;
    bool isPartial = false;  ///< more rows were there
    std::string error = {};
    std::string errorCode = {};                   ///< SQLSTATE, or the engine's own
    std::optional<std::int64_t> errorPlace = {};  ///< byte of the statement
    std::string plan = {};  ///< what the server answered to a statement that asked for its plan, as lines of text
};

struct LedgerEntry {
    std::int64_t id = 0;
    base::Moment startedAt{};
    RunStart start;
    RunEnd end;
    std::string note = {};
    bool isStarred = false;
    std::int64_t form = 0;         ///< the same for statements that differ in nothing but values; see sql::Fingerprint
    std::int64_t statementId = 0;  ///< the same for the same text
};

/// Whether two runs are one entry of a list.
[[nodiscard]] inline bool areAlike(const LedgerEntry& a, const LedgerEntry& b, LedgerAlike alike) {
    if (a.start.connectionId != b.start.connectionId) return false;
    return alike == LedgerAlike::Text ? a.statementId == b.statementId : a.form == b.form;
}

/// Where a list of entries goes on: behind this one.
struct LedgerPlace {
    base::Moment startedAt{};
    std::int64_t id = 0;
};

struct LedgerQuery {
    std::vector<std::string> connections = {};  ///< by their identities; empty: all
    LedgerSearch search = {};
    std::optional<LedgerPlace> behind = {};  ///< nothing begins with the newest
    std::size_t limit = 200;
};

/// Runs that are one entry of a list: of one connection, and the same but for values.
struct LedgerFold {
    LedgerEntry last;
    std::int64_t runs = 1;  ///< in all, whatever is searched for
    /// The last of them, the oldest first: what became of their durations and rows.
    struct Point {
        std::int64_t id = 0;
        base::Moment startedAt{};
        RunStatus status = RunStatus::Succeeded;
        std::chrono::microseconds duration{};
        std::optional<std::int64_t> rows;
    };
    static constexpr std::size_t kMostPoints = 12;
    std::vector<Point> points;
};

struct LedgerPage {
    std::vector<LedgerFold> folds;         ///< by their last run that fits, the newest first
    std::optional<LedgerPlace> next = {};  ///< where it goes on; nothing at the end
};

struct LedgerStatistics;  // core/store/ledger_statistics.h

/// The history of everything that ran, on disk. A run is written when it starts, so that a crash leaves it there; an
/// entry whose process is gone counts as interrupted.
///
/// Threads: one at a time; other processes may use the same file.
/// Cost:    findFolded() takes some milliseconds, however many runs there are: where no index leads to what is looked
///          for, it looks at so many runs and tells where it goes on. find() goes on until it has what was asked for.
class Ledger {
public:
    /// Errors: TooNew for one that a newer version wrote (it is not changed), Permission, Io, Damaged.
    static Result<std::unique_ptr<Ledger>> open(const std::filesystem::path& path);
    ~Ledger();
    Ledger(const Ledger&) = delete;
    Ledger& operator=(const Ledger&) = delete;

    Result<std::int64_t> start(const RunStart& run, base::Moment when);
    Status end(std::int64_t id, const RunEnd& end);
    /// Takes entries away; what they were comes back, so that restore() can undo it.
    Result<std::vector<LedgerEntry>> remove(const std::vector<std::int64_t>& ids);
    /// Puts removed entries back, under the same numbers.
    Status restore(const std::vector<LedgerEntry>& entries);
    Status setStarred(std::int64_t id, bool isStarred);
    Status setNote(std::int64_t id, const std::string& note);
    /// Adds entries of elsewhere, all of them or none; those that are there already, by moment, connection and
    /// statement, are left out.
    /// Returns: how many were new.
    Result<std::size_t> import(const std::vector<LedgerEntry>& entries);

    /// Takes away what is older than a moment, and of the rest the oldest beyond so many runs; starred ones and those
    /// with a note stay.
    /// Returns: how many went.
    Result<std::int64_t> thin(std::optional<base::Moment> olderThan, std::optional<std::int64_t> most);

    /// Newest first.
    Result<std::vector<LedgerEntry>> find(const LedgerQuery& query) const;
    /// The same with equal runs as one. A page may have fewer than asked for and still go on, where many runs had to be
    /// looked at; and what was on a page before may come again, for another run of it.
    Result<LedgerPage> findFolded(const LedgerQuery& query) const;
    /// Runs of one connection that are alike, the newest first.
    Result<std::vector<LedgerEntry>> runsLike(const LedgerEntry& entry, std::size_t limit,
                                              LedgerAlike alike = LedgerAlike::Form) const;
    /// The runs that began at a moment.
    Result<std::vector<LedgerEntry>> runsAt(base::Moment moment) const;

    /// The last run on a connection that went well, of a statement that is the same but for its layout; nothing when
    /// there is none.
    Result<std::optional<LedgerEntry>> lastGoodRun(const std::string& connectionId, const std::string& statement,
                                                   const sql::Language& language) const;

    /// The last run of a saved query, by its place on the shelf; nothing when there is none.
    Result<std::optional<LedgerEntry>> lastOfSaved(const std::string& saved) const;

    /// Counts the runs since a moment, of some connections, or of all.
    /// Cost: looks at every one, some seconds for a million: a ledger opened for it alone keeps others from waiting.
    Result<LedgerStatistics> statistics(const std::vector<std::string>& connections, base::Moment since) const;

    /// How often each connection ran something, and when last.
    struct Usage {
        std::string connectionId;
        std::int64_t runs = 0;
        base::Moment last{};
    };
    Result<std::vector<Usage>> usage() const;

private:
    struct Impl;
    static Result<std::unique_ptr<Ledger>> openOnce(const std::filesystem::path& path);
    explicit Ledger(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> impl_;
};

}  // namespace pantry::store
