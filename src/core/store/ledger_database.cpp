#include "core/store/ledger_database.h"

#include <fmt/format.h>

#include <array>
#include <set>

#include "core/base/text.h"
#include "core/db/profile.h"
#include "core/sql/meaning/read_from.h"
#include "core/sql/meaning/statement.h"
#include "core/sql/text/fingerprint.h"
#include "core/store/process_identity.h"

namespace pantry::store {
namespace {

constexpr std::array<std::string_view, 6> kStatusWords{"running", "ok", "failed", "stopped", "interrupted", "held"};

sql::Language languageOf(const std::string& engineWord) {
    const auto engine = db::engineFromWord(engineWord);
    return engine ? db::dialectOf(*engine) : sql::Dialect::Sqlite;
}

bool changesSomething(const sql::Statement& statement) {
    const sql::StatementEffect effect = statement.effect();
    return effect == sql::StatementEffect::Writes || effect == sql::StatementEffect::Defines;
}

}  // namespace

std::string_view statusWord(RunStatus status) { return kStatusWords[static_cast<std::size_t>(status)]; }

RunStatus statusFrom(std::string_view word) {
    for (std::size_t i = 0; i < kStatusWords.size(); ++i) {
        if (kStatusWords[i] == word) return static_cast<RunStatus>(i);
    }
    return RunStatus::Interrupted;
}

void bindText(const LedgerStatement& s, int index, std::string_view text) {
    sqlite3_bind_text(s.get(), index, text.data(), static_cast<int>(text.size()), SQLITE_TRANSIENT);
}

void bindOptional(const LedgerStatement& s, int index, const std::optional<std::int64_t>& value) {
    if (value) {
        sqlite3_bind_int64(s.get(), index, *value);
    } else {
        sqlite3_bind_null(s.get(), index);
    }
}

std::string columnText(const LedgerStatement& s, int index) {
    const auto* text = reinterpret_cast<const char*>(sqlite3_column_text(s.get(), index));
    return text == nullptr ? std::string()
                           : std::string(text, static_cast<std::size_t>(sqlite3_column_bytes(s.get(), index)));
}

std::optional<std::int64_t> columnOptional(const LedgerStatement& s, int index) {
    if (sqlite3_column_type(s.get(), index) == SQLITE_NULL) return std::nullopt;
    return sqlite3_column_int64(s.get(), index);
}

Error LedgerDatabase::error(int code) const {
    const int primary = code & 0xFF;
    if (primary == SQLITE_NOTADB || primary == SQLITE_CORRUPT) {
        return {.kind = ErrorKind::Damaged,
                .message = fmt::format("The ledger {} is damaged.", path),
                .hint = "Move the file away to begin a new one; nothing in it was changed."};
    }
    if (primary == SQLITE_BUSY) {
        return {.kind = ErrorKind::Busy, .message = "The ledger is in use by another program.", .hint = "Try again."};
    }
    if (primary == SQLITE_FULL) {
        return {.kind = ErrorKind::Io,
                .message = fmt::format("The disk with the ledger {} is full.", path),
                .hint = "Runs are not kept until there is room. What is in the ledger is whole."};
    }
    const bool isRight = primary == SQLITE_READONLY || primary == SQLITE_CANTOPEN || primary == SQLITE_PERM;
    return {.kind = isRight ? ErrorKind::Permission : ErrorKind::Io,
            .message = fmt::format("The ledger {} cannot be {}: {}.", path, isRight ? "opened" : "written",
                                   db == nullptr ? sqlite3_errstr(code) : sqlite3_errmsg(db)),
            .hint = "Choose another home folder with --home, or see to the rights of this one."};
}

Status LedgerDatabase::execute(const char* sql) const {
    const int code = sqlite3_exec(db, sql, nullptr, nullptr, nullptr);
    return code == SQLITE_OK ? Status() : Status(error(code));
}

Result<LedgerStatement> LedgerDatabase::prepare(const std::string& sql) const {
    sqlite3_stmt* raw = nullptr;
    const int code = sqlite3_prepare_v2(db, sql.data(), static_cast<int>(sql.size()), &raw, nullptr);
    if (code != SQLITE_OK) return error(code);
    return LedgerStatement(raw);
}

Result<LedgerStatement> LedgerDatabase::kept(const char* sql) const {
    auto known = kept_.find(sql);
    if (known == kept_.end()) {
        auto s = prepare(sql);
        if (!s) return s.error();
        known = kept_.emplace(sql, std::move(*s)).first;
    }
    sqlite3_clear_bindings(known->second.get());
    return LedgerStatement(known->second.get(), EndStatement{true});
}

Status LedgerDatabase::step(const LedgerStatement& s) const {
    const int code = sqlite3_step(s.get());
    return code == SQLITE_DONE || code == SQLITE_ROW ? Status() : Status(error(code));
}

Result<int> LedgerDatabase::version() const {
    auto s = prepare("PRAGMA user_version");
    if (!s) return s.error();
    if (Status status = step(*s); !status) return status.error();
    return sqlite3_column_int(s->get(), 0);
}

namespace {

/// The number of a statement's text, which is written when it is a new one, with the relations that it names.
Result<std::int64_t> statementId(const LedgerDatabase& ledger, const std::string& text, std::int64_t exact,
                                 const sql::Language& language) {
    auto known = ledger.kept("SELECT statement_id, text FROM statement WHERE exact = ?");
    if (!known) return known.error();
    sqlite3_bind_int64(known->get(), 1, exact);
    while (sqlite3_step(known->get()) == SQLITE_ROW) {
        if (columnText(*known, 1) == text) return sqlite3_column_int64(known->get(), 0);
    }
    auto insert = ledger.kept("INSERT INTO statement (exact, text) VALUES (?, ?)");
    if (!insert) return insert.error();
    sqlite3_bind_int64(insert->get(), 1, exact);
    bindText(*insert, 2, text);
    if (Status status = ledger.step(*insert); !status) return status.error();
    const std::int64_t id = sqlite3_last_insert_rowid(ledger.db);
    auto relation = ledger.kept("INSERT OR IGNORE INTO statement_relation (relation, statement_id) VALUES (?, ?)");
    if (!relation) return relation.error();
    constexpr std::size_t kLongest = 128 << 10;  // who writes more has a list of values in it
    if (text.size() > kLongest) return id;
    for (const sql::NamedRelation& one : sql::relationsNamed(text, language)) {
        sqlite3_reset(relation->get());
        bindText(*relation, 1, base::toLower(one.name));
        sqlite3_bind_int64(relation->get(), 2, id);
        if (Status status = ledger.step(*relation); !status) return status.error();
    }
    return id;
}

Status noteFold(const LedgerDatabase& ledger, const std::string& connectionId, std::int64_t form,
                std::int64_t startedAt, std::int64_t run) {
    auto s = ledger.kept(
        "INSERT INTO fold (connection_id, form, last_at, last_run, runs) VALUES (?, ?, ?, ?, 1) "
        "ON CONFLICT (connection_id, form) DO UPDATE SET runs = runs + 1, "
        "last_run = CASE WHEN excluded.last_at >= last_at THEN excluded.last_run ELSE last_run END, "
        "last_at = max(last_at, excluded.last_at)");
    if (!s) return s.error();
    bindText(*s, 1, connectionId);
    sqlite3_bind_int64(s->get(), 2, form);
    sqlite3_bind_int64(s->get(), 3, startedAt);
    sqlite3_bind_int64(s->get(), 4, run);
    return ledger.step(*s);
}

}  // namespace

Status keepPlan(const LedgerDatabase& ledger, std::int64_t id, const std::string& plan) {
    if (plan.empty()) return {};
    auto s = ledger.prepare("INSERT OR REPLACE INTO run_plan (run_id, plan) VALUES (?, ?)");
    if (!s) return s.error();
    sqlite3_bind_int64(s->get(), 1, id);
    bindText(*s, 2, plan);
    return ledger.step(*s);
}

Result<std::int64_t> LedgerDatabase::insert(const LedgerEntry& entry, const std::string& process,
                                            std::int64_t id) const {
    const RunStart& run = entry.start;
    const sql::Language language = languageOf(run.engine);
    const sql::Fingerprint print = sql::fingerprintOf(run.statement, language);
    const auto statement = statementId(*this, run.statement, print.exact, language);
    if (!statement) return statement.error();
    auto s = kept(
        "INSERT INTO run (run_id, started_at, statement_id, form, changes, is_partial, duration, fetching, row_count, "
        "affected, error_place, is_starred, connection_id, connection, environment, engine, server, database, schema, "
        "user, sheet, saved, parameters, status, error, error_code, note, process) VALUES (nullif(?, 0), ?, ?, ?, ?, "
        "?, "
        "?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    if (!s) return s.error();
    const std::int64_t startedAt = base::toMicroseconds(entry.startedAt);
    int index = 0;
    for (const std::int64_t number :
         {id, startedAt, *statement, print.form, static_cast<std::int64_t>(changesSomething({run.statement, language})),
          static_cast<std::int64_t>(entry.end.isPartial), static_cast<std::int64_t>(entry.end.duration.count()),
          static_cast<std::int64_t>(entry.end.fetching.count())})
        sqlite3_bind_int64(s->get(), ++index, number);
    for (const auto& number : {entry.end.rows, entry.end.affected, entry.end.errorPlace})
        bindOptional(*s, ++index, number);
    sqlite3_bind_int(s->get(), ++index, entry.isStarred ? 1 : 0);
    const std::string status(statusWord(entry.end.status));
    for (const std::string* text : {&run.connectionId, &run.connectionName, &run.environment, &run.engine, &run.server,
                                    &run.database, &run.schema, &run.user, &run.sheet, &run.saved, &run.parameters,
                                    &status, &entry.end.error, &entry.end.errorCode, &entry.note, &process})
        bindText(*s, ++index, *text);
    if (Status done = step(*s); !done) return done.error();
    const std::int64_t written = sqlite3_last_insert_rowid(db);
    if (Status done = noteFold(*this, run.connectionId, print.form, startedAt, written); !done) return done.error();
    if (Status done = keepPlan(*this, written, entry.end.plan); !done) return done.error();
    if (!entry.end.error.empty() || !entry.note.empty()) {
        if (Status done = indexWords(written); !done) return done.error();
    }
    return written;
}

Status LedgerDatabase::indexWords(std::int64_t id) const {
    for (const char* sql : {"DELETE FROM run_words WHERE rowid = ?",
                            "INSERT INTO run_words (rowid, words) SELECT run_id, error || ' ' || note FROM run WHERE "
                            "run_id = ? AND (error <> '' OR note <> '')"}) {
        auto s = kept(sql);
        if (!s) return s.error();
        sqlite3_bind_int64(s->get(), 1, id);
        if (Status status = step(*s); !status) return status;
    }
    return {};
}

Status LedgerDatabase::renewFold(const std::string& connectionId, std::int64_t form) const {
    for (const char* sql :
         {"DELETE FROM fold WHERE connection_id = ? AND form = ?",
          "INSERT INTO fold (connection_id, form, last_at, last_run, runs) SELECT connection_id, form, "
          "max(started_at), "
          "run_id, count(*) FROM run WHERE connection_id = ? AND form = ? GROUP BY connection_id, form"}) {
        auto s = kept(sql);
        if (!s) return s.error();
        bindText(*s, 1, connectionId);
        sqlite3_bind_int64(s->get(), 2, form);
        if (Status status = step(*s); !status) return status;
    }
    return {};
}

LedgerEntry entryFrom(const LedgerStatement& s) {
    LedgerEntry e;
    e.id = sqlite3_column_int64(s.get(), 0);
    e.startedAt = base::fromMicroseconds(sqlite3_column_int64(s.get(), 1));
    int index = 2;
    RunStart& run = e.start;
    for (std::string* text :
         {&run.connectionId, &run.connectionName, &run.environment, &run.engine, &run.server, &run.database,
          &run.schema, &run.user, &run.sheet, &run.saved, &run.statement, &run.parameters})
        *text = columnText(s, index++);
    e.end.status = statusFrom(columnText(s, 14));
    e.end.duration = std::chrono::microseconds(sqlite3_column_int64(s.get(), 15));
    e.end.fetching = std::chrono::microseconds(sqlite3_column_int64(s.get(), 16));
    e.end.rows = columnOptional(s, 17);
    e.end.affected = columnOptional(s, 18);
    e.end.isPartial = sqlite3_column_int(s.get(), 19) != 0;
    e.end.error = columnText(s, 20);
    e.end.errorCode = columnText(s, 21);
    e.end.errorPlace = columnOptional(s, 22);
    e.note = columnText(s, 23);
    e.isStarred = sqlite3_column_int(s.get(), 24) != 0;
    e.form = sqlite3_column_int64(s.get(), 25);
    e.statementId = sqlite3_column_int64(s.get(), 27);
    e.end.plan = columnText(s, 28);
    if (e.end.status == RunStatus::Running && !isRunning(columnText(s, 26))) e.end.status = RunStatus::Interrupted;
    return e;
}

}  // namespace pantry::store
