#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/work/document_session.h"
#include "core/work/ledger_keeper.h"
#include "core/work/result_memory.h"
#include "core/work/run.h"
#include "core/work/run_queue.h"
#include "core/work/runs_client.h"

namespace pantry::work {

/// The runs of one document: what is asked for goes through the queue into its session and into the ledger; what the
/// session tells becomes of runs is told to the client. The window's sheets and `pantry run` use it, so that they
/// cannot differ.
///
/// Threads: the owner's; nothing is told once this is gone.
class DocumentRuns : private RunQueueClient {
public:
    /// What it is made from; outlives it. `memory`: nullptr where rows are shown and forgotten.
    struct Needs {
        const OwnerThread& owner;
        DocumentSession& session;
        LedgerKeeper& ledger;
        ResultMemory* memory = nullptr;
    };
    DocumentRuns(const Needs& needs, RunsClient& client);
    ~DocumentRuns() override = default;

    // Running
    void add(const std::vector<sql::Statement>& statements) { queue_.add(statements); }
    /// Pressing twice means once: whether it runs, or waits for its turn.
    [[nodiscard]] bool isUnderWay(const sql::Statement& statement) const;
    /// Whether something runs.
    [[nodiscard]] bool isRunning() const { return underWay() > 0; }
    /// Whether something runs, or waits for its turn without being held back.
    [[nodiscard]] bool isBusy() const { return !held() && (isRunning() || !queue_.isEmpty()); }
    /// Stops what runs and gives up what waits for its turn.
    void stop();
    /// Tries again with a password: the catalog, and the statement that could not run without.
    void connectWith(const std::string& password);

    [[nodiscard]] OnError onError() const { return queue_.onError(); }
    void setOnError(OnError choice) { queue_.setOnError(choice); }
    /// Each statement is sent when the one before it has ended.
    void sendOneByOne() { queue_.setMaxUnderWay(1); }

    // Held back
    /// Why a statement would wait for a confirmation, as far as that can be told at once.
    [[nodiscard]] std::optional<db::HeldBack> whyHeld(const sql::Statement& statement) const override;
    [[nodiscard]] const std::optional<Held>& held() const { return queue_.held(); }
    /// `name`: of the connection, as somebody typed it, or as it stood on the button that was pressed. Remarks when it
    /// is another one.
    void confirm(const std::string& name);
    /// Confirms everything that is going to run, when the name is the connection's.
    void confirmAhead(const std::string& name) { isConfirmedAhead_ = name == connectionName(); }
    void dismiss() { queue_.dismiss(); }
    /// Gives up what is held back as if it had failed.
    void passOver() { queue_.passOver(); }

    /// What the ledger shall have of a statement of this document.
    [[nodiscard]] store::RunStart record(const sql::Statement& statement) const;

    // What is there
    [[nodiscard]] const std::vector<RunPtr>& runs() const { return runs_; }
    void remove(const RunPtr& run);
    /// Runs of an earlier start come back, before those that are there; one whose number is taken stays away.
    void restore(const RunPtr& run);
    /// Moves it among the others.
    void move(const RunPtr& run, int by);
    void setPinned(const RunPtr& run, bool isPinned);
    /// Differences of two results, as one more.
    void addComparison(const std::string& title, const data::ResultSetPtr& differences, const std::string& text);
    /// Whether its statement would run where its rows came from. Elsewhere it is not run again: other rows, or a change
    /// of something else, would be the outcome.
    [[nodiscard]] bool isFromHere(const Run& run) const { return run.origin().isLike(session_.origin()); }

    // Once more
    void fetchMore(const RunPtr& run, std::size_t rows);
    /// Reads all rows: goes on where it paused, or runs the statement anew when its connection was needed since.
    void fetchAll(const RunPtr& run);
    /// Ends one that has paused; its rows stay.
    void endPaused(const RunPtr& run);
    /// Runs its statement again, and its rows take the place of those that are there.
    void rerun(const RunPtr& run);
    /// Why its statement cannot run once more for the same rows; nothing when it can.
    [[nodiscard]] std::optional<Error> whyNotAgain(const Run& run) const;
    /// Runs a statement once more, as one that only reads, without a run of its own here: in this session when it is
    /// free, or in another one to the same place. Nothing when none is free.
    [[nodiscard]] std::optional<RunBeside> runBeside(db::RunRequest request, std::shared_ptr<db::RunObserver> observer,
                                                     bool isInThisSession);

private:
    /// What only belongs to a run as long as this has it.
    struct Going {
        RunPtr run;
        std::shared_ptr<db::RunBatch> batch;
        LedgerKeeper::Entry entry;
        db::RunHandle handle;
        int attempt = 0;  // passwords that were given when it was sent
    };
    using GoingPtr = std::shared_ptr<Going>;

    bool send(const QueuedStatement& next, Consent consent) override;
    [[nodiscard]] std::size_t underWay() const override;
    [[nodiscard]] std::string connectionName() const override;
    void noteHeldChanged() override { client_.noteHeld(); }
    void noteLeftOut(std::size_t statements) override;

    GoingPtr start(const QueuedStatement& next, Consent consent, const RunPtr& again = nullptr);
    [[nodiscard]] std::shared_ptr<db::RunObserver> follow(const GoingPtr& going);
    void noteColumns(Run& run, const data::ResultSetPtr& result);
    GoingPtr addNext(const Going& before);
    void notePaused(const GoingPtr& going, std::size_t rows);
    void noteFinished(const GoingPtr& going, const db::RunSummary& summary);
    void noteFailed(const GoingPtr& going, const Error& error, const db::RunSummary& summary);
    void noteFailure(const GoingPtr& going, const Error& error, const db::RunSummary& summary);
    void noteConnected(const db::RunSummary& summary);
    [[nodiscard]] Error advised(const Error& complaint, const std::string& statement) const;
    void noteEnd(const GoingPtr& going, RunChange change);
    void dropUnsent(const GoingPtr& going);
    void drop(const GoingPtr& going);
    void addRun(const GoingPtr& going);
    void forgetOldest();
    [[nodiscard]] bool isHere(const RunPtr& run) const;
    [[nodiscard]] GoingPtr goingOf(const RunPtr& run) const;
    [[nodiscard]] std::string placeText() const;

    const OwnerThread& owner_;
    DocumentSession& session_;
    LedgerKeeper& ledger_;
    ResultMemory* memory_;
    RunsClient& client_;
    std::vector<RunPtr> runs_;     // as they are shown
    std::vector<GoingPtr> going_;  // those of them that a session has, or had
    int nextNumber_ = 1;
    bool isConfirmedAhead_ = false;
    RunQueue queue_{*this};
    WhileThere whileThere_;
};

}  // namespace pantry::work
