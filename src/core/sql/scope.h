#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/catalog_view.h"
#include "core/sql/syntax_tree.h"

namespace pantry::sql {

/// A column as a query sees it.
struct ScopeColumn {
    std::string name;
    std::string type;
    bool isPrimaryKey = false;
};

/// A relation as a query sees it: a table, view, common table or subquery under the name it has there.
struct ScopeRelation {
    std::string alias;  ///< the name to qualify with: its alias, or its own name
    std::string name;   ///< its own name; empty for a subquery
    bool hasAlias = false;
    std::vector<ScopeColumn> columns;
    const RelationFact* fact = nullptr;  ///< where it is a table or view of the catalog
    std::uint32_t node = Node::kNone;    ///< where it stands in the tree
};

/// Names of a statement: which relations can be seen from a place, and with which columns.
///
/// Lifetime: views statement, tree and catalog.
class ScopeFinder {
public:
    ScopeFinder(std::string_view statement, const SyntaxTree& tree, const CatalogView& catalog);

    /// The relations visible at a token, nearest query first, in the order they are written.
    [[nodiscard]] std::vector<ScopeRelation> relationsAt(std::uint32_t token) const;

    /// Names of the common tables visible at a token.
    [[nodiscard]] std::vector<ScopeRelation> commonTablesAt(std::uint32_t token) const;

    /// The columns that a query returns, by name; unnamed expressions get the empty name.
    [[nodiscard]] std::vector<ScopeColumn> outputOf(std::uint32_t queryNode, int depth = 0) const;

private:
    void collect(std::uint32_t node, std::vector<ScopeRelation>& out, int depth) const;
    void collectFrom(std::uint32_t parent, std::vector<ScopeRelation>& out, int depth) const;
    [[nodiscard]] ScopeRelation named(std::uint32_t node, int depth) const;
    [[nodiscard]] ScopeRelation derived(std::uint32_t node, int depth) const;
    [[nodiscard]] ScopeRelation commonTable(std::uint32_t node, int depth) const;
    [[nodiscard]] std::uint32_t commonTableNamed(std::uint32_t from, std::string_view name) const;
    void applyAlias(std::uint32_t node, ScopeRelation& relation) const;
    void selectItems(std::uint32_t clause, const std::vector<ScopeRelation>& visible,
                     std::vector<ScopeColumn>& out) const;
    [[nodiscard]] std::vector<std::string> nameParts(std::uint32_t node) const;
    [[nodiscard]] std::uint32_t outermostAt(std::uint32_t token) const;

    std::string_view text_;
    const SyntaxTree& tree_;
    const CatalogView& catalog_;
};

}  // namespace pantry::sql
