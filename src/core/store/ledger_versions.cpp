// What leads from each version of the ledger's file to the next. What is there is never changed, since ledgers of every
// version are about; a new version is a step behind the last.
#include <fmt/format.h>

#include <array>

#include "core/store/ledger_database.h"

namespace pantry::store {
namespace {

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

constexpr const char* kWithParameters = "ALTER TABLE run ADD COLUMN parameters TEXT NOT NULL DEFAULT '';";

// Each text of a statement once, and so each looked for once, however often it ran; runs in the order of time, since
// older ones can be imported; how often and when last each kind of statement ran, so that the first page of a million
// runs is read and not counted.
constexpr const char* kWithStatements = R"(
DROP TRIGGER run_inserted; DROP TRIGGER run_deleted; DROP TRIGGER run_updated; DROP TABLE run_text;
DROP INDEX run_by_connection;
ALTER TABLE run RENAME TO old_run;
CREATE TABLE statement (
    statement_id INTEGER PRIMARY KEY,
    exact        INTEGER NOT NULL,  -- fingerprint, values included
    text         TEXT NOT NULL
);
CREATE INDEX statement_by_exact ON statement (exact);
CREATE VIRTUAL TABLE statement_text USING fts5 (text, content = 'statement', content_rowid = 'statement_id',
                                                tokenize = 'trigram');
CREATE TRIGGER statement_inserted AFTER INSERT ON statement BEGIN
    INSERT INTO statement_text (rowid, text) VALUES (new.statement_id, new.text);
END;
CREATE TRIGGER statement_deleted AFTER DELETE ON statement BEGIN
    INSERT INTO statement_text (statement_text, rowid, text) VALUES ('delete', old.statement_id, old.text);
    DELETE FROM statement_relation WHERE statement_id = old.statement_id;
END;
CREATE TABLE statement_relation (
    relation     TEXT NOT NULL,  -- in small letters, without its schema
    statement_id INTEGER NOT NULL,
    PRIMARY KEY (relation, statement_id)
) WITHOUT ROWID;
CREATE INDEX relation_by_statement ON statement_relation (statement_id);
CREATE TABLE run (
    run_id        INTEGER PRIMARY KEY AUTOINCREMENT,
    started_at    INTEGER NOT NULL,  -- microseconds since 1970, UTC
    statement_id  INTEGER NOT NULL,
    form          INTEGER NOT NULL,  -- fingerprint of the statement, values apart
    changes       INTEGER NOT NULL,  -- rows or definitions, as far as the statement tells
    connection_id TEXT NOT NULL,
    connection    TEXT NOT NULL,
    environment   TEXT NOT NULL,
    engine        TEXT NOT NULL,
    server        TEXT NOT NULL,
    database      TEXT NOT NULL,
    schema        TEXT NOT NULL,
    user          TEXT NOT NULL,
    sheet         TEXT NOT NULL,
    saved         TEXT NOT NULL,     -- where on the shelf it came from
    parameters    TEXT NOT NULL,
    status        TEXT NOT NULL,
    duration      INTEGER NOT NULL,  -- microseconds, fetching included
    fetching      INTEGER NOT NULL,
    row_count     INTEGER,
    affected      INTEGER,
    is_partial    INTEGER NOT NULL,
    error         TEXT NOT NULL,
    error_code    TEXT NOT NULL,
    error_place   INTEGER,           -- byte of the statement
    note          TEXT NOT NULL,
    is_starred    INTEGER NOT NULL,
    process       TEXT NOT NULL
);
CREATE INDEX run_by_time ON run (started_at);
CREATE INDEX run_by_connection ON run (connection_id, started_at);
CREATE INDEX run_by_statement ON run (statement_id, started_at);
CREATE INDEX run_by_form ON run (form, connection_id, started_at, status, duration, row_count);
CREATE INDEX run_failed ON run (started_at) WHERE status IN ('failed', 'interrupted');
CREATE INDEX run_slow ON run (started_at) WHERE duration >= 1000000;
CREATE INDEX run_starred ON run (started_at) WHERE is_starred = 1;
CREATE INDEX run_running ON run (process) WHERE status = 'running';
CREATE VIRTUAL TABLE run_words USING fts5 (words, tokenize = 'trigram');  -- of errors and notes, where there are any
CREATE TABLE fold (
    connection_id TEXT NOT NULL,
    form          INTEGER NOT NULL,
    last_at       INTEGER NOT NULL,
    last_run      INTEGER NOT NULL,
    runs          INTEGER NOT NULL,
    PRIMARY KEY (connection_id, form)
) WITHOUT ROWID;
CREATE INDEX fold_by_time ON fold (last_at);
CREATE INDEX fold_by_connection ON fold (connection_id, last_at);
)";

/// Saved queries are asked how they ran last.
constexpr const char* kWithSavedRuns = "CREATE INDEX run_by_saved ON run (saved, started_at) WHERE saved <> '';";

/// Few runs have a plan, and none is looked for by it.
constexpr const char* kWithPlans = R"(
CREATE TABLE run_plan (run_id INTEGER PRIMARY KEY, plan TEXT NOT NULL);
CREATE TRIGGER run_with_plan_deleted AFTER DELETE ON run BEGIN DELETE FROM run_plan WHERE run_id = old.run_id; END;
)";

/// The runs of the second version, statement by statement: what is known of them must be worked out.
Status moveOldRuns(const LedgerDatabase& ledger) {
    auto s = ledger.prepare(
        "SELECT run_id, started_at, connection_id, connection, environment, engine, database, user, sheet, statement, "
        "parameters, status, duration, row_count, affected, is_partial, error, process FROM old_run ORDER BY run_id");
    if (!s) return s.error();
    int code = sqlite3_step(s->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) {
        LedgerEntry e;
        e.startedAt = base::fromMicroseconds(sqlite3_column_int64(s->get(), 1));
        int index = 2;
        for (std::string* text :
             {&e.start.connectionId, &e.start.connectionName, &e.start.environment, &e.start.engine, &e.start.database,
              &e.start.user, &e.start.sheet, &e.start.statement, &e.start.parameters})
            *text = columnText(*s, index++);
        e.end.status = statusFrom(columnText(*s, 11));
        e.end.duration = std::chrono::microseconds(sqlite3_column_int64(s->get(), 12));
        e.end.rows = columnOptional(*s, 13);
        e.end.affected = columnOptional(*s, 14);
        e.end.isPartial = sqlite3_column_int(s->get(), 15) != 0;
        e.end.error = columnText(*s, 16);
        const auto written = ledger.insert(e, columnText(*s, 17), sqlite3_column_int64(s->get(), 0));
        if (!written) return written.error();
    }
    if (code != SQLITE_DONE) return ledger.error(code);
    s->reset();
    return ledger.execute("DROP TABLE old_run");
}

struct Step {
    const char* sql;
    Status (*then)(const LedgerDatabase&) = nullptr;
};
constexpr std::array kSteps{Step{kFirstVersion}, Step{kWithParameters}, Step{kWithStatements, moveOldRuns},
                            Step{kWithSavedRuns}, Step{kWithPlans}};
constexpr int kLedgerVersion = static_cast<int>(kSteps.size());

Status take(const LedgerDatabase& ledger, int step) {
    const Step& one = kSteps[static_cast<std::size_t>(step)];
    if (Status status = ledger.execute(one.sql); !status) return status;
    if (one.then != nullptr) {
        if (Status status = one.then(ledger); !status) return status;
    }
    return ledger.execute(fmt::format("PRAGMA user_version = {}", step + 1).c_str());
}

}  // namespace

Status LedgerDatabase::bringUpToDate() const {
    const auto before = version();
    if (!before) return before.error();
    if (*before > kLedgerVersion) {
        return Error{
            .kind = ErrorKind::TooNew,
            .message = fmt::format("The ledger {} was written by a newer version of Agile Pantry.", path),
            .hint = "Runs are not kept until you use that version or another home folder. The file was not changed."};
    }
    if (*before == kLedgerVersion) return {};
    if (Status status = execute("BEGIN IMMEDIATE"); !status) return status;
    const auto found = version();  // another window may have been faster
    if (!found) return found.error();
    for (int step = *found; step < kLedgerVersion; ++step) {
        if (Status status = take(*this, step); !status) {
            (void)execute("ROLLBACK");
            return status;
        }
    }
    return execute("COMMIT");
}

}  // namespace pantry::store
