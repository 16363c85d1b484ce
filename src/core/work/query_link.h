#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/work/shelves.h"

namespace pantry::work {

/// An address without any secret that leads to a saved query on every machine with the same shelf:
/// agile-pantry:query/plot-health/scab-by-plot.sql?shelf=ssh%3A%2F%2Fgit%40example.org%2Fqueries.git
/// A shelf that is shared is named by its remote's address, another one by nothing.
[[nodiscard]] std::string queryLink(const store::QueryPlace& place, const std::vector<ShelfInfo>& shelves);

[[nodiscard]] bool isQueryLink(std::string_view text);

/// Where a link leads here. Errors: InvalidInput for what is none; NotFound, saying what is missing: the shelf, or the
/// query on it.
Result<store::QueryPlace> placeOfLink(std::string_view link, const std::vector<ShelfInfo>& shelves,
                                      const std::vector<ShelvedQuery>& queries);

}  // namespace pantry::work
