#include "core/sql/write/ordered_query.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/syntax_tree.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

std::string orderClause(const std::vector<std::string>& columns, const std::vector<OrderWish>& order, Dialect dialect) {
    std::string out = "ORDER BY ";
    for (const OrderWish& wish : order) {
        if (&wish != &order.front()) out += ", ";
        const std::string& name = columns[wish.column];
        const bool isPlain = !name.empty() && std::ranges::count(columns, name) == 1;
        out += isPlain ? quotedName(name, dialect) : std::to_string(wish.column + 1);
        if (wish.isDescending) out += " DESC";
    }
    return out;
}

bool mayBeOrdered(const SyntaxTree& tree) {
    const bool isQuery =
        tree.kind == StatementKind::Select || tree.kind == StatementKind::Values || tree.kind == StatementKind::Table;
    return isQuery && !tree.hasErrors() && std::ranges::none_of(tree.nodes, [](const Node& node) {
               return node.kind == NodeKind::IntoClause || node.kind == NodeKind::LockClause ||
                      node.kind == NodeKind::Error || node.kind == NodeKind::Opaque;
           });
}

}  // namespace

std::optional<std::string> orderedQuery(std::string_view statement, const Language& language,
                                        const std::vector<std::string>& columns, const std::vector<OrderWish>& order) {
    if (order.empty() || std::ranges::any_of(order, [&](const auto& w) { return w.column >= columns.size(); }))
        return std::nullopt;
    statement = base::trimmed(statement);
    while (statement.ends_with(';')) statement = base::trimmed(statement.substr(0, statement.size() - 1));
    const SyntaxTree tree = parseSingle(statement, language);
    if (!mayBeOrdered(tree)) return std::nullopt;
    const std::string clause = orderClause(columns, order, language.dialect);
    const std::uint32_t query = tree.childOf(0, NodeKind::Query);
    const bool isLimited = query != Node::kNone && tree.childOf(query, NodeKind::LimitClause) != Node::kNone;
    if (isLimited) return "SELECT * FROM (\n" + std::string(statement) + "\n) AS result\n" + clause;
    const std::uint32_t own = query != Node::kNone ? tree.childOf(query, NodeKind::OrderByClause) : Node::kNone;
    if (own == Node::kNone) return std::string(statement) + "\n" + clause;
    // What stands behind the query's own order, a comment for one, stays.
    const std::string_view replaced = tree.textOf(tree.nodes[own], statement);
    const auto from = static_cast<std::size_t>(replaced.data() - statement.data());
    return std::string(statement.substr(0, from)) + clause + std::string(statement.substr(from + replaced.size()));
}

}  // namespace pantry::sql
