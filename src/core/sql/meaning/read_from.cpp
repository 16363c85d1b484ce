#include "core/sql/meaning/read_from.h"

#include <algorithm>
#include <utility>

#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/syntax_tree.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

std::optional<ReadFrom> readFrom(std::string_view statement, const Language& language) {
    const SyntaxTree tree = parseSingle(statement, language);
    if (tree.kind != StatementKind::Select && tree.kind != StatementKind::Table) return std::nullopt;
    const Node* table = nullptr;
    for (const Node& node : tree.nodes) {
        if (node.kind == NodeKind::CommonTable || node.kind == NodeKind::Error) return std::nullopt;
        if (node.kind != NodeKind::TableName) continue;
        if (table != nullptr) return std::nullopt;
        table = &node;
    }
    if (table == nullptr) return std::nullopt;
    ReadFrom out;
    std::uint32_t end = table->firstToken;  // after the name itself: another name for it may follow
    for (std::uint32_t i = table->firstToken; i < table->endToken; ++i) {
        if (tree.roles[i] == TokenRole::Relation) end = i + 1;
    }
    for (std::uint32_t i = table->firstToken; i < end; ++i) {
        if (!tree.tokens[i].isTrivia()) out.table += tree.tokens[i].textIn(statement);
    }
    out.hasConditions = std::ranges::any_of(tree.tokens, [](const Token& token) {
        return token.is(Keyword::Where) || token.is(Keyword::Having) || token.is(Keyword::Limit) ||
               token.is(Keyword::Offset) || token.is(Keyword::Fetch) || token.is(Keyword::Group);
    });
    if (out.table.empty()) return std::nullopt;
    return out;
}

std::vector<NamedRelation> relationsNamed(std::string_view statement, const Language& language) {
    const SyntaxTree tree = parseSingle(statement, language);
    std::vector<NamedRelation> found;
    for (const Node& node : tree.nodes) {
        if (node.kind != NodeKind::TableName) continue;
        NamedRelation relation;
        for (std::uint32_t i = node.firstToken; i < node.endToken; ++i) {
            if (tree.roles[i] != TokenRole::Relation) continue;
            relation.schema = std::exchange(relation.name, unquotedName(tree.tokens[i].textIn(statement)));
        }
        if (!relation.name.empty()) found.push_back(std::move(relation));
    }
    return found;
}

}  // namespace pantry::sql
