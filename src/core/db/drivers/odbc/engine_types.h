#pragma once

// The driver manager's own types and the numbers that our headers need: who works with it includes sql.h. handle.cpp
// asserts that they are the same.
typedef void* SQLHANDLE;
typedef signed short int SQLSMALLINT;
typedef unsigned short SQLUSMALLINT;
typedef SQLSMALLINT SQLRETURN;
typedef unsigned short SQLWCHAR;

namespace pantry::db::odbc {

inline constexpr SQLSMALLINT kEnvironment = 1;
inline constexpr SQLSMALLINT kConnection = 2;
inline constexpr SQLSMALLINT kStatement = 3;
inline constexpr SQLSMALLINT kVarchar = 12;

}  // namespace pantry::db::odbc
