#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/base/time.h"
#include "core/store/ledger.h"
#include "core/work/shelves.h"

namespace pantry::work {

/// An address without any secret that leads to a saved query on every machine with the same shelf:
/// agile-pantry:query/plot-health/scab-by-plot.sql?shelf=ssh%3A%2F%2Fgit%40example.org%2Fqueries.git
/// A shelf that is shared is named by its remote's address, another one by nothing.
[[nodiscard]] std::string queryLink(const store::QueryPlace& place, const std::vector<ShelfInfo>& shelves);

/// Whether a text is one of this program's addresses: of a query, or of a run.
[[nodiscard]] bool isLink(std::string_view text);
[[nodiscard]] bool isRunLink(std::string_view text);

/// An address without any secret that leads to a run: when it began, and a hash of its statement. On a machine whose
/// ledger does not have it, it leads to the saved query that it came from, if there is one:
/// agile-pantry:run/1764446260123456-9ae16a3b2f90404f?query=agile-pantry%3Aquery%2F…
[[nodiscard]] std::string runLink(const store::LedgerEntry& entry, const std::vector<ShelfInfo>& shelves);

/// What the address of a run says.
struct RunLink {
    base::Moment startedAt{};
    std::uint64_t statement = 0;  ///< hash of its text
    std::string query = {};       ///< the address of the saved query that it came from; empty for none
};
/// Errors: InvalidInput for what is none.
Result<RunLink> readRunLink(std::string_view link);
/// Whether a run is the one that is meant.
[[nodiscard]] bool isRunOf(const store::LedgerEntry& entry, const RunLink& link);

/// Where a link leads here. Errors: InvalidInput for what is none; NotFound, saying what is missing: the shelf, or the
/// query on it.
Result<store::QueryPlace> placeOfLink(std::string_view link, const std::vector<ShelfInfo>& shelves,
                                      const std::vector<ShelvedQuery>& queries);

}  // namespace pantry::work
