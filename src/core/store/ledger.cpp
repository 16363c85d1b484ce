#include "core/store/ledger.h"

#include <fmt/format.h>
#include <sqlite3.h>
#include <sys/stat.h>

#include <array>
#include <charconv>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/db/profile.h"
#include "core/sql/meaning/secrets.h"
#include "core/store/process_identity.h"

namespace pantry::store {
namespace {

constexpr int kBusyWaitMs = 3000;
constexpr std::int64_t kSlowMicroseconds = 1'000'000;
constexpr std::size_t kShortestIndexedWord = 3;  // the trigram index finds nothing shorter

constexpr std::array<std::string_view, 5> kStatusWords{"running", "ok", "failed", "stopped", "interrupted"};

/// What leads from no ledger to the first version.
constexpr const char* kFirstVersion = R"(
CREATE TABLE run (
    run_id        INTEGER PRIMARY KEY AUTOINCREMENT,
    started_at    INTEGER NOT NULL,  -- microseconds since 1970, UTC
    connection_id TEXT NOT NULL,
    connection    TEXT NOT NULL,
    environment   TEXT NOT NULL,
    engine        TEXT NOT NULL,
    database      TEXT NOT NULL,
    user          TEXT NOT NULL,
    sheet         TEXT NOT NULL,
    statement     TEXT NOT NULL,
    status        TEXT NOT NULL,
    duration      INTEGER NOT NULL DEFAULT 0,  -- microseconds
    row_count     INTEGER,
    affected      INTEGER,
    is_partial    INTEGER NOT NULL DEFAULT 0,
    error         TEXT NOT NULL DEFAULT '',
    process       TEXT NOT NULL
);
CREATE INDEX run_by_connection ON run (connection_id, run_id);
CREATE VIRTUAL TABLE run_text USING fts5 (statement, error, sheet, connection, content = 'run',
                                          content_rowid = 'run_id', tokenize = 'trigram');
CREATE TRIGGER run_inserted AFTER INSERT ON run BEGIN
    INSERT INTO run_text (rowid, statement, error, sheet, connection)
    VALUES (new.run_id, new.statement, new.error, new.sheet, new.connection);
END;
CREATE TRIGGER run_deleted AFTER DELETE ON run BEGIN
    INSERT INTO run_text (run_text, rowid, statement, error, sheet, connection)
    VALUES ('delete', old.run_id, old.statement, old.error, old.sheet, old.connection);
END;
CREATE TRIGGER run_updated AFTER UPDATE OF statement, error, sheet, connection ON run BEGIN
    INSERT INTO run_text (run_text, rowid, statement, error, sheet, connection)
    VALUES ('delete', old.run_id, old.statement, old.error, old.sheet, old.connection);
    INSERT INTO run_text (rowid, statement, error, sheet, connection)
    VALUES (new.run_id, new.statement, new.error, new.sheet, new.connection);
END;
)";

/// The step at a place leads from that version to the next; a new version is a step behind the last. What is there is
/// never changed, since ledgers of every version are about.
constexpr const char* kWithParameters = "ALTER TABLE run ADD COLUMN parameters TEXT NOT NULL DEFAULT '';";
constexpr std::array kSteps{kFirstVersion, kWithParameters};
constexpr int kLedgerVersion = static_cast<int>(kSteps.size());

struct Finalize {
    void operator()(sqlite3_stmt* s) const { sqlite3_finalize(s); }
};
using Statement = std::unique_ptr<sqlite3_stmt, Finalize>;

Error ledgerError(sqlite3* db, int code, const std::string& path) {
    const int primary = code & 0xFF;
    if (primary == SQLITE_NOTADB || primary == SQLITE_CORRUPT) {
        return {.kind = ErrorKind::Damaged,
                .message = fmt::format("The ledger {} is damaged.", path),
                .hint = "Move the file away to begin a new one; nothing in it was changed."};
    }
    if (primary == SQLITE_BUSY) {
        return {.kind = ErrorKind::Busy, .message = "The ledger is in use by another program.", .hint = "Try again."};
    }
    const bool isRight = primary == SQLITE_READONLY || primary == SQLITE_CANTOPEN || primary == SQLITE_PERM;
    return {.kind = isRight ? ErrorKind::Permission : ErrorKind::Io,
            .message = fmt::format("The ledger {} cannot be {}: {}.", path, isRight ? "opened" : "written",
                                   db == nullptr ? sqlite3_errstr(code) : sqlite3_errmsg(db)),
            .hint = "Choose another home folder with --home, or see to the rights of this one."};
}

void bindText(const Statement& s, int index, const std::string& text) {
    sqlite3_bind_text(s.get(), index, text.data(), static_cast<int>(text.size()), SQLITE_TRANSIENT);
}

void bindOptional(const Statement& s, int index, const std::optional<std::int64_t>& value) {
    if (value) {
        sqlite3_bind_int64(s.get(), index, *value);
    } else {
        sqlite3_bind_null(s.get(), index);
    }
}

std::string columnText(const Statement& s, int index) {
    const auto* text = reinterpret_cast<const char*>(sqlite3_column_text(s.get(), index));
    return text == nullptr ? std::string()
                           : std::string(text, static_cast<std::size_t>(sqlite3_column_bytes(s.get(), index)));
}

std::optional<std::int64_t> columnOptional(const Statement& s, int index) {
    if (sqlite3_column_type(s.get(), index) == SQLITE_NULL) return std::nullopt;
    return sqlite3_column_int64(s.get(), index);
}

RunStatus statusFrom(std::string_view word) {
    for (std::size_t i = 0; i < kStatusWords.size(); ++i) {
        if (kStatusWords[i] == word) return static_cast<RunStatus>(i);
    }
    return RunStatus::Interrupted;
}

/// A word as a phrase of the full-text index: quotes doubled, in quotes.
std::string phrase(const std::string& word) {
    std::string out = "\"";
    for (const char c : word) out += c == '"' ? "\"\"" : std::string(1, c);
    return out + "\"";
}

std::string likePattern(const std::string& word) {
    std::string out = "%";
    for (const char c : word) {
        if (c == '%' || c == '_' || c == '\\') out += '\\';
        out += c;
    }
    return out + "%";
}

}  // namespace

std::string_view statusWord(RunStatus status) { return kStatusWords[static_cast<std::size_t>(status)]; }

LedgerQuery parseLedgerSearch(std::string_view text, base::Moment now) {
    LedgerQuery query;
    for (const std::string_view word : base::splitAt(text, ' ')) {
        std::int64_t rows = 0;
        const bool isRows =
            base::startsWithIgnoringCase(word, "rows>") && word.size() > 5 &&
            std::from_chars(word.data() + 5, word.data() + word.size(), rows).ptr == word.data() + word.size();
        if (word.empty()) continue;
        if (base::equalsIgnoringCase(word, "failed")) {
            query.onlyFailed = true;
        } else if (base::equalsIgnoringCase(word, "slow")) {
            query.onlySlow = true;
        } else if (base::equalsIgnoringCase(word, "today")) {
            base::Moment start = now;  // back to the day's first moment in local time
            const std::string time = base::localTime(now);
            start -= std::chrono::hours(std::stoi(time.substr(0, 2))) +
                     std::chrono::minutes(std::stoi(time.substr(3, 2))) +
                     std::chrono::seconds(std::stoi(time.substr(6, 2)));
            query.since = std::chrono::floor<std::chrono::seconds>(start);
        } else if (isRows) {
            query.rowsAbove = rows;
        } else {
            query.words.emplace_back(word);
        }
    }
    return query;
}

struct Ledger::Impl {
    sqlite3* db = nullptr;
    std::string path;

    ~Impl() { sqlite3_close_v2(db); }

    [[nodiscard]] Error error(int code) const { return ledgerError(db, code, path); }

    Status execute(const char* sql) const {
        const int code = sqlite3_exec(db, sql, nullptr, nullptr, nullptr);
        return code == SQLITE_OK ? Status() : Status(error(code));
    }

    Result<Statement> prepare(const std::string& sql) const {
        sqlite3_stmt* raw = nullptr;
        const int code = sqlite3_prepare_v2(db, sql.data(), static_cast<int>(sql.size()), &raw, nullptr);
        if (code != SQLITE_OK) return error(code);
        return Statement(raw);
    }

    Status step(const Statement& s) const {
        const int code = sqlite3_step(s.get());
        return code == SQLITE_DONE || code == SQLITE_ROW ? Status() : Status(error(code));
    }

    Result<int> version() const {
        auto s = prepare("PRAGMA user_version");
        if (!s) return s.error();
        if (Status status = step(*s); !status) return status.error();
        return sqlite3_column_int(s->get(), 0);
    }

    /// Brings a ledger of an older version to this one, all of it or nothing.
    Status migrate() const {
        if (Status status = execute("BEGIN IMMEDIATE"); !status) return status;
        const auto found = version();  // another window may have been faster
        if (!found) return found.error();
        for (int step = *found; step < kLedgerVersion; ++step) {
            const std::string statements =
                fmt::format("{}\nPRAGMA user_version = {};", kSteps[static_cast<std::size_t>(step)], step + 1);
            if (Status status = execute(statements.c_str()); !status) {
                (void)execute("ROLLBACK");
                return status;
            }
        }
        return execute("COMMIT");
    }

    /// Runs whose process is gone will never be ended by it.
    Status closeInterrupted() const {
        auto s = prepare("SELECT DISTINCT process FROM run WHERE status = 'running'");
        if (!s) return s.error();
        std::vector<std::string> gone;
        while (sqlite3_step(s->get()) == SQLITE_ROW) {
            std::string process = columnText(*s, 0);
            if (!isRunning(process)) gone.push_back(std::move(process));
        }
        s->reset();
        for (const std::string& process : gone) {
            auto update = prepare("UPDATE run SET status = 'interrupted' WHERE status = 'running' AND process = ?");
            if (!update) return update.error();
            bindText(*update, 1, process);
            if (Status status = step(*update); !status) return status;
        }
        return {};
    }
};

Ledger::Ledger(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}
Ledger::~Ledger() = default;

Result<std::unique_ptr<Ledger>> Ledger::open(const std::filesystem::path& path) {
    auto impl = std::make_unique<Impl>();
    impl->path = path.string();
    struct stat info {};
    if (::stat(path.c_str(), &info) == 0 && !S_ISREG(info.st_mode)) {
        return Error{.kind = ErrorKind::Damaged,
                     .message = fmt::format("{} is no file that runs can be kept in.", path.string()),
                     .hint = "Move it away; runs are not kept until then."};
    }
    const mode_t mask = ::umask(0077);  // the history is its owner's alone
    const int code = sqlite3_open_v2(path.c_str(), &impl->db,
                                     SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE | SQLITE_OPEN_FULLMUTEX, nullptr);
    ::umask(mask);
    if (code != SQLITE_OK) return impl->error(code);
    sqlite3_busy_timeout(impl->db, kBusyWaitMs);
    auto version = impl->version();
    if (!version) return version.error();
    if (*version > kLedgerVersion) {
        return Error{
            .kind = ErrorKind::TooNew,
            .message = fmt::format("The ledger {} was written by a newer version of Agile Pantry.", path.string()),
            .hint = "Runs are not kept until you use that version or another home folder. The file was not changed."};
    }
    if (Status status = impl->execute("PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL"); !status)
        return status.error();
    if (*version < kLedgerVersion) {
        if (Status status = impl->migrate(); !status) return status.error();
    }
    if (Status status = impl->closeInterrupted(); !status) return status.error();
    return std::unique_ptr<Ledger>(new Ledger(std::move(impl)));
}

Result<std::int64_t> Ledger::start(const RunStart& run, base::Moment when) {
    auto s = impl_->prepare(
        "INSERT INTO run (started_at, connection_id, connection, environment, engine, database, user, sheet, "
        "statement, parameters, status, process) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'running', ?)");
    if (!s) return s.error();
    sqlite3_bind_int64(s->get(), 1, base::toMicroseconds(when));
    const auto engine = db::engineFromWord(run.engine);
    const std::string statement =
        sql::withoutSecrets(run.statement, engine ? db::dialectOf(*engine) : sql::Dialect::Sqlite);
    int index = 2;
    for (const std::string* text : {&run.connectionId, &run.connectionName, &run.environment, &run.engine,
                                    &run.database, &run.user, &run.sheet, &statement, &run.parameters}) {
        bindText(*s, index++, *text);
    }
    bindText(*s, index, thisProcess());
    if (Status status = impl_->step(*s); !status) return status.error();
    return sqlite3_last_insert_rowid(impl_->db);
}

Status Ledger::end(std::int64_t id, const RunEnd& end) {
    auto s = impl_->prepare(
        "UPDATE run SET status = ?, duration = ?, row_count = ?, affected = ?, is_partial = ?, error = ? WHERE run_id "
        "= ?");
    if (!s) return s.error();
    bindText(*s, 1, std::string(statusWord(end.status)));
    sqlite3_bind_int64(s->get(), 2, end.duration.count());
    bindOptional(*s, 3, end.rows);
    bindOptional(*s, 4, end.affected);
    sqlite3_bind_int(s->get(), 5, end.isPartial ? 1 : 0);
    bindText(*s, 6, end.error);
    sqlite3_bind_int64(s->get(), 7, id);
    return impl_->step(*s);
}

Status Ledger::remove(std::int64_t id) {
    auto s = impl_->prepare("DELETE FROM run WHERE run_id = ?");
    if (!s) return s.error();
    sqlite3_bind_int64(s->get(), 1, id);
    return impl_->step(*s);
}

Result<std::vector<LedgerEntry>> Ledger::find(const LedgerQuery& query) const {
    std::string sql =
        "SELECT run_id, started_at, connection_id, connection, environment, engine, database, user, sheet, statement, "
        "status, duration, row_count, affected, is_partial, error, process, parameters FROM run WHERE 1";
    std::vector<std::string> texts;
    const auto also = [&](const std::string& condition, std::string text) {
        sql += " AND " + condition;
        texts.push_back(std::move(text));
    };
    if (!query.connectionId.empty()) also("connection_id = ?", query.connectionId);
    for (const std::string& word : query.words) {
        if (base::codePointCount(word) >= kShortestIndexedWord) {
            also("run_id IN (SELECT rowid FROM run_text WHERE run_text MATCH ?)", phrase(word));
        } else {
            also("statement || ' ' || error || ' ' || sheet || ' ' || connection LIKE ? ESCAPE '\\'",
                 likePattern(word));
        }
    }
    if (query.onlyFailed) sql += " AND status IN ('failed', 'interrupted')";
    if (query.onlySlow) sql += fmt::format(" AND duration >= {}", kSlowMicroseconds);
    if (query.since) sql += fmt::format(" AND started_at >= {}", base::toMicroseconds(*query.since));
    if (query.rowsAbove) sql += fmt::format(" AND row_count > {}", *query.rowsAbove);
    if (query.beforeId > 0) sql += fmt::format(" AND run_id < {}", query.beforeId);
    sql += fmt::format(" ORDER BY run_id DESC LIMIT {}", query.limit);

    auto s = impl_->prepare(sql);
    if (!s) return s.error();
    for (std::size_t i = 0; i < texts.size(); ++i) bindText(*s, static_cast<int>(i) + 1, texts[i]);
    std::vector<LedgerEntry> entries;
    int code = sqlite3_step(s->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) {
        LedgerEntry e;
        e.id = sqlite3_column_int64(s->get(), 0);
        e.startedAt = base::fromMicroseconds(sqlite3_column_int64(s->get(), 1));
        int index = 2;
        for (std::string* text : {&e.start.connectionId, &e.start.connectionName, &e.start.environment, &e.start.engine,
                                  &e.start.database, &e.start.user, &e.start.sheet, &e.start.statement}) {
            *text = columnText(*s, index++);
        }
        e.end.status = statusFrom(columnText(*s, 10));
        e.end.duration = std::chrono::microseconds(sqlite3_column_int64(s->get(), 11));
        e.end.rows = columnOptional(*s, 12);
        e.end.affected = columnOptional(*s, 13);
        e.end.isPartial = sqlite3_column_int(s->get(), 14) != 0;
        e.end.error = columnText(*s, 15);
        e.start.parameters = columnText(*s, 17);
        if (e.end.status == RunStatus::Running && !isRunning(columnText(*s, 16))) e.end.status = RunStatus::Interrupted;
        entries.push_back(std::move(e));
    }
    if (code != SQLITE_DONE) return impl_->error(code);
    return entries;
}

Result<std::vector<Ledger::Usage>> Ledger::usage() const {
    auto s = impl_->prepare("SELECT connection_id, count(*), max(started_at) FROM run GROUP BY connection_id");
    if (!s) return s.error();
    std::vector<Usage> usage;
    int code = sqlite3_step(s->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) {
        usage.push_back({columnText(*s, 0), sqlite3_column_int64(s->get(), 1),
                         base::fromMicroseconds(sqlite3_column_int64(s->get(), 2))});
    }
    if (code != SQLITE_DONE) return impl_->error(code);
    return usage;
}

}  // namespace pantry::store
