#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>

#include "core/base/error.h"
#include "core/catalog/catalog_view.h"
#include "core/db/guard.h"
#include "core/db/session.h"
#include "core/sql/meaning/statement.h"
#include "core/store/ledger.h"
#include "core/work/catalog_follower.h"
#include "core/work/catalogs.h"
#include "core/work/connections.h"
#include "core/work/origin.h"
#include "core/work/preferences.h"
#include "core/work/run_queue.h"

namespace pantry::work {

/// Where a document's statements run: a connection, one of its databases, a schema.
struct RunPlace {
    std::string connection;  ///< id; empty for none yet
    std::string database;    ///< when it is not the connection's own
    std::string schema;      ///< where names are looked for first; empty for the usual
    friend bool operator==(const RunPlace&, const RunPlace&) = default;
};

/// The session of one document, such as a sheet: where its statements run, by which rules, what is known of the
/// connection meanwhile, and what a run's end means for it. It connects when the first statement is to run.
///
/// Threads: the owner's; what is told comes there, and none of it once this is gone.
class DocumentSession {
public:
    struct Told {
        /// What is known of the session is other now: transaction, database, schema, who it is.
        std::function<void()> changed;
        /// The place is another one, or its connection was changed.
        std::function<void()> placeChanged;
        /// The session has ended, and what waits for it waits in vain.
        std::function<void()> left;
        /// Something for somebody to read, such as why it cannot go elsewhere now.
        std::function<void(const std::string& text)> remarked;
    };
    /// What it is made from; outlives it.
    struct Needs {
        const OwnerThread& owner;
        Connections& connections;
        Catalogs& catalogs;
        Preferences& preferences;
    };
    DocumentSession(const Needs& needs, RunPlace place, Told told);
    ~DocumentSession();

    // Where
    [[nodiscard]] const RunPlace& place() const { return place_; }
    /// Goes to another connection, or to another database of this one. False, and a remark, while changes are open.
    bool goTo(const std::string& connection);
    bool goToDatabase(const std::string& database);
    /// The connection, led to the place; nullptr without one, or when it is gone.
    [[nodiscard]] const db::ConnectionProfile* profile() const { return there_ ? &*there_ : nullptr; }
    /// What a new document takes over from this one.
    [[nodiscard]] RunPlace placeForAnother() const;
    /// Where names without a schema are looked for first; empty while unknown.
    [[nodiscard]] std::string currentSchema() const;
    /// Where a statement that runs now gets its rows from.
    [[nodiscard]] Origin origin() const;
    /// In which the session would read a statement now; `usual` without a connection.
    [[nodiscard]] sql::Language language(const sql::Language& usual) const;
    /// What names mean here: the session may look for them elsewhere than the catalog was read.
    [[nodiscard]] catalog::View catalogView() const;
    /// The same, where the catalog has been read.
    [[nodiscard]] std::optional<catalog::View> knownCatalog() const;
    /// Connections were changed, here or by others.
    void noteConnections();

    // Running
    /// Why a statement waits for a confirmation; nothing when it does not, or is too long to be looked at here: the
    /// session looks again.
    [[nodiscard]] std::optional<db::HeldBack> whyHeld(const sql::Statement& statement) const;
    /// A request for the next statement, under the rules of the connection as they are when it is sent.
    [[nodiscard]] db::RunRequest request(const sql::Statement& statement, Consent consent,
                                         std::shared_ptr<db::RunBatch> batch) const;
    /// The session; made when it is first needed. nullptr without a connection.
    [[nodiscard]] db::Session* session();
    /// A session of its own to where statements run now, its schema included; nullptr without a connection.
    [[nodiscard]] std::unique_ptr<db::Session> another() const;
    /// What the ledger keeps of a statement that runs here. `title`: the document's.
    [[nodiscard]] store::RunStart record(const sql::Statement& statement, const std::string& title) const;
    /// The statements that the connection runs by itself, when this run opened it; nothing else.
    [[nodiscard]] std::optional<std::string> ranOnConnect(const db::RunSummary& summary) const;

    /// A run has ended or paused; for each summary that comes.
    void note(const db::SessionState& state);
    /// A statement has ended well: what it defined is read anew when others can see it.
    void noteFinished(const sql::Statement& statement);
    /// A statement has failed; an empty one is not wanted any more. `attempt`: attempts() when it was sent.
    /// Returns: whether it was refused for a password that was given another since, and is to run again.
    [[nodiscard]] bool noteFailed(const Error& error, const db::RunSummary& summary, const sql::Statement& statement,
                                  int attempt);

    [[nodiscard]] const db::SessionState& state() const { return state_; }
    [[nodiscard]] bool hasOpenChanges() const {
        return state_.connection.transaction != db::TransactionState::None && state_.openChanges > 0;
    }
    [[nodiscard]] bool commitsByHand() const { return commitsByHand_; }
    void setCommitsByHand(bool byHand);

    // Password
    /// Whether the server refused without another password, and one is to be typed.
    [[nodiscard]] bool wantsPassword() const;
    /// How many passwords were given so far.
    [[nodiscard]] int attempts() const { return attempts_; }
    /// Tries again with a password: the catalog, and the statement that could not run without.
    /// Returns: that statement, when there is one; it is to be run.
    [[nodiscard]] std::optional<sql::Statement> connectWith(const std::string& password);

    // Meanwhile
    /// Closes the connection when nothing used it for so long as is chosen.
    void closeIfIdle();
    /// Tells what the server said while nothing ran.
    void pollNotices();
    /// Ends the session; a new one is made when it is needed.
    void leave();

private:
    [[nodiscard]] bool holdsOpenChanges();
    void lead();
    /// The next statement opens another session; `isElsewhere`: at another place.
    void changeSession(bool isElsewhere);

    const OwnerThread& owner_;
    Connections& connections_;
    Catalogs& catalogs_;
    Preferences& preferences_;
    Told told_;
    RunPlace place_;
    std::optional<db::ConnectionProfile> there_;
    std::unique_ptr<db::Session> session_;
    db::SessionState state_;
    CatalogFollower follower_;
    bool commitsByHand_ = false;
    bool isOtherDue_ = false;      // the connection was changed since, but changes are open
    bool isElsewhereDue_ = false;  // and leads elsewhere
    bool isPasswordRefused_ = false;
    int attempts_ = 0;
    std::optional<sql::Statement> refused_;  // could not run for the password
    WhileThere whileThere_;
};

}  // namespace pantry::work
