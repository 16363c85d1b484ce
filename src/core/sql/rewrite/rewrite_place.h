#pragma once

#include <cstdint>
#include <initializer_list>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/error.h"
#include "core/base/result.h"
#include "core/sql/meaning/name_uses.h"
#include "core/sql/meaning/scope.h"
#include "core/sql/rewrite/rewrite.h"

namespace pantry::sql {

/// A statement, what a caret in it is at, and the means to change it. Edits are counted in the statement; `rewrite`
/// moves them to where it stands.
///
/// Lifetime: views script and catalog.
class RewritePlace {
public:
    RewritePlace(const Script& script, std::size_t statement, const catalog::View& view, const RewriteWish& asked);

    const std::string_view text;
    const SyntaxTree& tree;
    const catalog::View& catalog;
    const RewriteWish& wish;
    const std::size_t caret;  ///< within the statement
    ScopeFinder scope;
    NameFinder names;

    [[nodiscard]] const Node& at(std::uint32_t node) const { return tree.nodes[node]; }
    [[nodiscard]] NodeKind kindOf(std::uint32_t node) const;
    [[nodiscard]] std::string_view textOf(std::uint32_t node) const { return tree.textOf(at(node), text); }
    [[nodiscard]] std::string_view tokenText(std::uint32_t token) const { return tree.tokens[token].textIn(text); }
    [[nodiscard]] std::size_t startOf(std::uint32_t node) const { return tree.tokens[at(node).firstToken].start; }
    [[nodiscard]] std::size_t endOf(std::uint32_t node) const { return tree.tokens[at(node).endToken - 1].end(); }
    [[nodiscard]] TextEdit replace(std::uint32_t node, std::string with) const;
    /// With a blank where a word would run into another one: a star needs none beside it.
    [[nodiscard]] TextEdit replace(TextRange range, std::string with) const;

    /// The smallest node of one of these kinds around the caret: the token before it counts as well as the one behind.
    [[nodiscard]] std::uint32_t around(std::initializer_list<NodeKind> kinds) const;
    /// The node itself, or the nearest one of these kinds that it is in.
    [[nodiscard]] std::uint32_t upFrom(std::uint32_t node, std::initializer_list<NodeKind> kinds) const;
    /// All nodes of a kind within a node, in their order.
    [[nodiscard]] std::vector<std::uint32_t> within(std::uint32_t node, NodeKind kind) const;
    /// A name that nothing in the statement has, nor any table of the database.
    [[nodiscard]] std::string freeName(std::string_view wanted) const;
    /// Whether the statement writes its keywords in small letters.
    [[nodiscard]] bool writesSmall() const;
    /// Keywords, in the letters of the statement.
    [[nodiscard]] std::string words(std::string_view capitals) const;
    /// How far the line of a byte is from its beginning to it, in characters.
    [[nodiscard]] std::size_t columnOf(std::size_t offset) const;

private:
    [[nodiscard]] std::vector<std::uint32_t> tokensAtCaret() const;
};

/// Why a query is not changed: what was looked for and where to go.
[[nodiscard]] Error cannotRewrite(std::string message, std::string hint = {});

}  // namespace pantry::sql
