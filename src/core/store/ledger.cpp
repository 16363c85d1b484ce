#include "core/store/ledger.h"

#include <fmt/format.h>
#include <sqlite3.h>
#include <sys/stat.h>

#include <chrono>
#include <set>
#include <thread>

#include "core/base/file.h"
#include "core/db/profile.h"
#include "core/sql/meaning/secrets.h"
#include "core/store/ledger_impl.h"
#include "core/store/process_identity.h"

namespace pantry::store {
namespace {

constexpr int kBusyWaitMs = 3000;

/// Runs whose process is gone will never be ended by it.
Status closeInterrupted(const LedgerDatabase& file) {
    auto s = file.prepare("SELECT DISTINCT process FROM run WHERE status = 'running'");
    if (!s) return s.error();
    std::vector<std::string> gone;
    while (sqlite3_step(s->get()) == SQLITE_ROW) {
        std::string process = columnText(*s, 0);
        if (!isRunning(process)) gone.push_back(std::move(process));
    }
    s->reset();
    for (const std::string& process : gone) {
        auto update = file.prepare("UPDATE run SET status = 'interrupted' WHERE status = 'running' AND process = ?");
        if (!update) return update.error();
        bindText(*update, 1, process);
        if (Status status = file.step(*update); !status) return status;
    }
    return {};
}

/// All of it, or nothing.
template <class Work>
Status inTransaction(const LedgerDatabase& file, const Work& work) {
    if (Status status = file.execute("BEGIN IMMEDIATE"); !status) return status;
    if (Status status = work(); !status) {
        (void)file.execute("ROLLBACK");
        return status;
    }
    return file.execute("COMMIT");
}

std::string withoutSecrets(const RunStart& run) {
    const auto engine = db::engineFromWord(run.engine);
    return sql::withoutSecrets(run.statement, engine ? db::dialectOf(*engine) : sql::Dialect::Sqlite);
}

Result<std::vector<LedgerEntry>> entriesWith(const LedgerDatabase& file, const std::vector<std::int64_t>& ids) {
    auto s = file.prepare(
        fmt::format("SELECT {} FROM run JOIN statement USING (statement_id) WHERE run_id = ?", kRunColumns));
    if (!s) return s.error();
    std::vector<LedgerEntry> entries;
    for (const std::int64_t id : ids) {
        sqlite3_reset(s->get());
        sqlite3_bind_int64(s->get(), 1, id);
        const int code = sqlite3_step(s->get());
        if (code == SQLITE_ROW) entries.push_back(entryFrom(*s));
        if (code != SQLITE_ROW && code != SQLITE_DONE) return file.error(code);
    }
    return entries;
}

/// Statements that no run has any more, and what was counted of runs that are gone.
Status tidyUp(const LedgerDatabase& file, const std::vector<LedgerEntry>& gone) {
    std::set<std::pair<std::string, std::int64_t>> folds;
    std::set<std::int64_t> statements;
    for (const LedgerEntry& one : gone) {
        folds.emplace(one.start.connectionId, one.form);
        statements.insert(one.statementId);
    }
    for (const auto& [connection, form] : folds) {
        if (Status status = file.renewFold(connection, form); !status) return status;
    }
    auto s = file.prepare(
        "DELETE FROM statement WHERE statement_id = ?1 AND NOT EXISTS (SELECT 1 FROM run WHERE statement_id = ?1)");
    if (!s) return s.error();
    for (const std::int64_t id : statements) {
        sqlite3_reset(s->get());
        sqlite3_bind_int64(s->get(), 1, id);
        if (Status status = file.step(*s); !status) return status;
    }
    return {};
}

Status removeRows(const LedgerDatabase& file, const std::vector<LedgerEntry>& entries) {
    for (const char* sql : {"DELETE FROM run WHERE run_id = ?", "DELETE FROM run_words WHERE rowid = ?"}) {
        auto s = file.prepare(sql);
        if (!s) return s.error();
        for (const LedgerEntry& one : entries) {
            sqlite3_reset(s->get());
            sqlite3_bind_int64(s->get(), 1, one.id);
            if (Status status = file.step(*s); !status) return status;
        }
    }
    return tidyUp(file, entries);
}

}  // namespace

Ledger::Ledger(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}
Ledger::~Ledger() = default;

/// Of programs that open a new file at the same moment, SQLite sends some away at once, without the patience that it
/// has otherwise: those ask again.
Result<std::unique_ptr<Ledger>> Ledger::open(const std::filesystem::path& path) {
    constexpr std::chrono::milliseconds kStep(20);
    for (std::chrono::milliseconds waited(0);; waited += kStep) {
        auto opened = openOnce(path);
        // While another one closes the file, what belongs to it is gone for a moment: that looks like a missing right.
        constexpr int kClosingMs = 200;
        const auto kind = opened ? ErrorKind::Internal : opened.error().kind;
        const int patience = kind == ErrorKind::Busy ? kBusyWaitMs : kind == ErrorKind::Permission ? kClosingMs : 0;
        if (opened || waited.count() >= patience) return opened;
        std::this_thread::sleep_for(kStep);
    }
}

Result<std::unique_ptr<Ledger>> Ledger::openOnce(const std::filesystem::path& path) {
    auto impl = std::make_unique<Impl>();
    LedgerDatabase& file = impl->file;
    file.path = path.string();
    struct stat info {};
    if (::stat(path.c_str(), &info) == 0 && !S_ISREG(info.st_mode)) {
        return Error{.kind = ErrorKind::Damaged,
                     .message = fmt::format("{} is no file that runs can be kept in.", path.string()),
                     .hint = "Move it away; runs are not kept until then."};
    }
    // A database would wait for ever for a lock that nobody can have.
    if (Status locks = base::checkLocks(path.parent_path()); !locks && locks.error().kind == ErrorKind::Io) {
        Error error = locks.error();
        error.message += " The ledger needs that: runs are not kept.";
        error.hint = "Choose a home folder on this machine, with --home or AGILE_PANTRY_HOME.";
        return error;
    }
    const mode_t mask = ::umask(0077);  // the history is its owner's alone
    const int code = sqlite3_open_v2(path.c_str(), &file.db,
                                     SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE | SQLITE_OPEN_FULLMUTEX, nullptr);
    ::umask(mask);
    if (code != SQLITE_OK) return file.error(code);
    sqlite3_busy_timeout(file.db, kBusyWaitMs);
    if (auto version = file.version(); !version) return version.error();
    if (Status status = file.execute(
            "PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL; PRAGMA cache_size = -16384; PRAGMA mmap_size = "
            "1073741824");
        !status)
        return status.error();
    if (Status status = file.addFunctions(); !status) return status.error();
    if (Status status = file.bringUpToDate(); !status) return status.error();
    if (Status status = closeInterrupted(file); !status) return status.error();
    return std::unique_ptr<Ledger>(new Ledger(std::move(impl)));
}

Result<std::int64_t> Ledger::start(const RunStart& run, base::Moment when) {
    LedgerEntry entry{.startedAt = when, .start = run, .end = {.status = RunStatus::Running}};
    entry.start.statement = withoutSecrets(run);
    std::int64_t id = 0;
    const Status done = inTransaction(impl_->file, [&]() -> Status {
        const auto written = impl_->file.insert(entry, thisProcess());
        if (!written) return written.error();
        id = *written;
        return {};
    });
    if (!done) return done.error();
    return id;
}

Status Ledger::end(std::int64_t id, const RunEnd& end) {
    auto s = impl_->file.prepare(
        "UPDATE run SET status = ?, duration = ?, fetching = ?, row_count = ?, affected = ?, is_partial = ?, error = "
        "?, "
        "error_code = ?, error_place = ? WHERE run_id = ?");
    if (!s) return s.error();
    bindText(*s, 1, statusWord(end.status));
    sqlite3_bind_int64(s->get(), 2, end.duration.count());
    sqlite3_bind_int64(s->get(), 3, end.fetching.count());
    bindOptional(*s, 4, end.rows);
    bindOptional(*s, 5, end.affected);
    sqlite3_bind_int(s->get(), 6, end.isPartial ? 1 : 0);
    bindText(*s, 7, end.error);
    bindText(*s, 8, end.errorCode);
    bindOptional(*s, 9, end.errorPlace);
    sqlite3_bind_int64(s->get(), 10, id);
    if (Status status = impl_->file.step(*s); !status) return status;
    if (Status status = keepPlan(impl_->file, id, end.plan); !status || end.error.empty()) return status;
    return impl_->file.indexWords(id);
}

Result<std::vector<LedgerEntry>> Ledger::remove(const std::vector<std::int64_t>& ids) {
    std::vector<LedgerEntry> gone;
    const Status done = inTransaction(impl_->file, [&]() -> Status {
        auto entries = entriesWith(impl_->file, ids);
        if (!entries) return entries.error();
        gone = std::move(*entries);
        return removeRows(impl_->file, gone);
    });
    if (!done) return done.error();
    return gone;
}

Status Ledger::restore(const std::vector<LedgerEntry>& entries) {
    return inTransaction(impl_->file, [&]() -> Status {
        for (const LedgerEntry& one : entries) {
            const auto written = impl_->file.insert(one, thisProcess(), one.id);
            if (!written) return written.error();
        }
        return {};
    });
}

Status Ledger::setStarred(std::int64_t id, bool isStarred) {
    auto s = impl_->file.prepare("UPDATE run SET is_starred = ? WHERE run_id = ?");
    if (!s) return s.error();
    sqlite3_bind_int(s->get(), 1, isStarred ? 1 : 0);
    sqlite3_bind_int64(s->get(), 2, id);
    return impl_->file.step(*s);
}

Status Ledger::setNote(std::int64_t id, const std::string& note) {
    auto s = impl_->file.prepare("UPDATE run SET note = ? WHERE run_id = ?");
    if (!s) return s.error();
    bindText(*s, 1, note);
    sqlite3_bind_int64(s->get(), 2, id);
    if (Status status = impl_->file.step(*s); !status) return status;
    return impl_->file.indexWords(id);
}

Result<std::size_t> Ledger::import(const std::vector<LedgerEntry>& entries) {
    std::size_t added = 0;
    const Status done = inTransaction(impl_->file, [&]() -> Status {
        auto there = impl_->file.prepare(
            "SELECT 1 FROM run JOIN statement USING (statement_id) WHERE started_at = ? AND connection_id = ? AND text "
            "= "
            "? LIMIT 1");
        if (!there) return there.error();
        for (LedgerEntry one : entries) {
            one.start.statement = withoutSecrets(one.start);
            sqlite3_reset(there->get());
            sqlite3_bind_int64(there->get(), 1, base::toMicroseconds(one.startedAt));
            bindText(*there, 2, one.start.connectionId);
            bindText(*there, 3, one.start.statement);
            const int code = sqlite3_step(there->get());
            if (code == SQLITE_ROW) continue;
            if (code != SQLITE_DONE) return impl_->file.error(code);
            const bool isOver = one.end.status != RunStatus::Running;
            if (!isOver) one.end.status = RunStatus::Interrupted;  // elsewhere, whatever became of it
            const auto written = impl_->file.insert(one, "");
            if (!written) return written.error();
            ++added;
        }
        return {};
    });
    if (!done) return done.error();
    return added;
}

Result<std::int64_t> Ledger::thin(std::optional<base::Moment> olderThan, std::optional<std::int64_t> most) {
    std::int64_t gone = 0;
    const auto removeWhere = [&](const std::string& condition) -> Status {
        const LedgerDatabase& file = impl_->file;
        const std::string which =
            fmt::format("FROM run WHERE is_starred = 0 AND note = '' AND status <> 'running' AND {}", condition);
        if (Status status =
                file.execute(fmt::format("DELETE FROM run_words WHERE rowid IN (SELECT run_id {})", which).c_str());
            !status)
            return status;
        if (Status status = file.execute(("DELETE " + which).c_str()); !status) return status;
        gone += sqlite3_changes64(file.db);
        return {};
    };
    const Status done = inTransaction(impl_->file, [&]() -> Status {
        if (olderThan) {
            const auto condition = fmt::format("started_at < {}", base::toMicroseconds(*olderThan));
            if (Status status = removeWhere(condition); !status) return status;
        }
        if (most) {
            const auto condition = fmt::format(
                "run_id IN (SELECT run_id FROM run ORDER BY started_at DESC, run_id DESC LIMIT -1 OFFSET {})", *most);
            if (Status status = removeWhere(condition); !status) return status;
        }
        if (gone == 0) return {};
        return impl_->file.execute(
            "DELETE FROM statement WHERE statement_id NOT IN (SELECT statement_id FROM run); DELETE FROM fold; "
            "INSERT INTO fold (connection_id, form, last_at, last_run, runs) SELECT connection_id, form, "
            "max(started_at), "
            "run_id, count(*) FROM run GROUP BY connection_id, form");
    });
    if (!done) return done.error();
    return gone;
}

Result<std::vector<Ledger::Usage>> Ledger::usage() const {
    auto s = impl_->file.prepare("SELECT connection_id, sum(runs), max(last_at) FROM fold GROUP BY connection_id");
    if (!s) return s.error();
    std::vector<Usage> usage;
    int code = sqlite3_step(s->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) {
        usage.push_back({columnText(*s, 0), sqlite3_column_int64(s->get(), 1),
                         base::fromMicroseconds(sqlite3_column_int64(s->get(), 2))});
    }
    if (code != SQLITE_DONE) return impl_->file.error(code);
    return usage;
}

}  // namespace pantry::store
