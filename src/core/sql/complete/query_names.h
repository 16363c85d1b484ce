#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// A column as a query names it, before anybody knows whose it is.
struct NamedColumn {
    std::string qualifier;  ///< empty when there is none
    std::string column;
    std::uint32_t token = 0;  ///< its first
    NodeKind clause = NodeKind::Statement;
};

/// An item of a select list.
struct SelectedItem {
    std::string text;   ///< as it is written, without its alias
    std::string alias;  ///< empty when there is none
    bool isAggregate = false;
    bool isName = false;  ///< a column and nothing else
};

/// What one query says before it is whole: the columns that it names and the items of its select list. Not what the
/// queries within it say.
struct QueryNames {
    std::vector<NamedColumn> columns;
    std::vector<SelectedItem> items;

    /// Whether the query names a column in a clause; of any qualifier.
    [[nodiscard]] bool names(std::string_view column, NodeKind clause) const;
    /// Whether more columns are named with a qualifier than without.
    [[nodiscard]] bool isQualifying() const;
};

/// Whether a node is a clause of a query or of a statement that changes rows.
[[nodiscard]] bool isClause(NodeKind kind);

/// The clause that a node is in: the nearest one around it, within its query.
[[nodiscard]] NodeKind clauseOf(const SyntaxTree& tree, std::uint32_t node);

/// The query, or statement that changes rows, around a token.
[[nodiscard]] std::uint32_t queryAround(const SyntaxTree& tree, std::uint32_t token);

/// What the query around a token names; the name at `except`, which is being written, left out.
[[nodiscard]] QueryNames namesOfQuery(std::string_view statement, const SyntaxTree& tree, std::uint32_t query,
                                      std::uint32_t except);

}  // namespace pantry::sql
