#pragma once

#include <cstddef>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/db/drivers/odbc/engine_types.h"

namespace pantry::db::odbc {

/// Lets go of a handle of a type; a connection is closed first.
void freeHandle(SQLSMALLINT type, SQLHANDLE handle);

template <SQLSMALLINT Type>
struct FreeHandle {
    using pointer = SQLHANDLE;
    void operator()(SQLHANDLE handle) const { freeHandle(Type, handle); }
};
using EnvironmentHandle = std::unique_ptr<void, FreeHandle<kEnvironment>>;
using ConnectionHandle = std::unique_ptr<void, FreeHandle<kConnection>>;
using StatementHandle = std::unique_ptr<void, FreeHandle<kStatement>>;

using Wide = std::vector<SQLWCHAR>;

/// How texts cross to a driver: those that know only bytes get UTF-8, since the manager would cut what it converts for
/// them to one byte a character.
enum class Crossing { Units, Bytes };
/// Found out by what comes back from the driver of a text of more than Latin letters.
[[nodiscard]] Crossing crossingOf(SQLHANDLE connection);

/// UTF-16 as the driver manager wants it, without an end mark.
[[nodiscard]] Wide toWide(std::string_view utf8);
void appendWide(std::string& utf8, const SQLWCHAR* text, std::size_t length);

/// What a driver said about the last call.
struct Diagnostic {
    std::string state;  ///< SQLSTATE
    std::string message;
};
[[nodiscard]] std::vector<Diagnostic> diagnosticsOf(SQLSMALLINT type, SQLHANDLE handle);

/// The first thing that a driver said, as an Error.
[[nodiscard]] Error errorOf(SQLSMALLINT type, SQLHANDLE handle);

[[nodiscard]] Result<StatementHandle> makeStatement(SQLHANDLE connection);

/// A text that the driver tells about itself or its connection; empty when it has none.
[[nodiscard]] std::string infoOf(SQLHANDLE connection, SQLUSMALLINT what);

[[nodiscard]] SQLRETURN execute(SQLHANDLE statement, std::string_view text, Crossing crossing);

/// The name of a column of the current result, and its type as ODBC numbers them.
struct ColumnName {
    std::string name;
    SQLSMALLINT type = kVarchar;
};
[[nodiscard]] ColumnName nameOf(SQLHANDLE statement, SQLUSMALLINT column, Crossing crossing);
/// A text about a column, such as SQL_DESC_TYPE_NAME; empty when the driver has none.
[[nodiscard]] std::string attributeOf(SQLHANDLE statement, SQLUSMALLINT column, SQLUSMALLINT what, Crossing crossing);

/// A value of the current row as text; false for NULL.
[[nodiscard]] Result<bool> readText(SQLHANDLE statement, SQLUSMALLINT column, std::string& out, Crossing crossing);
[[nodiscard]] Result<bool> readBytes(SQLHANDLE statement, SQLUSMALLINT column, std::string& out);

}  // namespace pantry::db::odbc
