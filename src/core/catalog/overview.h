#pragma once

#include <cstdint>
#include <string>
#include <utility>
#include <vector>

#include "core/catalog/catalog.h"

namespace pantry::catalog {

/// What is in a database, or in one of its schemas, at a glance. Relations point into the catalog.
struct Overview {
    std::vector<std::pair<ObjectKind, std::size_t>> counts;  ///< kinds that are there, in the order of lists
    std::int64_t rows = 0;                                   ///< estimated, of all tables
    std::int64_t bytes = 0;                                  ///< as the engine last noted them; 0 where it tells none
    std::vector<const Relation*> largest;                    ///< by size, else by rows
    std::vector<const Relation*> newest;                     ///< where the engine knows the order
    std::vector<const Relation*> empty;                      ///< tables that hold no row, by the estimate
    std::vector<const Relation*> withoutKey;                 ///< tables whose rows nothing tells apart
    std::vector<const Relation*> alone;                      ///< tables that no foreign key leads from or to
};

/// `schema`: only that one; empty: all that are the user's. At most `limit` relations in each list.
[[nodiscard]] Overview overviewOf(const Catalog& catalog, const std::string& schema, std::size_t limit);

}  // namespace pantry::catalog
