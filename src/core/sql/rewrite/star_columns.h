#pragma once

#include <string>
#include <vector>

#include "core/sql/rewrite/rewrite.h"
#include "core/sql/rewrite/rewrite_place.h"

namespace pantry::sql {

/// A column that a * stands for.
struct StarColumn {
    std::string
        text;  ///< as it is to be written in that query: qualified where that is needed, quoted where it must be
    std::string name;
    std::string type;      ///< as the engine writes it; empty when not known
    std::string relation;  ///< the name of its relation in the query
};

/// A * of a select list with what it stands for.
struct StarColumns {
    std::uint32_t node = Node::kNone;
    TextRange range;  ///< of the text
    std::vector<StarColumn> columns;
};

/// The * that a caret means: that which it touches, else the first one of the query around it, else of the
/// statement.
/// Errors: NotFound when there is none, or when the columns of a relation are not known.
[[nodiscard]] Result<StarColumns> starColumnsAt(const RewritePlace& place);
[[nodiscard]] Result<StarColumns> starColumnsAt(const Script& script, const catalog::View& catalog, std::size_t caret);

}  // namespace pantry::sql
