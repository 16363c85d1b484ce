#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/meaning/scope.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// What a name in a statement stands for, and every other place of the statement that means the same.
struct NameUses {
    enum class Kind {
        Relation,     ///< a relation of FROM, under its alias or its own name
        CommonTable,  ///< a table of the WITH clause
        Column,       ///< a column of one of those
        Output        ///< a name of the select list
    };
    Kind kind = Kind::Relation;
    std::string name;  ///< without quotes
    std::uint32_t madeAt =
        Node::kNone;  ///< the token of the statement that makes the name; none for what the database has
    std::vector<std::uint32_t> tokens;      ///< all of them, in their order, that which makes it among them
    std::optional<ScopeRelation> relation;  ///< the relation, or that of the column, where it is known
    std::optional<ScopeColumn> column;
};

/// Finds what names mean, each with its uses.
///
/// Lifetime: views statement, tree and scope.
/// Threads:  one at a time, as the scope.
class NameFinder {
public:
    NameFinder(std::string_view statement, const SyntaxTree& tree, const ScopeFinder& scope);

    /// What the name at a token stands for; nothing for keywords, functions, types and names that nobody knows.
    [[nodiscard]] std::optional<NameUses> usesOf(std::uint32_t token) const;

    /// What kind of name stands at a token; as usesOf() has it, without looking for the others.
    [[nodiscard]] std::optional<NameUses::Kind> kindAt(std::uint32_t token) const;

    /// The name that a byte of the statement touches: within it, or right behind its last letter.
    [[nodiscard]] std::optional<std::uint32_t> nameTokenAt(std::size_t offset) const;

    /// The name tokens of a Name or Star node, in their order.
    [[nodiscard]] std::vector<std::uint32_t> partsOf(std::uint32_t node) const;

private:
    struct Meaning {
        NameUses::Kind kind = NameUses::Kind::Relation;
        std::uint32_t node = Node::kNone;  // of the relation, common table or select item
        std::string column;                // in small letters
        friend bool operator==(const Meaning&, const Meaning&) = default;
    };
    [[nodiscard]] std::optional<Meaning> meaningOf(std::uint32_t token) const;
    [[nodiscard]] std::optional<Meaning> ofTableName(std::uint32_t table) const;
    [[nodiscard]] std::optional<Meaning> ofQualifier(std::uint32_t token) const;
    [[nodiscard]] std::optional<Meaning> ofColumn(std::uint32_t nameNode) const;
    [[nodiscard]] Meaning ofRelation(const ScopeRelation& relation) const;
    [[nodiscard]] const ScopeRelation* relationAt(std::uint32_t token, std::uint32_t node) const;
    [[nodiscard]] std::uint32_t outputItem(std::uint32_t nameNode, std::string_view name) const;
    [[nodiscard]] std::uint32_t commonTableNamed(std::uint32_t token, std::string_view name) const;
    [[nodiscard]] std::uint32_t aliasToken(std::uint32_t node) const;
    [[nodiscard]] std::string nameAt(std::uint32_t token) const;

    std::string_view text_;
    const SyntaxTree& tree_;
    const ScopeFinder& scope_;
};

}  // namespace pantry::sql
