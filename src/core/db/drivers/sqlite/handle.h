#pragma once

#include <sqlite3.h>

#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"

// Only for .cpp files of the SQLite driver: this header shows the engine's own types.

namespace pantry::db::sqlite {

struct CloseDatabase {
    void operator()(sqlite3* db) const { sqlite3_close_v2(db); }
};
struct FinalizeStatement {
    void operator()(sqlite3_stmt* statement) const { sqlite3_finalize(statement); }
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
