#include "core/sql/statement_title.h"

#include "core/base/text.h"
#include "core/sql/lexer.h"

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

}  // namespace

std::string titleOf(std::string_view statement, const SyntaxTree& tree) {
    const std::string relation = firstRelation(statement, tree);
    if (relation.empty()) return base::oneLine(statement, kLongestTitle);
    if (effectOf(tree.kind) == StatementEffect::Reads) return relation;
    return base::toUpper(kindName(tree.kind)) + " " + relation;
}

}  // namespace pantry::sql
