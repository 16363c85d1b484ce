#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"

// The engine's own types, by name alone: who works with them includes its header.
struct sqlite3;
struct sqlite3_stmt;

namespace pantry::db::sqlite {

struct CloseDatabase {
    void operator()(sqlite3* db) const;
};
struct FinalizeStatement {
    void operator()(sqlite3_stmt* statement) const;
};
using DatabaseHandle = std::unique_ptr<sqlite3, CloseDatabase>;
using StatementHandle = std::unique_ptr<sqlite3_stmt, FinalizeStatement>;

/// The Error for a result code of this database, with the place in the statement where the engine tells one.
Error errorOf(sqlite3* db, int code, std::string_view statement = {});

Result<StatementHandle> prepare(sqlite3* db, std::string_view statement);

/// A column of the current row as text; empty for NULL.
[[nodiscard]] std::string textAt(sqlite3_stmt* statement, int column);
[[nodiscard]] std::optional<std::string> optionalTextAt(sqlite3_stmt* statement, int column);

}  // namespace pantry::db::sqlite
