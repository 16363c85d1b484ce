#pragma once

#include <cstddef>
#include <string>
#include <utility>
#include <vector>

#include "core/sql/text/dialect.h"
#include "core/store/ledger.h"

namespace pantry::work {

/// One thing that was otherwise in the run before.
struct RunDifference {
    std::string what;  ///< “Value of visited_on”, “Rows”, “Time at the server”
    std::string before;
    std::string now;
    friend bool operator==(const RunDifference&, const RunDifference&) = default;
};

/// What differs between two runs of statements that are the same but for values: the values with the names that they
/// stand beside, parameters, where it ran, what became of it, rows and time. In this order; nothing that is the same.
[[nodiscard]] std::vector<RunDifference> differencesOf(const store::LedgerEntry& before, const store::LedgerEntry& now);

/// Why a run is worth a look: it took at least three times as long as those before it did in the middle, and a tenth of
/// a second more. Empty for all others. `points`: the oldest first, the run itself the last.
[[nodiscard]] std::string slownessOf(const std::vector<store::LedgerFold::Point>& points);

/// Where the first value that something is compared with stands in a statement, from byte to byte, to be changed; else
/// its first value, or its end where it has none. Of a text what stands within its quotes.
[[nodiscard]] std::pair<std::size_t, std::size_t> firstValueOf(const std::string& statement,
                                                               const sql::Language& language);

}  // namespace pantry::work
