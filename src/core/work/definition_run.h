#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/db/profile.h"
#include "core/sql/define/alter_table.h"
#include "core/work/document_runs.h"
#include "core/work/document_session.h"

namespace pantry::work {

/// The statements of a change as they are run: one after the other, within a transaction where the engine can roll
/// definitions back, and behind a limit for how long they wait for locks of others. What a form shows and a sheet gets.
[[nodiscard]] std::vector<sql::DefinitionStep> stepsToRun(const sql::DefinitionChange& change, db::Engine engine);

/// Runs the statements of one change after another, on a session of its own, under the guard of the connection and
/// into the ledger. The first that fails ends it: what the transaction had done is rolled back, or, where there is
/// none, what was done is said.
///
/// Threads: the owner's; nothing is told once this is gone.
class DefinitionRun : private RunsClient {
public:
    struct Outcome {
        /// Of statements of the change that ended well and hold: what they did. What goes around them is not told.
        std::vector<std::string> labels;
        std::optional<Error> error;             ///< of the one that failed; nothing when all went well
        std::string failed;                     ///< that statement
        std::optional<std::size_t> place = {};  ///< of the failure in the text that somebody wrote, in bytes
        bool isRolledBack = false;              ///< nothing of it holds
    };
    struct Told {
        std::function<void(std::size_t done, std::size_t all, const std::string& label)> progressed;
        std::function<void(const Outcome&)> finished;
        /// The server wants a password that is not known.
        std::function<void()> passwordWanted;
    };
    struct Needs {
        const OwnerThread& owner;
        Connections& connections;
        Catalogs& catalogs;
        Preferences& preferences;
        LedgerKeeper& ledger;
    };
    /// `title`: for the ledger.
    DefinitionRun(const Needs& needs, RunPlace place, std::string title, Told told);
    ~DefinitionRun() override;

    [[nodiscard]] const db::ConnectionProfile* profile() const { return session_.profile(); }
    /// Why the connection holds such a change back until its name is given; empty when it does not.
    [[nodiscard]] std::string whyHeld(const sql::DefinitionChange& change) const;
    /// Runs it. `name`: of the connection, as it stands on the button that was pressed or was typed; statements that
    /// are held back run when it is the right one. Nothing while one is under way.
    void run(const sql::DefinitionChange& change, const std::string& name);
    [[nodiscard]] bool isRunning() const { return isRunning_; }
    void stop();
    /// Goes on with the password that was wanted.
    void connectWith(const std::string& password);

private:
    [[nodiscard]] std::string documentTitle() const override { return title_; }
    [[nodiscard]] sql::Language language() const override;
    [[nodiscard]] catalog::View catalogFor(const Error& /*error*/) const override { return session_.catalogView(); }
    void noteAdded(const RunPtr& /*run*/) override {}
    void noteChanged(const RunPtr& run, RunChange change) override;
    void noteRemoved(const RunPtr& /*run*/) override {}
    void noteRunning() override {}
    void noteHeld() override;
    void noteNowhere() override;
    void remark(const std::string& /*text*/) override {}

    void next();
    void noteDone(const RunPtr& run);
    void fail(const Error& error);
    void finish();

    const OwnerThread& owner_;
    std::string title_;
    Told told_;
    DocumentSession session_;
    DocumentRuns runs_;
    std::vector<sql::DefinitionStep> steps_;
    std::size_t at_ = 0;
    std::size_t ownFrom_ = 0;  // where the change's own statements begin among the steps
    std::size_t ownTo_ = 0;
    std::string name_;
    Outcome outcome_;
    bool isRunning_ = false;
    bool isRollingBack_ = false;
    WhileThere whileThere_;
};

}  // namespace pantry::work
