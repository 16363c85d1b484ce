#include "core/sql/rewrite/rewrite_place.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

RewritePlace::RewritePlace(const Script& script, std::size_t statement, const catalog::View& view,
                           const RewriteWish& asked)
    : text(script.textOf(statement)),
      tree(*script.statements()[statement].tree),
      catalog(view),
      wish(asked),
      caret(asked.caret - std::min(asked.caret, script.statements()[statement].span.start)),
      scope(text, tree, view),
      names(text, tree, scope) {}

NodeKind RewritePlace::kindOf(std::uint32_t node) const {
    return node == Node::kNone ? NodeKind::Error : at(node).kind;
}

TextEdit RewritePlace::replace(std::uint32_t node, std::string with) const {
    return replace(TextRange{startOf(node), endOf(node) - startOf(node)}, std::move(with));
}

TextEdit RewritePlace::replace(TextRange range, std::string with) const {
    const auto isOfWord = [](char c) {
        return c == '_' || base::isAsciiDigit(c) || (base::asciiLower(c) >= 'a' && base::asciiLower(c) <= 'z') ||
               static_cast<unsigned char>(c) >= 0x80;
    };
    const std::size_t end = range.start + range.length;
    const bool runsIn = !with.empty() && range.start > 0 && isOfWord(text[range.start - 1]) &&
                        (isOfWord(with.front()) || with.front() == ':');  // else the colon would belong to the word
    const bool runsOn = !with.empty() && end < text.size() && isOfWord(text[end]) && isOfWord(with.back());
    if (runsOn) with += ' ';
    if (runsIn) with.insert(0, 1, ' ');
    return {range.start, range.length, std::move(with)};
}

std::vector<std::uint32_t> RewritePlace::tokensAtCaret() const {
    std::vector<std::uint32_t> found;
    for (std::uint32_t i = 0; i < tree.tokens.size(); ++i) {
        const Token& token = tree.tokens[i];
        if (!token.isSilent() && token.start <= caret && caret <= token.end()) found.push_back(i);
    }
    // Among blanks, what stands before.
    for (std::uint32_t i = static_cast<std::uint32_t>(tree.tokens.size()); found.empty() && i-- > 0;) {
        if (!tree.tokens[i].isSilent() && tree.tokens[i].end() <= caret) found.push_back(i);
    }
    if (found.empty() && !tree.tokens.empty()) found.push_back(0);
    return found;
}

std::uint32_t RewritePlace::around(std::initializer_list<NodeKind> kinds) const {
    std::uint32_t smallest = Node::kNone;
    for (const std::uint32_t token : tokensAtCaret()) {
        const std::uint32_t node = upFrom(tree.nodeAt(token), kinds);
        if (node == Node::kNone) continue;
        if (smallest == Node::kNone || endOf(node) - startOf(node) < endOf(smallest) - startOf(smallest))
            smallest = node;
    }
    return smallest;
}

std::uint32_t RewritePlace::upFrom(std::uint32_t node, std::initializer_list<NodeKind> kinds) const {
    while (node != Node::kNone && std::ranges::find(kinds, at(node).kind) == kinds.end()) node = at(node).parent;
    return node;
}

std::vector<std::uint32_t> RewritePlace::within(std::uint32_t node, NodeKind kind) const {
    std::vector<std::uint32_t> found;
    for (std::uint32_t i = 0; i < tree.nodes.size(); ++i) {
        const Node& one = at(i);
        const bool isInside = at(node).firstToken <= one.firstToken && one.endToken <= at(node).endToken;
        if (one.kind == kind && isInside && one.firstToken < one.endToken) found.push_back(i);
    }
    std::ranges::stable_sort(found, {}, [&](std::uint32_t i) { return at(i).firstToken; });
    return found;
}

std::string RewritePlace::freeName(std::string_view wanted) const {
    const auto isTaken = [&](std::string_view name) {
        if (catalog.find({}, name) != nullptr) return true;
        return std::ranges::any_of(tree.tokens, [&](const Token& token) {
            const bool isName = token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName;
            return isName && base::equalsIgnoringCase(unquotedName(token.textIn(text)), name);
        });
    };
    std::string name(wanted);
    for (int i = 2; isTaken(name); ++i) name = std::string(wanted) + "_" + std::to_string(i);
    return name;
}

bool RewritePlace::writesSmall() const {
    for (const Token& token : tree.tokens) {
        if (token.kind == TokenKind::Word && token.keyword != Keyword::None) {
            const std::string_view word = token.textIn(text);
            return base::toLower(word) == word;
        }
    }
    return false;
}

std::string RewritePlace::words(std::string_view capitals) const {
    return writesSmall() ? base::toLower(capitals) : std::string(capitals);
}

std::size_t RewritePlace::columnOf(std::size_t offset) const {
    const std::size_t line = text.substr(0, offset).rfind('\n');
    const std::size_t from = line == std::string_view::npos ? 0 : line + 1;
    return base::codePointCount(text.substr(from, offset - from));
}

Error cannotRewrite(std::string message, std::string hint) {
    return {.kind = ErrorKind::NotFound, .message = std::move(message), .hint = std::move(hint)};
}

}  // namespace pantry::sql
