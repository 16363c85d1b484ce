#include "core/sql/complete/habits.h"

#include <algorithm>
#include <bit>
#include <optional>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::size_t kLongestStatement = 2000;
constexpr std::size_t kLongestCondition = 120;
constexpr std::size_t kMostConditions = 20;

/// The name of the only relation that a query reads from; nothing when there are several, or a query in brackets.
std::optional<std::string> onlyRelation(std::string_view statement, const SyntaxTree& tree, std::uint32_t from) {
    const std::vector<std::uint32_t> relations = tree.childrenOf(from);
    if (relations.size() != 1 || tree.nodes[relations.front()].kind != NodeKind::TableName) return std::nullopt;
    const Node& relation = tree.nodes[relations.front()];
    std::optional<std::string> name;
    for (std::uint32_t i = relation.firstToken; i < relation.endToken; ++i) {
        if (tree.roles[i] == TokenRole::Relation) name = unquotedName(tree.tokens[i].textIn(statement));
    }
    return name;
}

/// The parts of a condition between AND; the whole where OR or nothing joins them.
std::vector<std::uint32_t> partsOf(const SyntaxTree& tree, std::uint32_t condition) {
    if (tree.nodes[condition].kind != NodeKind::LogicalChain) return {condition};
    std::vector<std::uint32_t> parts = tree.childrenOf(condition);
    const Node& first = tree.nodes[parts.front()];
    for (std::uint32_t i = first.endToken; i < tree.nodes[condition].endToken; ++i) {
        if (tree.tokens[i].isSilent()) continue;
        return tree.tokens[i].is(Keyword::And) ? parts : std::vector{condition};
    }
    return {condition};
}

}  // namespace

void Habits::noteNames(std::string_view statement, const SyntaxTree& tree) {
    for (std::size_t i = 0; i < tree.tokens.size(); ++i) {
        const bool isRelation = tree.roles[i] == TokenRole::Relation;
        if (!isRelation && tree.roles[i] != TokenRole::Column) continue;
        Counts& counts = isRelation ? relations_ : columns_;
        ++counts[unquotedName(tree.tokens[i].textIn(statement))];
    }
}

void Habits::note(std::string_view statement, const SyntaxTree& tree) {
    noteNames(statement, tree);
    if (tree.hasErrors() || statement.size() > kLongestStatement || tree.isBeyondWalking()) return;
    if (std::ranges::find(statements_, statement) == statements_.end()) statements_.emplace_back(statement);
    tree.visit([&] { noteConditions(statement, tree); });
}

void Habits::noteConditions(std::string_view statement, const SyntaxTree& tree) {
    for (std::uint32_t i = 0; i < tree.nodes.size(); ++i) {
        if (tree.nodes[i].kind != NodeKind::WhereClause || tree.nodes[i].parent == Node::kNone) continue;
        const std::uint32_t from = tree.childOf(tree.nodes[i].parent, NodeKind::FromClause);
        const auto relation = from == Node::kNone ? std::nullopt : onlyRelation(statement, tree, from);
        if (!relation) continue;
        const std::vector<std::uint32_t> conditions = tree.childrenOf(i);
        if (conditions.size() != 1) continue;
        std::vector<std::string>& known = conditions_[base::toLower(*relation)];
        for (const std::uint32_t part : partsOf(tree, conditions.front())) {
            std::string text(tree.textOf(tree.nodes[part], statement));
            const bool isPlain = text.size() <= kLongestCondition && text.find_first_of(".\n") == std::string::npos;
            const bool isNew = std::ranges::find(known, text) == known.end();
            if (isPlain && isNew && known.size() < kMostConditions) known.push_back(std::move(text));
        }
    }
}

bool Habits::IgnoringCase::operator()(std::string_view a, std::string_view b) const {
    return std::ranges::lexicographical_compare(a, b, {}, base::asciiLower, base::asciiLower);
}

int Habits::worth(const Counts& counts, std::string_view name) {
    const auto found = counts.find(name);
    if (found == counts.end()) return 0;
    constexpr int kEachDoubling = 12;
    return std::min(kMax, kEachDoubling * static_cast<int>(std::bit_width(static_cast<unsigned>(found->second))));
}

std::span<const std::string> Habits::conditionsOn(std::string_view relation) const {
    const auto found = conditions_.find(base::toLower(relation));
    return found == conditions_.end() ? std::span<const std::string>() : std::span<const std::string>(found->second);
}

}  // namespace pantry::sql
