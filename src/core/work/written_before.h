#pragma once

#include <functional>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/sql/complete/habits.h"
#include "core/sql/text/dialect.h"
#include "core/store/ledger.h"
#include "core/work/ledger_keeper.h"
#include "core/work/owner_thread.h"

namespace pantry::work {

/// What the runs of a connection name, and the statements that succeeded; `entries` the latest first.
[[nodiscard]] sql::Habits habitsOf(const std::vector<store::LedgerEntry>& entries, const sql::Language& language);

/// What was written on each connection before, read from the ledger and read again after something ran. What is
/// known is told at once; what is newer is there the next time.
///
/// Threads: the owner's; reading and counting happen elsewhere.
class WrittenBefore {
public:
    static constexpr std::size_t kLatest = 400;  ///< runs that are looked at

    WrittenBefore(const OwnerThread& owner, LedgerKeeper& ledger) : owner_(owner), ledger_(ledger) {}

    /// What is known of a connection; nullptr before anything was read.
    [[nodiscard]] std::shared_ptr<const sql::Habits> on(const std::string& connectionId, const sql::Language& language);
    /// Something ran or was taken out of the ledger.
    void forget();

private:
    struct Known {
        std::shared_ptr<const sql::Habits> habits;
        bool isOfNow = false;
        bool isBeingRead = false;
    };
    void read(const std::string& connectionId, const sql::Language& language);

    const OwnerThread& owner_;
    LedgerKeeper& ledger_;
    std::map<std::string, Known> known_;
    WhileThere whileThere_;
};

}  // namespace pantry::work
