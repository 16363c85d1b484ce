#include "core/sql/meaning/statement_title.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::size_t kLongestTitle = 40;

/// The first relation named in reading order outside common tables; empty where there is none.
std::string firstRelation(std::string_view statement, const SyntaxTree& tree) {
    const Node* first = nullptr;
    for (const Node& node : tree.nodes) {
        if (node.kind != NodeKind::TableName) continue;
        bool isCommon = false;
        for (std::uint32_t n = node.parent; n != Node::kNone; n = tree.nodes[n].parent) {
            isCommon = isCommon || tree.nodes[n].kind == NodeKind::CommonTable;
        }
        if (isCommon) continue;
        if (first == nullptr || node.firstToken < first->firstToken) first = &node;
    }
    if (first == nullptr) return {};
    std::string name;
    for (std::uint32_t i = first->firstToken; i < first->endToken; ++i) {
        if (tree.roles[i] == TokenRole::Relation) name = unquotedName(tree.tokens[i].textIn(statement));
    }
    return name;
}

/// “CREATE TABLE shed”: the words before the name that is defined, without those that say only how, and the name.
/// Tables that are named further on are what it refers to.
std::string definedName(std::string_view statement, const SyntaxTree& tree) {
    constexpr std::string_view kHow[] = {"or", "replace", "if", "not", "exists", "temporary", "temp", "unique"};
    std::string title;
    for (std::size_t i = 0; i < tree.tokens.size(); ++i) {
        const Token& token = tree.tokens[i];
        if (token.isTrivia()) continue;
        const std::string_view text = token.textIn(statement);
        const bool isWord = token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName;
        if (!isWord) return {};
        if (tree.roles[i] != TokenRole::Keyword) {
            std::size_t last = i;  // of schema.name
            while (last + 2 < tree.tokens.size() && tree.tokens[last + 1].kind == TokenKind::Dot) last += 2;
            return title + unquotedName(tree.tokens[last].textIn(statement));
        }
        const auto isIt = [&](std::string_view word) { return base::equalsIgnoringCase(word, text); };
        if (std::ranges::none_of(kHow, isIt)) title += base::toUpper(text) + " ";
    }
    return {};
}

}  // namespace

std::string titleOf(std::string_view statement, const SyntaxTree& tree) {
    if (effectOf(tree.kind) == StatementEffect::Defines) {
        if (const std::string title = definedName(statement, tree); !title.empty())
            return base::oneLine(title, kLongestTitle);
    }
    std::string relation = firstRelation(statement, tree);
    if (relation.empty()) return base::oneLine(statement, kLongestTitle);
    if (effectOf(tree.kind) == StatementEffect::Reads) return relation;
    return base::toUpper(kindName(tree.kind)) + " " + relation;
}

std::string titleOf(std::string_view statement, const Language& language) {
    constexpr std::size_t kLooked = 16 << 10;
    const std::string_view start = base::prefixOf(statement, kLooked);
    return titleOf(start, parseSingle(start, language));
}

}  // namespace pantry::sql
