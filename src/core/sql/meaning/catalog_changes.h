#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax/parser.h"

namespace pantry::sql {

/// What of a catalog a defining statement may have made different, so that the rest need not be read again.
struct CatalogChanges {
    std::vector<std::string> schemas;  ///< none: everything
    std::vector<std::string>
        names;  ///< of tables and views in them, and of what hangs on these; none: all that is in them

    friend bool operator==(const CatalogChanges&, const CatalogChanges&) = default;
};

/// Rather too much than too little: the schemas are those that the statement names, and `currentSchema`, where names
/// without one are made; the names are all its words, as they stand and as they are folded, when it is about tables,
/// views, indexes or triggers. Everything when it may have changed more than that: whole schemas, databases,
/// extensions, or what CASCADE reaches.
[[nodiscard]] CatalogChanges catalogChanges(std::string_view statement, const SyntaxTree& tree,
                                            const std::string& currentSchema);

/// What two statements changed between them.
[[nodiscard]] CatalogChanges together(const CatalogChanges& a, const CatalogChanges& b);

}  // namespace pantry::sql
