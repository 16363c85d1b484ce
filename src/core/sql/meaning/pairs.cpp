#include "core/sql/meaning/pairs.h"

#include <algorithm>
#include <array>
#include <map>
#include <string_view>

#include "core/base/line_starts.h"

namespace pantry::sql {
namespace {

constexpr std::array kWordKinds{NodeKind::CaseExpression, NodeKind::CaseStatement, NodeKind::Block,
                                NodeKind::IfStatement, NodeKind::LoopStatement};

bool isWordKind(NodeKind kind) { return std::ranges::find(kWordKinds, kind) != kWordKinds.end(); }

bool opensBracket(TokenKind kind) { return kind == TokenKind::OpenParen || kind == TokenKind::OpenBracket; }
bool closesBracket(TokenKind kind) { return kind == TokenKind::CloseParen || kind == TokenKind::CloseBracket; }

/// The statement's token that the offset is behind, or in front of; brackets and words of pairs alone.
template <class Wanted>
std::optional<std::uint32_t> touched(const SyntaxTree& tree, std::size_t offset, Wanted isWanted) {
    std::optional<std::uint32_t> inFront;
    for (std::uint32_t i = 0; i < tree.tokens.size() && tree.tokens[i].start <= offset; ++i) {
        const Token& token = tree.tokens[i];
        if (token.isSilent() || offset > token.end() || !isWanted(i)) continue;
        if (token.start < offset) return i;  // behind or in it
        inFront = i;
    }
    return inFront;
}

/// The bracket that belongs to one, counted by all that stand between.
std::optional<std::uint32_t> otherBracket(const SyntaxTree& tree, std::uint32_t token) {
    const bool isForward = opensBracket(tree.tokens[token].kind);
    const auto end = static_cast<std::uint32_t>(tree.tokens.size());
    int depth = 0;
    for (std::uint32_t i = token; i < end; i += isForward ? 1U : ~0U) {  // past the first one it is beyond all
        const TokenKind kind = tree.tokens[i].kind;
        if (opensBracket(kind)) ++depth;
        if (closesBracket(kind)) --depth;
        if (depth == 0) return i;
    }
    return std::nullopt;
}

/// The node whose first word, or whose END, a token is.
std::uint32_t wordNode(const SyntaxTree& tree, std::uint32_t token) {
    for (std::uint32_t n = tree.nodeAt(token); n != Node::kNone; n = tree.nodes[n].parent) {
        if (isWordKind(tree.nodes[n].kind)) return n;
    }
    return Node::kNone;
}

/// The END of such a node, which may have the kind of what ends behind it: END IF.
std::optional<std::uint32_t> endWord(const SyntaxTree& tree, const Node& node) {
    int words = 0;
    for (std::uint32_t i = node.endToken; i-- > node.firstToken + 1 && words < 3;) {
        if (tree.tokens[i].isSilent() || tree.tokens[i].endsStatement()) continue;
        if (tree.tokens[i].is(Keyword::End)) return i;
        ++words;
    }
    return std::nullopt;
}

bool isPairWord(const SyntaxTree& tree, std::uint32_t token) {
    const std::uint32_t node = wordNode(tree, token);
    if (node == Node::kNone) return false;
    return tree.nodes[node].firstToken == token || endWord(tree, tree.nodes[node]) == token;
}

}  // namespace

std::optional<TextPair> pairAt(const Script& script, std::size_t offset) {
    const auto statement = script.indexAt(offset);
    if (!statement) return std::nullopt;
    const ScriptStatement& one = script.statements()[*statement];
    const SyntaxTree& tree = *one.tree;
    if (offset < one.span.start || tree.isBeyondWalking()) return std::nullopt;
    const auto isWanted = [&](std::uint32_t i) {
        const TokenKind kind = tree.tokens[i].kind;
        return opensBracket(kind) || closesBracket(kind) || (kind == TokenKind::Word && isPairWord(tree, i));
    };
    const auto token = touched(tree, offset - one.span.start, isWanted);
    if (!token) return std::nullopt;
    const auto rangeOf = [&](std::uint32_t i) {
        return TextRange{one.span.start + tree.tokens[i].start, tree.tokens[i].length};
    };
    std::optional<std::uint32_t> other;
    if (tree.tokens[*token].kind == TokenKind::Word) {
        const Node& node = tree.nodes[wordNode(tree, *token)];
        other = node.firstToken == *token ? endWord(tree, node) : std::optional(node.firstToken);
    } else {
        other = otherBracket(tree, *token);
    }
    return TextPair{rangeOf(*token), other ? std::optional(rangeOf(*other)) : std::nullopt};
}

std::vector<FoldRange> foldsOf(const Script& script) {
    const std::string_view text = script.text();
    const base::LineStarts lines(text);
    std::map<std::size_t, std::size_t> longest;  // for each line the last one of what begins there
    const auto note = [&](std::size_t start, std::size_t end) {
        const std::size_t first = lines.lineOf(start);
        const std::size_t last = lines.lineOf(end);
        if (last > first) longest[first] = std::max(longest[first], last);
    };
    std::vector<std::size_t> open;
    for (const Token& token : script.tokens()) {
        if (token.endsStatement()) open.clear();
        if (opensBracket(token.kind)) open.push_back(token.start);
        if (closesBracket(token.kind) && !open.empty()) {
            note(open.back(), token.start);
            open.pop_back();
        }
        if (token.kind == TokenKind::BlockComment) note(token.start, token.end() - 1);
    }
    for (const ScriptStatement& statement : script.statements()) {
        const std::size_t start = statement.span.start;
        if (statement.span.length > 0) note(start, start + statement.span.length - 1);
        for (const Node& node : statement.tree->nodes) {
            if (!isWordKind(node.kind) || node.endToken == node.firstToken) continue;
            note(start + statement.tree->tokens[node.firstToken].start,
                 start + statement.tree->tokens[node.endToken - 1].end() - 1);
        }
    }
    std::vector<FoldRange> folds;
    folds.reserve(longest.size());
    for (const auto& [first, last] : longest) folds.push_back({first, last});
    return folds;
}

std::vector<FoldLine> foldLines(const std::vector<FoldRange>& folds, std::size_t lines) {
    std::vector<FoldLine> all(lines);
    std::vector<int> deeper(lines + 1, 0);
    for (const FoldRange& fold : folds) {
        if (fold.firstLine >= lines) continue;
        all[fold.firstLine].begins = true;
        ++deeper[std::min(fold.firstLine + 1, lines)];
        --deeper[std::min(fold.lastLine + 1, lines)];
    }
    int depth = 0;
    for (std::size_t i = 0; i < lines; ++i) all[i].depth = depth += deeper[i];
    return all;
}

}  // namespace pantry::sql
