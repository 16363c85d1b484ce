#include "core/sql/complete/query_names.h"

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

bool isQueryKind(NodeKind kind) {
    switch (kind) {
        case NodeKind::SelectCore:
        case NodeKind::InsertStatement:
        case NodeKind::UpdateStatement:
        case NodeKind::DeleteStatement:
        case NodeKind::MergeStatement: return true;
        default: return false;
    }
}

bool isAggregateName(std::string_view name) {
    constexpr auto kAggregates = std::to_array<std::string_view>(
        {"count", "sum", "avg", "min", "max", "string_agg", "array_agg", "group_concat", "json_agg", "jsonb_agg",
         "json_arrayagg", "json_group_array", "bool_and", "bool_or", "every", "stddev", "variance", "total"});
    return std::ranges::any_of(kAggregates, [&](std::string_view one) { return base::equalsIgnoringCase(one, name); });
}

/// ORDER BY and LIMIT stand beside the select core that they belong to.
std::uint32_t coreOf(const SyntaxTree& tree, std::uint32_t query) {
    const std::uint32_t core = tree.childOf(query, NodeKind::SelectCore);
    return core == Node::kNone ? query : core;
}

class Reader {
public:
    Reader(std::string_view statement, const SyntaxTree& tree, std::uint32_t except)
        : statement_(statement), tree_(tree), except_(except) {}

    QueryNames read(std::uint32_t query) {
        for (std::uint32_t node = 0; node < tree_.nodes.size(); ++node) {
            const NodeKind kind = tree_.nodes[node].kind;
            if (kind != NodeKind::Name && kind != NodeKind::SelectItem && kind != NodeKind::ColumnList) continue;
            const std::uint32_t token = tree_.nodes[node].firstToken;
            if (tree_.nodes[node].endToken > tree_.tokens.size() || queryAround(tree_, token) != query) continue;
            if (kind == NodeKind::Name) addName(node);
            if (kind == NodeKind::SelectItem) addItem(node);
            if (kind == NodeKind::ColumnList) addList(node);
        }
        return std::move(names_);
    }

private:
    [[nodiscard]] bool isBeingWritten(std::uint32_t node) const {
        return tree_.nodes[node].firstToken <= except_ && except_ < tree_.nodes[node].endToken;
    }

    void addName(std::uint32_t node) {
        const NodeKind parent = tree_.nodes[tree_.nodes[node].parent].kind;
        if (isBeingWritten(node) || parent == NodeKind::TableName) return;
        std::vector<std::string> parts;
        for (std::uint32_t i = tree_.nodes[node].firstToken; i < tree_.nodes[node].endToken; ++i) {
            const Token& token = tree_.tokens[i];
            if (token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName)
                parts.push_back(unquotedName(token.textIn(statement_)));
        }
        if (parts.empty()) return;
        const std::string qualifier = parts.size() > 1 ? parts[parts.size() - 2] : std::string();
        names_.columns.push_back({qualifier, parts.back(), tree_.nodes[node].firstToken, clauseOf(tree_, node)});
    }

    /// Columns in parentheses behind a name, as those that an INSERT fills.
    void addList(std::uint32_t node) {
        const NodeKind clause = clauseOf(tree_, node);
        if (clause != NodeKind::InsertTarget) return;
        for (std::uint32_t i = tree_.nodes[node].firstToken; i < tree_.nodes[node].endToken; ++i) {
            const Token& token = tree_.tokens[i];
            const bool isName = token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName;
            if (isName && i != except_)
                names_.columns.push_back({{}, unquotedName(token.textIn(statement_)), i, clause});
        }
    }

    void addItem(std::uint32_t node) {
        if (isBeingWritten(node)) return;
        SelectedItem item;
        std::uint32_t expression = Node::kNone;
        for (const std::uint32_t child : tree_.childrenOf(node)) {
            if (tree_.nodes[child].kind == NodeKind::Alias) {
                item.alias = lastWordOf(child);
            } else if (expression == Node::kNone) {
                expression = child;
            }
        }
        if (expression == Node::kNone) return;
        item.text = std::string(tree_.textOf(tree_.nodes[expression], statement_));
        item.isName = tree_.nodes[expression].kind == NodeKind::Name;
        item.isAggregate = hasAggregate(expression);
        names_.items.push_back(std::move(item));
    }

    [[nodiscard]] std::string lastWordOf(std::uint32_t node) const {
        for (std::uint32_t i = tree_.nodes[node].endToken; i-- > tree_.nodes[node].firstToken;) {
            const Token& token = tree_.tokens[i];
            if (token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName)
                return unquotedName(token.textIn(statement_));
        }
        return {};
    }

    [[nodiscard]] bool hasAggregate(std::uint32_t within) const {
        const Node& outer = tree_.nodes[within];
        return std::ranges::any_of(tree_.nodes, [&](const Node& node) {
            if (node.kind != NodeKind::Call || node.firstToken < outer.firstToken || node.endToken > outer.endToken)
                return false;
            return isAggregateName(tree_.tokens[node.firstToken].textIn(statement_));
        });
    }

    std::string_view statement_;
    const SyntaxTree& tree_;
    std::uint32_t except_;
    QueryNames names_;
};

}  // namespace

bool isClause(NodeKind kind) {
    switch (kind) {
        case NodeKind::SelectClause:
        case NodeKind::FromClause:
        case NodeKind::OnCondition:
        case NodeKind::UsingColumns:
        case NodeKind::WhereClause:
        case NodeKind::GroupByClause:
        case NodeKind::HavingClause:
        case NodeKind::OrderByClause:
        case NodeKind::SetClause:
        case NodeKind::InsertTarget:
        case NodeKind::ValuesClause:
        case NodeKind::ReturningClause:
        case NodeKind::WindowSpec: return true;
        default: return false;
    }
}

bool QueryNames::names(std::string_view column, NodeKind clause) const {
    return std::ranges::any_of(columns, [&](const NamedColumn& one) {
        return one.clause == clause && base::equalsIgnoringCase(one.column, column);
    });
}

bool QueryNames::isQualifying() const {
    const auto qualified = std::ranges::count_if(columns, [](const NamedColumn& c) { return !c.qualifier.empty(); });
    return 2 * qualified > static_cast<std::ptrdiff_t>(columns.size());
}

NodeKind clauseOf(const SyntaxTree& tree, std::uint32_t node) {
    for (; node != Node::kNone; node = tree.nodes[node].parent) {
        if (isClause(tree.nodes[node].kind)) return tree.nodes[node].kind;
        if (isQueryKind(tree.nodes[node].kind)) break;
    }
    return NodeKind::Statement;
}

std::uint32_t queryAround(const SyntaxTree& tree, std::uint32_t token) {
    if (token >= tree.tokens.size()) return 0;
    std::uint32_t node = tree.nodeAt(token);
    for (; node != Node::kNone; node = tree.nodes[node].parent) {
        const NodeKind kind = tree.nodes[node].kind;
        if (isQueryKind(kind)) return node;
        if (kind == NodeKind::Query) return coreOf(tree, node);
    }
    return 0;
}

QueryNames namesOfQuery(std::string_view statement, const SyntaxTree& tree, std::uint32_t query, std::uint32_t except) {
    return Reader(statement, tree, except).read(query);
}

}  // namespace pantry::sql
