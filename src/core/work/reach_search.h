#pragma once

#include <cstddef>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/catalog/catalog.h"

namespace pantry::work {

/// What somebody can reach for, but for the names in catalogs: sheets, actions, settings.
struct ReachText {
    std::string title;
    std::string also;  ///< other words it is looked for by
};

/// A catalog whose relations somebody can reach for.
struct ReachCatalog {
    std::string connection;  ///< id
    std::string name;        ///< of the connection
    catalog::CatalogPtr catalog;
};

/// All that somebody can reach for. Those with the same score stay in this order.
struct ReachScope {
    std::vector<ReachText> before;
    std::vector<ReachCatalog> catalogs;
    std::vector<ReachText> behind;
};

/// One of them that fits.
struct ReachHit {
    enum class Part { Before, Relation, Behind };
    Part part = Part::Before;
    std::size_t index = 0;  ///< among those of its part; of a relation: its catalog
    const catalog::Relation* relation = nullptr;
    int score = 0;
};

/// The best of what fits a pattern of words, best first; see base::wordScore(). What is named so comes before what is
/// only meant by it. An empty pattern fits everything. Nothing when it was cancelled.
///
/// Lifetime: relations belong to the catalogs of the scope.
/// Cost: grows with the number of names; hundreds of thousands take tens of milliseconds: not for the window's thread.
[[nodiscard]] std::optional<std::vector<ReachHit>> reachFor(std::string_view pattern, const ReachScope& scope,
                                                            std::size_t most, const base::Cancellation& cancellation);

}  // namespace pantry::work
