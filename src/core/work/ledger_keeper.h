#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/serial_worker.h"
#include "core/store/ledger.h"
#include "core/store/ledger_statistics.h"
#include "core/work/owner_thread.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// The ledger as a program uses it: written and searched by a thread of its own, in the order in which it was asked.
///
/// Threads: the owner's; what is told comes there, and none of it once the keeper is gone. Its end writes what is left.
class LedgerKeeper {
public:
    LedgerKeeper(Surroundings& around, std::function<void()> changed) : around_(around), changed_(std::move(changed)) {}

    /// What cannot be opened is told; nothing is kept then.
    void open();

    /// An entry that is being written; what is asked of it later is done behind that.
    using Entry = std::shared_ptr<std::int64_t>;
    /// `kept`: hears when it is in the ledger; not at all when it could not be kept.
    Entry start(const store::RunStart& run, base::Moment when, std::function<void()> kept = {});
    void end(const Entry& entry, const store::RunEnd& end);
    void remove(const Entry& entry);
    void remove(std::int64_t id);
    /// Takes entries away; `done` hears what they were, so that restore() can put them back.
    void remove(std::vector<std::int64_t> ids, std::function<void(std::vector<store::LedgerEntry>)> done);
    void restore(std::vector<store::LedgerEntry> entries);
    /// Takes away what is older than so many days, and the oldest beyond so many runs; 0 takes nothing. Starred ones
    /// and those with a note stay.
    void thin(int days, std::int64_t runs);
    void setStarred(std::int64_t id, bool isStarred);
    void setNote(std::int64_t id, std::string note);
    void findFolded(const store::LedgerQuery& query, std::function<void(Result<store::LedgerPage>)> done);
    /// The runs of the same connection that are the same but for values, the newest first.
    void findLike(const store::LedgerEntry& entry, std::size_t limit, store::LedgerAlike alike,
                  std::function<void(Result<std::vector<store::LedgerEntry>>)> done);
    /// The runs that began at a moment.
    void findAt(base::Moment moment, std::function<void(Result<std::vector<store::LedgerEntry>>)> done);
    /// For each statement its last run on a connection that went well, if there is one.
    void findLast(std::string connectionId, std::vector<std::string> statements, const sql::Language& language,
                  std::function<void(std::vector<std::optional<store::LedgerEntry>>)> done);
    /// The last run of a saved query, if there is one.
    void findLastOfSaved(std::string saved, std::function<void(std::optional<store::LedgerEntry>)> done);
    void find(const store::LedgerQuery& query, std::function<void(Result<std::vector<store::LedgerEntry>>)> done);
    /// Counts all runs since a moment, of some connections or of all; beside everything else that is asked.
    void readStatistics(std::vector<std::string> connections, base::Moment since,
                        std::function<void(Result<store::LedgerStatistics>)> done);
    void readUsage(std::function<void(std::vector<store::Ledger::Usage>)> done);

    /// Waits until everything is written.
    void flush() { worker_ = std::make_unique<base::SerialWorker>(); }

private:
    void tellChange();
    void removeNow(std::int64_t id);
    /// Does something with the ledger on its thread; what went wrong is told, what went well is news.
    void change(std::function<Status(store::Ledger&)> work);
    /// Asks the ledger something on its thread; without one the answer is an empty one.
    template <class Answer>
    void ask(std::function<Result<Answer>(const store::Ledger&)> question, std::function<void(Result<Answer>)> done);

    Surroundings& around_;
    std::function<void()> changed_;
    WhileThere whileThere_;
    std::unique_ptr<store::Ledger> ledger_;  // the worker's thread only
    std::unique_ptr<base::SerialWorker> worker_ = std::make_unique<base::SerialWorker>();
};

}  // namespace pantry::work
