#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// A column as a query sees it.
struct ScopeColumn {
    std::string name;  ///< empty for an expression without a name
    std::string type;  ///< as the engine writes it; empty when not known
    bool isPrimaryKey = false;
    bool isNullable = true;
    bool isMerged = false;                      ///< by USING or NATURAL into the column of that name before it
    const catalog::Relation* origin = nullptr;  ///< the table or view whose column it is, through subqueries
    std::string originColumn;                   ///< its name there
};

/// A relation as a query sees it: a table, view, common table or subquery under the name it has there.
struct ScopeRelation {
    std::string alias;   ///< the name to qualify with: its alias, or its own name
    std::string name;    ///< its own name; empty for a subquery
    std::string schema;  ///< as written; may be empty
    bool hasAlias = false;
    bool isKnown = false;  ///< all its columns are
    bool isCommonTable = false;
    std::vector<ScopeColumn> columns;
    const catalog::Relation* fact = nullptr;  ///< where it is a table or view of the catalog
    std::uint32_t node = Node::kNone;         ///< where it stands in the tree
    int level = 0;                            ///< 0 in the query at hand, 1 in the one around it, …
};

/// What a column's name means at its place.
///
/// Lifetime: points into the ScopeFinder that was asked.
struct Resolution {
    enum class Kind {
        Column,            ///< `relation` and `column` say which
        Output,            ///< a name of the select list, which ORDER BY, GROUP BY and HAVING may use
        Row,               ///< the name of a relation: its whole row
        Ambiguous,         ///< `relation` and `other` both have it
        UnknownColumn,     ///< the relation is known and has no such column, or no relation has it
        UnknownQualifier,  ///< no relation of that name is visible
        Uncertain          ///< some relation's columns are not known
    };
    Kind kind = Kind::Uncertain;
    const ScopeRelation* relation = nullptr;
    const ScopeRelation* other = nullptr;
    const ScopeColumn* column = nullptr;
};

/// Names of a statement: which relations can be seen from a place, with which columns, and what a name means.
///
/// Lifetime: views statement, tree and catalog.
/// Threads:  one at a time; what was found is kept.
class ScopeFinder {
public:
    ScopeFinder(std::string_view statement, const SyntaxTree& tree, const catalog::View& catalog);

    /// The relations visible at a token, nearest query first, in the order they are written.
    [[nodiscard]] const std::vector<ScopeRelation>& relationsAt(std::uint32_t token) const&;
    const std::vector<ScopeRelation>& relationsAt(std::uint32_t token) const&& =
        delete;  // it would not outlive the finder

    /// The common tables visible at a token.
    [[nodiscard]] std::vector<ScopeRelation> commonTablesAt(std::uint32_t token) const;

    /// The columns that a query returns, with their origin.
    [[nodiscard]] std::vector<ScopeColumn> outputOf(std::uint32_t queryNode, int depth = 0) const;

    /// What the dotted name of a Name node means, as a column.
    [[nodiscard]] Resolution resolve(std::uint32_t nameNode) const&;
    Resolution resolve(std::uint32_t nameNode) const&& = delete;

    /// The parts of a name, quotes taken off.
    [[nodiscard]] std::vector<std::string> nameParts(std::uint32_t node) const;
    /// The last of them, the name itself; empty where there is none.
    [[nodiscard]] std::string lastPart(std::uint32_t node) const;

private:
    struct Output {
        std::vector<ScopeColumn> columns;
        bool isKnown = true;
    };

    [[nodiscard]] bool isScope(std::uint32_t node) const;
    [[nodiscard]] std::vector<ScopeRelation> visibleFrom(std::uint32_t node, std::uint32_t from) const;
    void collect(std::uint32_t node, std::vector<ScopeRelation>& out, int depth) const;
    [[nodiscard]] const std::vector<ScopeRelation>& relationsOf(std::uint32_t parent, int depth) const;
    void mergeJoined(std::uint32_t join, std::size_t left, std::size_t right, std::vector<ScopeRelation>& out) const;
    void addExcluded(std::uint32_t insert, std::vector<ScopeRelation>& out) const;
    void addRowsOfTrigger(std::uint32_t trigger, std::vector<ScopeRelation>& out) const;
    [[nodiscard]] ScopeRelation named(std::uint32_t node, int depth) const;
    [[nodiscard]] ScopeRelation derived(std::uint32_t node, int depth) const;
    [[nodiscard]] ScopeRelation commonTable(std::uint32_t node, int depth) const;
    [[nodiscard]] std::uint32_t commonTableNamed(std::uint32_t from, std::string_view name) const;
    void applyAlias(std::uint32_t node, ScopeRelation& relation) const;
    void nameColumns(std::uint32_t list, ScopeRelation& relation) const;
    [[nodiscard]] Output output(std::uint32_t node, int depth) const;
    void selectItems(std::uint32_t clause, const std::vector<ScopeRelation>& visible, Output& out) const;
    void unfoldStar(const std::vector<std::string>& names, const std::vector<ScopeRelation>& visible,
                    Output& out) const;
    [[nodiscard]] bool isOutputName(std::uint32_t nameNode, std::string_view name) const;
    [[nodiscard]] std::uint32_t innermostAt(std::uint32_t token) const;

    std::string_view text_;
    const SyntaxTree& tree_;
    const catalog::View& catalog_;
    mutable std::unordered_map<std::uint32_t, std::vector<ScopeRelation>> known_;  // by the node that has them
    mutable std::unordered_map<std::uint32_t, std::vector<ScopeRelation>>
        visible_;  // by the part of a query they are visible in
};

}  // namespace pantry::sql
