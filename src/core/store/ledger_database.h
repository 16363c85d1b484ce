#pragma once

#include <sqlite3.h>

#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/store/ledger.h"

namespace pantry::store {

/// One that is kept is reset at the end, so that it holds nothing of the file: others could not write.
struct EndStatement {
    bool isKept = false;
    void operator()(sqlite3_stmt* s) const {
        if (isKept) sqlite3_reset(s);
        if (!isKept) sqlite3_finalize(s);
    }
};
using LedgerStatement = std::unique_ptr<sqlite3_stmt, EndStatement>;

/// The ledger's file, as its own sources use it.
///
/// Threads: one at a time.
struct LedgerDatabase {
    sqlite3* db = nullptr;
    std::string path;

    LedgerDatabase() = default;
    LedgerDatabase(const LedgerDatabase&) = delete;
    LedgerDatabase& operator=(const LedgerDatabase&) = delete;
    ~LedgerDatabase() {
        kept_.clear();
        sqlite3_close_v2(db);
    }

    [[nodiscard]] Error error(int code) const;
    [[nodiscard]] Status execute(const char* sql) const;
    [[nodiscard]] Result<LedgerStatement> prepare(const std::string& sql) const;
    /// The same, prepared once and kept: what is done for each run of an import. One at a time for each text.
    [[nodiscard]] Result<LedgerStatement> kept(const char* sql) const;
    /// One step of a statement without rows, or the first row of one with.
    [[nodiscard]] Status step(const LedgerStatement& s) const;
    [[nodiscard]] Result<int> version() const;

    /// What our own statements compare texts with.
    [[nodiscard]] Status addFunctions() const;

    /// Brings a file of an older version to this one, all of it or nothing.
    /// Errors: TooNew for one that a newer version wrote.
    [[nodiscard]] Status bringUpToDate() const;

    /// Writes a run; `id` is one that it had before, 0 for a new one. Of its statement each text is there once.
    [[nodiscard]] Result<std::int64_t> insert(const LedgerEntry& entry, const std::string& process,
                                              std::int64_t id = 0) const;
    /// How often runs of a kind were there on a connection, and the last of them, counted anew.
    [[nodiscard]] Status renewFold(const std::string& connectionId, std::int64_t form) const;
    /// Puts what a run says besides its statement where words are looked for.
    [[nodiscard]] Status indexWords(std::int64_t id) const;

private:
    mutable std::map<std::string_view, LedgerStatement> kept_;
};

void bindText(const LedgerStatement& s, int index, std::string_view text);
void bindOptional(const LedgerStatement& s, int index, const std::optional<std::int64_t>& value);
/// Keeps the plan of a run; nothing is kept of an empty one.
[[nodiscard]] Status keepPlan(const LedgerDatabase& ledger, std::int64_t id, const std::string& plan);
[[nodiscard]] std::string columnText(const LedgerStatement& s, int index);
[[nodiscard]] std::optional<std::int64_t> columnOptional(const LedgerStatement& s, int index);
[[nodiscard]] RunStatus statusFrom(std::string_view word);

/// What is read of a run, in the order in which entryFrom() takes it; `run` and `statement` are the tables.
inline constexpr std::string_view kRunColumns =
    "run.run_id, run.started_at, run.connection_id, run.connection, run.environment, run.engine, run.server, "
    "run.database, run.schema, run.user, run.sheet, run.saved, statement.text, run.parameters, run.status, "
    "run.duration, run.fetching, run.row_count, run.affected, run.is_partial, run.error, run.error_code, "
    "run.error_place, run.note, run.is_starred, run.form, run.process, run.statement_id, "
    "(SELECT plan FROM run_plan WHERE run_plan.run_id = run.run_id)";
[[nodiscard]] LedgerEntry entryFrom(const LedgerStatement& s);

}  // namespace pantry::store
