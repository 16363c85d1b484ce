#include "core/db/drivers/sqlite/handle.h"

#include <sqlite3.h>

#include <fmt/format.h>

#include <algorithm>

#include "core/sql/text/lexer.h"

namespace pantry::db::sqlite {

void CloseDatabase::operator()(sqlite3* db) const { sqlite3_close_v2(db); }
void FinalizeStatement::operator()(sqlite3_stmt* statement) const { sqlite3_finalize(statement); }
namespace {

std::string sentence(std::string_view text) {
    std::string out(text);
    if (!out.empty() && out.back() != '.') out += '.';
    if (!out.empty() && out[0] >= 'a' && out[0] <= 'z') out[0] = static_cast<char>(out[0] - 32);
    return out;
}

struct Explanation {
    ErrorKind kind;
    std::string message;
    std::string hint;
};

Explanation explain(sqlite3* db, int code) {
    const std::string said = db != nullptr ? sqlite3_errmsg(db) : sqlite3_errstr(code);
    switch (code & 0xFF) {
        case SQLITE_NOTADB:
            return {ErrorKind::Damaged, "The file is not an SQLite database.", "Check the path, or the file's origin."};
        case SQLITE_CORRUPT:
            return {ErrorKind::Damaged, "The database file is damaged: " + said + ".",
                    "Restore it from a copy; PRAGMA integrity_check tells what is wrong."};
        case SQLITE_BUSY:
        case SQLITE_LOCKED:
            return {ErrorKind::Busy, "The database is locked: another program is writing to it.",
                    "Wait until it has finished, then run again."};
        case SQLITE_READONLY:
            return {ErrorKind::Permission, "The database cannot be written: file or folder are read-only.",
                    "Ask for the right to write, or work on a copy."};
        case SQLITE_CANTOPEN:
            return {ErrorKind::Permission, "The database file cannot be opened.",
                    "Check that the path exists and that you may read it."};
        case SQLITE_FULL: return {ErrorKind::Io, "The disk is full.", "Free some space and run again."};
        case SQLITE_IOERR:
            return {ErrorKind::Io, "Reading or writing the file failed: " + said + ".", "Check the disk."};
        case SQLITE_INTERRUPT: return {ErrorKind::Cancelled, "Stopped.", ""};
        case SQLITE_CONSTRAINT: return {ErrorKind::Statement, sentence(said), "No row was changed by this statement."};
        default: break;
    }
    // SQLite has one code for all that a statement can do wrong; its words are all it tells.
    const bool isUnknown = said.starts_with("no such table") || said.starts_with("no such column");
    return {isUnknown ? ErrorKind::UnknownName : ErrorKind::Statement, sentence(said), ""};
}

}  // namespace

Error errorOf(sqlite3* db, int code, std::string_view statement) {
    Explanation e = explain(db, code);
    Error error{.kind = e.kind,
                .message = std::move(e.message),
                .hint = std::move(e.hint),
                .code = fmt::format("SQLITE {}", code)};
    const int offset = db != nullptr && !statement.empty() ? sqlite3_error_offset(db) : -1;
    if (offset >= 0) error.byteOffset = static_cast<std::size_t>(offset);
    return error;
}

Result<StatementHandle> prepare(sqlite3* db, std::string_view statement) {
    sqlite3_stmt* raw = nullptr;
    const char* rest = nullptr;
    const int code = sqlite3_prepare_v2(db, statement.data(), static_cast<int>(statement.size()), &raw, &rest);
    if (code != SQLITE_OK) return errorOf(db, code, statement);
    StatementHandle handle(raw);
    // The engine would pass over what stands behind the first statement without a word.
    const auto offset = static_cast<std::size_t>(rest - statement.data());
    const auto tokens = sql::lex(statement.substr(offset), sql::Dialect::Sqlite);
    const auto second = std::ranges::find_if(
        tokens, [](const sql::Token& t) { return !t.isTrivia() && t.kind != sql::TokenKind::Terminator; });
    if (raw != nullptr && second != tokens.end()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "A second statement stands in this text, and SQLite takes one at a time.",
                     .hint = "Run them one after another.",
                     .byteOffset = offset + second->start};
    }
    return handle;
}

std::string textAt(sqlite3_stmt* statement, int column) { return optionalTextAt(statement, column).value_or(""); }

std::optional<std::string> optionalTextAt(sqlite3_stmt* statement, int column) {
    if (sqlite3_column_type(statement, column) == SQLITE_NULL) return std::nullopt;
    const auto* text = reinterpret_cast<const char*>(sqlite3_column_text(statement, column));
    return std::string(text == nullptr ? "" : text, static_cast<std::size_t>(sqlite3_column_bytes(statement, column)));
}

}  // namespace pantry::db::sqlite
