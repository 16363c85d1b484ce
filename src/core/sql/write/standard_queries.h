#pragma once

#include <string>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A query that people ask of nearly every table.
struct StandardQuery {
    std::string label;      ///< in a list: Newest rows
    std::string title;      ///< of a sheet: Newest inspection
    std::string statement;  ///< with its terminator
};

/// What can be asked of a relation: how many rows, the newest ones by its date, moment or key, values that stand there
/// more than once, and rows in which something is missing. What its columns do not allow is left out.
[[nodiscard]] std::vector<StandardQuery> standardQueries(const catalog::Relation& relation, const catalog::View& view,
                                                         Dialect dialect);

}  // namespace pantry::sql
