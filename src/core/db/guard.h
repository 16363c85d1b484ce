#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>

#include "core/db/driver.h"
#include "core/db/profile.h"
#include "core/sql/meaning/statement.h"

namespace pantry::db {

/// What is held back on a connection until somebody confirms it.
enum class Guard {
    Off,       ///< nothing
    Reckless,  ///< what nothing limits: UPDATE and DELETE without WHERE, DROP, TRUNCATE
    Changes,   ///< everything that is not known to be plain reading
};

/// The option guard of a profile (off, reckless, changes); without one, changes on a live connection and reckless on
/// others.
[[nodiscard]] Guard guardOf(const ConnectionProfile& profile);

/// How one run is guarded. The default guards nothing: it is for statements that the program itself writes.
struct RunGuard {
    Guard guard = Guard::Off;
    bool isLocked = false;      ///< the engine itself refuses changes while the statement runs
    bool isConfirmed = false;   ///< somebody confirmed exactly this statement
    bool mustRead = false;      ///< what is not plain reading is an error, and nobody is asked
    bool asksToCommit = false;  ///< a statement that commits an open transaction by itself is held back
};

/// The stricter of both in everything; consent and purpose are those of `asked`.
[[nodiscard]] RunGuard stricter(RunGuard asked, const RunGuard& now);

/// How a run on a connection is guarded, as the connection stands now.
[[nodiscard]] RunGuard runGuardOf(const ConnectionProfile& profile);
/// For a query that the program runs beside somebody's work, such as counting: it reads or is refused.
[[nodiscard]] RunGuard onlyReading();

/// A statement that must be confirmed first.
struct HeldBack {
    std::string reason;      ///< in a sentence
    std::string countQuery;  ///< counts the rows it would touch; empty where that cannot be asked
    bool isReckless = false;
    bool wasRefused = false;  ///< the engine refused it in its read-only mode, in the words of the reason
};

/// What a judgement needs to know of the session that a statement is for.
struct SessionView {
    Engine engine = Engine::Sqlite;
    ConnectionState connection = {};  ///< tells how texts in quotes are read, and whether a transaction is open
    std::int64_t openChanges = 0;     ///< of that transaction
};

/// Tells why what a statement calls is not known to be harmless; empty when it is, or when only the engine could tell
/// and is asked later.
using DoubtAboutCalls = std::function<std::string(const sql::PlainReading&)>;

/// Whether a statement must be confirmed before it runs. See docs/decisions.md for what this can and cannot know.
[[nodiscard]] std::optional<HeldBack> heldBack(const RunGuard& guard, const SessionView& session,
                                               const sql::Statement& statement, const DoubtAboutCalls& doubtAbout = {});

/// The same with what the connection's profile alone tells.
[[nodiscard]] std::optional<HeldBack> heldBack(const ConnectionProfile& profile, const sql::Statement& statement,
                                               const ConnectionState& connection = {});

/// Where names without a schema are looked for first on a connection.
[[nodiscard]] const std::string& currentSchema(Engine engine, const ConnectionState& connection);

/// The language in which a session reads statements.
[[nodiscard]] sql::Language languageOf(Engine engine, const ConnectionState& connection);

/// Whether a statement commits an open transaction before it runs, without being asked to (MariaDB, MySQL: “Statements
/// that cause an implicit commit” of their manuals; of engines behind ODBC many do so for what defines).
[[nodiscard]] bool commitsByItself(Engine engine, const sql::Statement& statement, const ConnectionState& connection);

}  // namespace pantry::db
