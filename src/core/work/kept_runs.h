#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/base/serial_worker.h"
#include "core/store/kept_results.h"
#include "core/work/owner_thread.h"
#include "core/work/run.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// A run that is back from an earlier start.
struct RestoredRun {
    RunPtr run;
    std::string whole;  ///< the statement that it is only a part of; empty when it is a whole one
};

/// A result before, to compare with.
struct EarlierResult {
    data::ResultSetPtr rows = {};  ///< null when it is not here
    base::Moment when{};
};

/// Runs as they outlive the program: how they ended, and their rows if they are few. A statement that holds a secret,
/// or was given one, is not kept; neither is a comparison.
///
/// Threads: the owner's; files are written and read by a thread of their own, in the order in which it was asked.
class KeptRuns {
public:
    explicit KeptRuns(Surroundings& around)
        : around_(around), files_(std::make_shared<store::KeptResults>(around.home().resultsFolder())) {}

    /// Whether rows are kept too; what has been kept already stays.
    void setKeepsRows(bool keepsRows) { keepsRows_ = keepsRows; }
    /// `owner`: the identity of its sheet. In place of what was kept of the same number.
    void keep(const std::string& owner, const Run& run, const std::string& whole);
    void remove(const std::string& owner, int number);
    /// `language`: that its statements are read in.
    void load(const std::string& owner, const sql::Language& language,
              std::function<void(const std::vector<RestoredRun>&)> told);
    /// Tells what is other in a whole result than in the one before: in `earlier`, or in the last one that is kept of
    /// the same statement of a saved query with the same values on the same connection. It is kept as the last one
    /// then, if it is small enough. `saved`: how the ledger names that query; empty for none. Nothing is told where
    /// there is no earlier one.
    void compareWithLast(const std::string& saved, const Run& run, EarlierResult earlier,
                         std::function<void(const ResultChangePtr&)> told);
    /// Removes the oldest beyond what may be kept.
    void tidy();
    /// Waits until everything is written.
    void flush() { worker_ = std::make_unique<base::SerialWorker>(); }

private:
    Surroundings& around_;
    std::shared_ptr<store::KeptResults> files_;  // the worker's thread only
    bool keepsRows_ = true;
    WhileThere whileThere_;
    std::unique_ptr<base::SerialWorker> worker_ = std::make_unique<base::SerialWorker>();
};

/// Whether a run may stand in a file.
[[nodiscard]] bool mayBeKept(const Run& run);
[[nodiscard]] store::KeptRun keptRun(const Run& run);
[[nodiscard]] RunPtr restoredRun(const store::KeptRun& kept, const sql::Language& language);

}  // namespace pantry::work
