#pragma once

#include <cstddef>
#include <deque>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/db/guard.h"
#include "core/db/session.h"
#include "core/sql/meaning/statement.h"

namespace pantry::work {

/// A statement that waits for its turn; those that were asked for together share a batch.
struct QueuedStatement {
    sql::Statement statement;
    std::shared_ptr<db::RunBatch> batch;
};

/// What happens to the statements behind one that fails.
enum class OnError {
    Stop,  ///< they are not run
    Ask,   ///< somebody is asked whether the next one runs
    GoOn,  ///< they run all the same
};

/// What somebody has decided about a statement before it runs.
enum class Consent { None, Confirmed, OnlyIfItReads };

/// A statement that waits for somebody's word, and what waits behind it.
struct Held {
    sql::Statement statement;
    db::HeldBack why;            ///< without a reason when it is only asked about, behind one that failed
    std::size_t after = 0;       ///< statements that wait behind it
    std::string afterWhat = {};  ///< the failure after which it is asked about; may be empty

    [[nodiscard]] bool isOnlyAsked() const { return why.reason.empty(); }
};

/// Runs what a queue sends.
class RunQueueClient {
public:
    virtual ~RunQueueClient() = default;
    /// Why a statement must be confirmed, as far as that can be told at once; the session judges again, with all that
    /// the server tells, just before it sends.
    [[nodiscard]] virtual std::optional<db::HeldBack> whyHeld(const sql::Statement& statement) const = 0;
    /// Begins to run it. False when nothing can run here: what waits is given up.
    virtual bool send(const QueuedStatement& next, Consent consent) = 0;
    /// Statements that were sent and have neither ended nor paused.
    [[nodiscard]] virtual std::size_t underWay() const = 0;
    /// The name that confirms.
    [[nodiscard]] virtual std::string connectionName() const = 0;
    virtual void noteHeldChanged() = 0;
    /// So many statements behind one that failed or was stopped are not run.
    virtual void noteLeftOut(std::size_t statements) = 0;
};

/// The statements of one session in their order: which one is sent when, which waits for a confirmation, and what
/// becomes of the rest when one fails. The window's sheets and the command line use it, so that they cannot differ.
///
/// Threads: one; the client is called back on it.
class RunQueue {
public:
    /// Lifetime: the client outlives the queue.
    explicit RunQueue(RunQueueClient& client) : client_(client) {}

    [[nodiscard]] OnError onError() const { return onError_; }
    void setOnError(OnError choice) { onError_ = choice; }
    /// So many are sent, or wait in the session, at a time.
    void setMaxUnderWay(std::size_t statements) { maxUnderWay_ = statements; }

    /// What comes takes the place of what is held back, and the place behind what waits for its turn.
    void add(const std::vector<sql::Statement>& statements);
    /// Sends what waits, some statements at a time, up to one that must be confirmed first; one at a time when errors
    /// are asked about. To be called whenever one has ended or paused.
    void goOn() { goOn(Consent::None); }

    [[nodiscard]] const std::optional<Held>& held() const { return held_; }
    /// Lets the statement that is held back run. Errors: InvalidInput when `name` is not the connection's, unless it is
    /// only asked about.
    Status confirm(std::string_view name);
    /// Gives up what is held back, and what waits behind it.
    void dismiss();
    /// Gives up only what is held back, as if it had failed.
    void passOver();

    [[nodiscard]] bool isEmpty() const { return waiting_.empty(); }
    /// Whether it waits for its turn, rather than behind something that is held back.
    [[nodiscard]] bool isWaiting(const sql::Statement& statement) const;
    /// Gives up what waits for its turn; what is held back stays.
    void stop();

    /// The session held a statement back just before it was sent, or the engine refused it for want of a confirmation:
    /// it waits in front of what was to follow.
    void noteHeld(const QueuedStatement& statement, db::HeldBack why);
    /// A statement that was sent to the session behind one that is held back now: it waits with it.
    void noteNotRun(const QueuedStatement& statement);
    /// One has failed or was stopped; `words` tell people which one, and why. Asks, gives up what belongs to it, or
    /// goes on, as is chosen.
    void noteFailed(const std::shared_ptr<db::RunBatch>& batch, const std::string& text);

    /// The batch to send a statement with: none when those behind a failure run all the same.
    [[nodiscard]] std::shared_ptr<db::RunBatch> batchToSend(const QueuedStatement& statement) const {
        return onError_ == OnError::GoOn ? nullptr : statement.batch;
    }

private:
    void goOn(Consent consent);
    bool sendNext(Consent consent);
    void hold(const sql::Statement& statement, db::HeldBack why, std::string afterWhat = {});
    void askAfter(const std::string& text);

    RunQueueClient& client_;
    OnError onError_ = OnError::Stop;
    std::size_t maxUnderWay_ = 32;
    std::deque<QueuedStatement> waiting_;  // the one that is held back in front
    std::size_t returned_ = 0;             // of them, those that were under way when one before was held back
    std::optional<Held> held_;
    bool isSending_ = false;
};

}  // namespace pantry::work
