#include "core/sql/meaning/parameters.h"

#include <algorithm>
#include <array>
#include <utility>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::uint32_t kNoNode = Node::kNone;

/// The first child of a node, when that is a name and not the value itself.
std::uint32_t namedBeside(const SyntaxTree& tree, std::uint32_t node, std::uint32_t value) {
    for (const std::uint32_t child : tree.childrenOf(node)) {
        if (child != value && tree.nodes[child].kind == NodeKind::Name) return child;
    }
    return kNoNode;
}

/// The column list of the INSERT whose VALUES have a row.
std::uint32_t columnsOfInsert(const SyntaxTree& tree, std::uint32_t row) {
    const std::uint32_t values = tree.nodes[row].parent;
    if (values == kNoNode || tree.nodes[values].kind != NodeKind::ValuesClause) return kNoNode;
    std::uint32_t insert = values;
    while (insert != kNoNode && tree.nodes[insert].kind != NodeKind::InsertStatement)
        insert = tree.nodes[insert].parent;
    const std::uint32_t target = insert == kNoNode ? kNoNode : tree.childOf(insert, NodeKind::InsertTarget);
    return target == kNoNode ? kNoNode : tree.childOf(target, NodeKind::ColumnList);
}

bool isNameWord(const Token& token) { return token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName; }

/// A column of a list of an INSERT by its place, which has no node of its own.
const ScopeColumn* columnOfInsert(std::string_view statement, const SyntaxTree& tree, const ScopeFinder& scope,
                                  std::uint32_t row, std::uint32_t value) {
    const std::uint32_t list = columnsOfInsert(tree, row);
    if (list == kNoNode) return nullptr;
    const std::vector<std::uint32_t> values = tree.childrenOf(row);
    const auto place = static_cast<std::size_t>(std::ranges::find(values, value) - values.begin());
    std::size_t at = 0;
    for (std::uint32_t i = tree.nodes[list].firstToken; i < tree.nodes[list].endToken; ++i) {
        if (!isNameWord(tree.tokens[i]) || at++ != place) continue;
        const std::string name = unquotedName(tree.tokens[i].textIn(statement));
        for (const ScopeRelation& target : scope.relationsAt(i)) {
            for (const ScopeColumn& column : target.columns) {
                if (base::equalsIgnoringCase(column.name, name)) return &column;
            }
        }
    }
    return nullptr;
}

void takeFrom(const ScopeColumn& column, StatementParameter& parameter) {
    parameter.type = column.type;
    parameter.column = column.originColumn;
    if (column.origin == nullptr) return;
    parameter.schema = column.origin->schema;
    parameter.table = column.origin->name;
}

void noteColumn(StatementParameter& parameter, std::string_view statement, const SyntaxTree& tree,
                const ScopeFinder& scope, std::uint32_t node) {
    const std::uint32_t name = comparedColumn(tree, node);
    const std::uint32_t parent = tree.nodes[node].parent;
    if (name != kNoNode) {
        const Resolution found = scope.resolve(name);
        if (found.column != nullptr) takeFrom(*found.column, parameter);
    } else if (parent != kNoNode && tree.nodes[parent].kind == NodeKind::TypeCast) {
        parameter.type = std::string(tree.textOf(tree.nodes[tree.childOf(parent, NodeKind::TypeName)], statement));
    } else if (parent != kNoNode && tree.nodes[parent].kind == NodeKind::LimitClause) {
        parameter.type = "integer";
    } else if (parent != kNoNode) {
        const ScopeColumn* column = columnOfInsert(statement, tree, scope, parent, node);
        if (column != nullptr) takeFrom(*column, parameter);
    }
}

/// Brackets, signs and casts belong to a value.
/// Returns: what it stands in, and the part of that which it is.
std::pair<std::uint32_t, std::uint32_t> outOfBrackets(const SyntaxTree& tree, std::uint32_t value) {
    std::uint32_t within = value;
    std::uint32_t node = tree.nodes[value].parent;
    while (node != kNoNode && (tree.nodes[node].kind == NodeKind::Paren || tree.nodes[node].kind == NodeKind::Unary ||
                               tree.nodes[node].kind == NodeKind::TypeCast)) {
        within = node;
        node = tree.nodes[node].parent;
    }
    return {node, within};
}

constexpr auto kTextFunctions = std::to_array<std::string_view>(
    {"substr",       "substring",  "lower", "upper",    "trim",      "ltrim",  "rtrim", "replace",
     "strftime",     "date",       "time",  "datetime", "printf",    "format", "hex",   "quote",
     "group_concat", "string_agg", "char",  "concat",   "concat_ws", "left",   "right"});

/// Whether an expression makes a text, as far as it says so itself.
bool makesText(std::string_view statement, const SyntaxTree& tree, std::uint32_t node) {
    const Node& n = tree.nodes[node];
    switch (n.kind) {
        case NodeKind::Literal: return tree.tokens[n.firstToken].kind == TokenKind::String;
        case NodeKind::Paren: return n.firstChild != kNoNode && makesText(statement, tree, n.firstChild);
        case NodeKind::Call: {
            const std::string_view name = tree.tokens[n.firstToken].textIn(statement);
            return std::ranges::any_of(kTextFunctions,
                                       [&](std::string_view one) { return base::equalsIgnoringCase(one, name); });
        }
        case NodeKind::Binary:
            for (std::uint32_t i = n.firstToken; i < n.endToken; ++i) {
                if (tree.nodeAt(i) == node && tree.tokens[i].textIn(statement) == "||") return true;
            }
            return false;
        default: return false;
    }
}

bool isOnlyOneOfList(const SyntaxTree& tree, std::uint32_t node) {
    const std::uint32_t paren = tree.nodes[node].parent;
    if (paren == kNoNode || tree.nodes[paren].kind != NodeKind::Paren) return false;
    const std::uint32_t list = tree.nodes[paren].parent;
    return list != kNoNode && tree.nodes[list].kind == NodeKind::InList && tree.childrenOf(paren).size() == 1;
}

}  // namespace

std::string ParameterKeys::next(std::string_view written) {
    const std::string_view name = written.substr(1);
    if (!name.empty()) return std::string(name);
    return std::to_string(++count_);
}

bool isOpenParameter(const Token& token, std::string_view statement, StatementKind kind) {
    if (token.kind != TokenKind::Parameter) return false;
    if (token.textIn(statement).starts_with(':')) return true;
    return kind != StatementKind::Prepare && effectOf(kind) != StatementEffect::Defines;
}

std::uint32_t comparedColumn(const SyntaxTree& tree, std::uint32_t value) {
    const auto [node, within] = outOfBrackets(tree, value);
    if (node == kNoNode) return kNoNode;
    switch (tree.nodes[node].kind) {
        case NodeKind::Binary:
        case NodeKind::Between:
        case NodeKind::InList:
        case NodeKind::Assignment: return namedBeside(tree, node, within);
        default: return kNoNode;
    }
}

std::set<std::string> comparedWithTexts(std::string_view statement, const SyntaxTree& tree) {
    std::set<std::string> all;
    ParameterKeys keys;
    for (std::uint32_t i = 0; i < tree.tokens.size(); ++i) {
        if (!isOpenParameter(tree.tokens[i], statement, tree.kind)) continue;
        const std::string key = keys.next(tree.tokens[i].textIn(statement));
        const auto [node, within] = outOfBrackets(tree, tree.nodeAt(i));
        if (node == kNoNode) continue;
        const NodeKind kind = tree.nodes[node].kind;
        if (kind != NodeKind::Binary && kind != NodeKind::Between && kind != NodeKind::InList) continue;
        for (const std::uint32_t child : tree.childrenOf(node)) {
            if (child != within && makesText(statement, tree, child)) all.insert(key);
        }
    }
    return all;
}

std::string valueOfLiteral(std::string_view literal) {
    const std::size_t open = literal.find('\'');
    if (open == std::string_view::npos || !literal.ends_with('\'') || open + 1 == literal.size()) {
        return std::string(literal);
    }
    std::string out;
    for (std::size_t i = open + 1; i + 1 < literal.size(); ++i) {
        out += literal[i];
        if (literal[i] == '\'' && literal[i + 1] == '\'') ++i;
    }
    return out;
}

std::vector<StatementParameter> parametersOf(std::string_view statement, const SyntaxTree& tree,
                                             const ScopeFinder& scope) {
    std::vector<StatementParameter> all;
    ParameterKeys keys;
    for (std::uint32_t i = 0; i < tree.tokens.size(); ++i) {
        const Token& token = tree.tokens[i];
        if (!isOpenParameter(token, statement, tree.kind)) continue;
        const std::string key = keys.next(token.textIn(statement));
        auto found = std::ranges::find(all, key, &StatementParameter::key);
        const std::uint32_t node = tree.nodeAt(i);
        if (found == all.end()) {
            all.push_back({.key = key, .written = std::string(token.textIn(statement)), .isList = true});
            found = all.end() - 1;
        }
        found->places.push_back({token.start, token.length});
        found->isList = found->isList && isOnlyOneOfList(tree, node);
        if (found->type.empty()) noteColumn(*found, statement, tree, scope, node);
    }
    return all;
}

}  // namespace pantry::sql
