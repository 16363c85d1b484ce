#include "core/sql/syntax/syntax_tree.h"

#include <array>

#include "core/base/deep_stack.h"

namespace pantry::sql {
namespace {

constexpr auto kNodeNames = std::to_array<std::string_view>({
    "Statement",
    "Error",
    "Opaque",
    "Query",
    "WithClause",
    "CommonTable",
    "SelectCore",
    "ParenQuery",
    "SetOperation",
    "ValuesClause",
    "TableCommand",
    "SelectClause",
    "SelectItem",
    "Alias",
    "ColumnList",
    "IntoClause",
    "FromClause",
    "WhereClause",
    "GroupByClause",
    "HavingClause",
    "WindowClause",
    "OrderByClause",
    "OrderItem",
    "LimitClause",
    "LockClause",
    "ReturningClause",
    "TableName",
    "DerivedTable",
    "FunctionTable",
    "ParenTable",
    "Join",
    "OnCondition",
    "UsingColumns",
    "InsertStatement",
    "InsertTarget",
    "ConflictClause",
    "UpdateStatement",
    "SetClause",
    "Assignment",
    "DeleteStatement",
    "UsingClause",
    "MergeStatement",
    "MergeTarget",
    "MergeBranch",
    "Name",
    "Star",
    "Literal",
    "ParameterRef",
    "Unary",
    "Binary",
    "LogicalChain",
    "Between",
    "InList",
    "Paren",
    "Subquery",
    "Exists",
    "Call",
    "Arguments",
    "OverClause",
    "WindowSpec",
    "CaseExpression",
    "CaseBranch",
    "TypeCast",
    "TypeName",
    "Subscript",
    "ArrayLiteral",
    "Interval",
    "JsonColumns",
    "CreateTable",
    "TableElements",
    "ColumnDefinition",
    "TableConstraint",
    "ReferencesClause",
    "CreateView",
    "CreateIndex",
    "IndexItems",
    "CreateRoutine",
    "RoutineParameters",
    "RoutineParameter",
    "CreateTrigger",
    "CreateStatement",
    "SchemaElement",
    "AlterStatement",
    "AlterAction",
    "DropStatement",
    "TruncateStatement",
    "CommentStatement",
    "GrantStatement",
    "Block",
    "StatementList",
    "StatementGroup",
    "IfStatement",
    "CaseStatement",
    "LoopStatement",
    "Declaration",
    "BodyStatement",
    "ExplainStatement",
    "SetStatement",
    "CallStatement",
    "PrepareStatement",
    "CopyStatement",
    "UtilityStatement",
    "Options",
    "OptionGroup",
});
static_assert(kNodeNames.size() == static_cast<std::size_t>(NodeKind::OptionGroup) + 1);

void describeInto(std::string& out, const SyntaxTree& tree, std::string_view text, std::uint32_t index, int depth) {
    const Node& node = tree.nodes[index];
    out.append(static_cast<std::size_t>(depth) * 2, ' ').append(nodeKindName(node.kind));
    std::uint32_t token = node.firstToken;
    std::string own;
    const auto takeOwn = [&](std::uint32_t end) {
        for (; token < end; ++token) {
            if (!tree.tokens[token].isTrivia()) own.append(" ").append(tree.tokens[token].textIn(text));
        }
    };
    for (const std::uint32_t child : tree.childrenOf(index)) {
        takeOwn(tree.nodes[child].firstToken);
        token = tree.nodes[child].endToken;
    }
    takeOwn(node.endToken);
    out.append(own).append("\n");
    for (const std::uint32_t child : tree.childrenOf(index)) describeInto(out, tree, text, child, depth + 1);
}

}  // namespace

std::string_view nodeKindName(NodeKind kind) { return kNodeNames[static_cast<std::size_t>(kind)]; }

std::vector<std::uint32_t> SyntaxTree::childrenOf(std::uint32_t node) const {
    std::vector<std::uint32_t> children;
    for (std::uint32_t c = nodes[node].firstChild; c != Node::kNone; c = nodes[c].nextSibling) children.push_back(c);
    return children;
}

void SyntaxTree::visit(const std::function<void()>& walk) const {
    constexpr std::uint32_t kOrdinaryLevels = 1000;
    if (isBeyondWalking()) return;
    if (levels < kOrdinaryLevels || !base::onDeepStack(walk)) walk();
}

std::uint32_t SyntaxTree::childOf(std::uint32_t node, NodeKind wanted) const {
    for (std::uint32_t c = nodes[node].firstChild; c != Node::kNone; c = nodes[c].nextSibling) {
        if (nodes[c].kind == wanted) return c;
    }
    return Node::kNone;
}

std::uint32_t SyntaxTree::nodeAt(std::uint32_t token) const {
    std::uint32_t current = 0;
    for (std::uint32_t c = nodes[0].firstChild; c != Node::kNone;) {
        if (nodes[c].firstToken <= token && token < nodes[c].endToken) {
            current = c;
            c = nodes[c].firstChild;
        } else {
            c = nodes[c].nextSibling;
        }
    }
    return current;
}

std::string_view SyntaxTree::textOf(const Node& node, std::string_view statement) const {
    if (node.firstToken >= node.endToken) return {};
    const std::size_t start = tokens[node.firstToken].start;
    return statement.substr(start, tokens[node.endToken - 1].end() - start);
}

std::string SyntaxTree::describe(std::string_view statement) const {
    std::string out;
    visit([&] { describeInto(out, *this, statement, 0, 0); });
    return out;
}

}  // namespace pantry::sql
