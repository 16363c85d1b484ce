#pragma once

#include <cstddef>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "core/sql/text/dialect.h"
#include "core/work/ledger_keeper.h"
#include "core/work/owner_thread.h"

namespace pantry::work {

/// How the statements of a sheet went the last time that they ran on its connection. What is not known yet is read
/// from the ledger, all that was asked for at once; `read` hears when it is there.
///
/// Threads: the owner's.
class LastRuns {
public:
    LastRuns(LedgerKeeper& ledger, std::function<void()> read) : ledger_(ledger), read_(std::move(read)) {}

    /// On which connection, and how statements are read there; another one begins anew.
    void setPlace(const std::string& connectionId, const sql::Language& language);
    /// “last time 24 rows · 8 ms”; empty while nothing is known, and for what never ran well. `hash`: of the
    /// statement's bytes.
    [[nodiscard]] std::string textOf(std::size_t hash, std::string_view statement);
    /// Reads what textOf() was asked for and did not know.
    void readAsked();
    /// Something ran: what is known is shown until it is read again.
    void noteRun();

private:
    struct Known {
        std::string text;
        bool isOfNow = false;
    };
    LedgerKeeper& ledger_;
    std::function<void()> read_;
    std::string connectionId_;
    sql::Language language_ = sql::Dialect::Sqlite;
    std::unordered_map<std::size_t, Known> known_;
    std::vector<std::pair<std::size_t, std::string>> asked_;
    WhileThere whileThere_;
    std::uint64_t generation_ = 0;
};

}  // namespace pantry::work
