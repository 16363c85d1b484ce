#pragma once

#include <cstdint>
#include <span>
#include <string_view>

#include "core/sql/text/token.h"

namespace pantry::sql {

/// What a statement is, by its leading verb (for WITH: the verb of its main part).
enum class StatementKind : std::uint8_t {
    // clang-format off
    Select, Values, Table, Insert, Replace, Update, Delete, Merge, Truncate,
    Create, Alter, Drop, Rename, Comment, Grant, Revoke,
    Begin, Commit, Rollback, Savepoint, Release,
    Set, Reset, Show, Use, Describe, Explain, Pragma,
    Call, Do, Prepare, Execute, Deallocate, Declare, Fetch, Close,
    Copy, Load, Vacuum, Analyze, Reindex, Refresh, Attach, Detach, Lock, Unlock, Listen, Notify, Kill, Flush,
    Block, Other,
    // clang-format on
};

/// What a statement does to the database, as far as its text tells.
enum class StatementEffect : std::uint8_t {
    Reads,       ///< returns rows, changes nothing
    Writes,      ///< changes rows
    Defines,     ///< changes what tables and other objects there are, or rights on them
    Transacts,   ///< begins or ends a transaction
    Configures,  ///< changes the session
    Unknown,     ///< may do anything (CALL, DO, …)
};

/// The kind's name as `pantry split` prints it: select, create, …
[[nodiscard]] std::string_view kindName(StatementKind kind);

[[nodiscard]] StatementEffect effectOf(StatementKind kind);

/// The kind of the statement that `tokens` hold, trivia included.
[[nodiscard]] StatementKind kindOf(std::span<const Token> tokens);

}  // namespace pantry::sql
