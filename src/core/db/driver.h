#pragma once

#include <chrono>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/catalog/catalog.h"
#include "core/catalog/object_details.h"
#include "core/data/store/chunk.h"
#include "core/data/store/column.h"
#include "core/db/profile.h"
#include "core/sql/meaning/statement.h"
#include "core/sql/text/dialect.h"

namespace pantry::db {

/// Something that the server said beside its results: a warning, a notice, a notification of another session.
struct Notice {
    std::string severity;  ///< as the server words it: NOTICE, WARNING
    std::string message;
    std::string code = {};  ///< SQLSTATE or the engine's own code

    friend bool operator==(const Notice&, const Notice&) = default;
};

/// Takes what a statement returns, as it comes.
class RowSink {
public:
    virtual ~RowSink() = default;

    /// A result begins; called again when a statement returns several.
    virtual void columns(std::vector<data::Column> columns) = 0;

    virtual void notice(const Notice& notice) = 0;

    /// Hands rows on; `isLast` when the driver knows that no more follow in this result. May wait until somebody wants
    /// more; false when nobody will.
    virtual bool rows(data::ChunkPtr chunk, bool isLast) = 0;

    /// A chunk that was handed over and that nobody reads any more, for ChunkBuilder::reuse(); or nullptr.
    [[nodiscard]] virtual data::ChunkPtr spent() { return nullptr; }

    /// Rows to gather at most before handing them on: few at first, so that the first page shows at once.
    [[nodiscard]] virtual std::size_t rowsWanted() const = 0;

    /// Whether a long wait would be noticed: the link then hands on what it has.
    [[nodiscard]] virtual bool isHandOverDue() const = 0;
};

/// What a statement did when it ended well.
struct StatementResult {
    bool hasRows = false;                      ///< it returned columns, though perhaps no row
    bool isComplete = true;                    ///< all its rows were read
    std::optional<std::int64_t> affectedRows;  ///< for statements that change rows
    std::string generatedKey;                  ///< the last key made for a new row, where the engine tells it
};

enum class TransactionState {
    None,
    Open,
    Failed,  ///< open, but the server refuses everything but its end
};

/// What holds on a connection, as the last statement left it. Texts are empty where the engine has no such thing.
struct ConnectionState {
    std::string database;
    std::string schema;  ///< where names without a schema are looked for first
    std::string user;
    std::string role;                            ///< whose rights count, when it is not the user's own
    std::string isolation;                       ///< as the engine words it: read committed
    std::chrono::milliseconds statementLimit{};  ///< 0: none
    bool isReadOnly = false;                     ///< somebody chose to read only
    bool isLocked = false;  ///< the engine refuses changes because the guard asks it to; see Access
    TransactionState transaction = TransactionState::None;
    bool hasTemporaryTables = false;
    bool isListening = false;                              ///< notifications of others arrive on it
    sql::Backslash backslash = sql::Backslash::AsDialect;  ///< how the session reads texts in quotes
    bool quotesAreNames = false;                           ///< and whether "x" is a name where it usually is none

    friend bool operator==(const ConnectionState&, const ConnectionState&) = default;
};

/// What a connection lets through while one statement runs.
enum class Access {
    AsIs,       ///< what the session's own settings let through
    Reading,    ///< the engine itself refuses changes, as far as it can
    Changing,   ///< opened for one statement that was confirmed; closed after it to what was before
    Beginning,  ///< for a statement that begins a transaction in which can be written
};

/// One open connection to a database. An engine's driver makes it; a Session works it.
///
/// Threads: one at a time, except cancel().
class EngineConnection {
public:
    virtual ~EngineConnection() = default;

    /// Runs one statement to its end, or until the sink wants no more. It is read in the language of the connection.
    virtual Result<StatementResult> run(const sql::Statement& statement, RowSink& sink,
                                        const base::Cancellation& cancellation) = 0;

    /// Has the engine read a statement without running it. False where it cannot tell before it runs. Errors: what it
    /// would say against it; parameters may be without values.
    virtual Result<bool> check(const sql::Statement& /*statement*/, const base::Cancellation& /*cancellation*/) {
        return false;
    }

    /// Opens or closes the line for the statement that is run next; leave() must follow it. Errors: those of the
    /// engine.
    virtual Status enter(Access /*access*/, const base::Cancellation& /*cancellation*/) { return {}; }
    virtual void leave(const base::Cancellation& /*cancellation*/) {}

    /// Why what a statement calls is not known to be harmless, in a sentence; empty when all of it is. Asks the engine
    /// where its catalog tells. Errors: those of the engine.
    virtual Result<std::string> doubtAbout(const sql::PlainReading& reading, const base::Cancellation& cancellation);

    /// Asks the engine to stop what runs now. From any thread; returns at once. A server that does not answer within a
    /// second loses the connection instead.
    virtual void cancel() = 0;

    /// False once the connection is known to be lost, or found so now.
    [[nodiscard]] virtual bool isUsable() = 0;

    [[nodiscard]] virtual ConnectionState state() const = 0;

    [[nodiscard]] virtual sql::Dialect dialect() const = 0;

    /// Tells what the server said while nothing ran, without waiting.
    virtual void readNotices(RowSink& /*sink*/) {}

    virtual Result<catalog::CatalogPtr> loadCatalog(const catalog::Request& request,
                                                    const base::Cancellation& cancellation) = 0;

    /// The statements that make an object. Errors: NotFound, and those of the server.
    virtual Result<catalog::Definition> definition(const catalog::ObjectName& object,
                                                   const base::Cancellation& cancellation) = 0;

    /// What is known of an object beyond the catalog. Parts that are refused are told as problems. Errors: of an engine
    /// that tells nothing.
    virtual Result<catalog::ObjectDetails> details(const catalog::ObjectName& /*object*/,
                                                   const base::Cancellation& /*cancellation*/) {
        return catalog::ObjectDetails{};
    }

    /// The texts of all views, routines and triggers of some schemas.
    virtual Result<std::vector<catalog::SourceText>> sources(const std::vector<std::string>& /*schemas*/,
                                                             const base::Cancellation& /*cancellation*/) {
        return std::vector<catalog::SourceText>{};
    }

    /// Engine and version for people: SQLite 3.40.
    [[nodiscard]] virtual std::string serverVersion() = 0;

    /// How the connection is encrypted, as the protocol is called; empty when it is not.
    [[nodiscard]] virtual std::string encryption() const { return {}; }

    /// What the user may want to know about this connection, such as “opened for reading only”; empty otherwise.
    [[nodiscard]] virtual std::string remark() const { return {}; }
};

/// One stage of a connection test.
struct TestStage {
    std::string name;            ///< what was tried, as a finished deed: “Found the file”
    std::optional<Error> error;  ///< why it failed
    std::chrono::microseconds duration{};
    bool isWarning = false;  ///< it went well, and somebody should know of it all the same
};

class Driver {
public:
    virtual ~Driver() = default;

    /// Opens a connection. Errors: NotFound, Permission, Busy, Damaged, Connection.
    virtual Result<std::unique_ptr<EngineConnection>> open(const ConnectionProfile& profile,
                                                           const std::optional<std::string>& password,
                                                           const base::Cancellation& cancellation) const = 0;

    /// Tries a profile stage by stage, up to the first that fails.
    virtual std::vector<TestStage> test(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                        const base::Cancellation& cancellation) const = 0;
};

/// The driver of an engine, or an Error when this build has none.
Result<const Driver*> driverFor(Engine engine);

/// Engines that this build can connect to.
[[nodiscard]] std::vector<Engine> availableEngines();

}  // namespace pantry::db
