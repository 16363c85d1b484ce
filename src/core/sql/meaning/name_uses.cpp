#include "core/sql/meaning/name_uses.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::uint32_t kNowhere = Node::kNone;

bool isNameToken(const Token& token) { return token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName; }

bool isAliasable(NodeKind kind) {
    return kind == NodeKind::TableName || kind == NodeKind::DerivedTable || kind == NodeKind::FunctionTable;
}

}  // namespace

NameFinder::NameFinder(std::string_view statement, const SyntaxTree& tree, const ScopeFinder& scope)
    : text_(statement), tree_(tree), scope_(scope) {}

std::string NameFinder::nameAt(std::uint32_t token) const { return unquotedName(tree_.tokens[token].textIn(text_)); }

std::optional<std::uint32_t> NameFinder::nameTokenAt(std::size_t offset) const {
    std::optional<std::uint32_t> touched;
    for (std::uint32_t i = 0; i < tree_.tokens.size() && tree_.tokens[i].start <= offset; ++i) {
        if (isNameToken(tree_.tokens[i]) && offset <= tree_.tokens[i].end()) touched = i;
    }
    return touched;
}

std::vector<std::uint32_t> NameFinder::partsOf(std::uint32_t node) const {
    std::vector<std::uint32_t> parts;
    for (std::uint32_t i = tree_.nodes[node].firstToken; i < tree_.nodes[node].endToken; ++i) {
        if (isNameToken(tree_.tokens[i])) parts.push_back(i);
    }
    return parts;
}

std::optional<NameUses> NameFinder::usesOf(std::uint32_t token) const {
    const std::optional<Meaning> meaning = meaningOf(token);
    if (!meaning) return std::nullopt;
    NameUses uses{.kind = meaning->kind, .name = nameAt(token)};
    for (std::uint32_t i = 0; i < tree_.tokens.size(); ++i) {
        if (isNameToken(tree_.tokens[i]) && meaningOf(i) == meaning) uses.tokens.push_back(i);
    }
    switch (meaning->kind) {
        case NameUses::Kind::Output: uses.madeAt = aliasToken(meaning->node); break;
        case NameUses::Kind::CommonTable: uses.madeAt = tree_.nodes[meaning->node].firstToken; break;
        case NameUses::Kind::Relation:
        case NameUses::Kind::Column: {
            if (const ScopeRelation* relation = relationAt(token, meaning->node)) uses.relation = *relation;
            if (meaning->kind == NameUses::Kind::Relation) {
                const std::uint32_t alias = aliasToken(meaning->node);
                uses.madeAt = alias;
            } else if (uses.relation) {
                const auto found = std::ranges::find_if(uses.relation->columns, [&](const ScopeColumn& c) {
                    return base::equalsIgnoringCase(c.name, meaning->column);
                });
                if (found != uses.relation->columns.end()) uses.column = *found;
            }
            break;
        }
    }
    return uses;
}

std::optional<NameUses::Kind> NameFinder::kindAt(std::uint32_t token) const {
    const std::optional<Meaning> meaning = meaningOf(token);
    return meaning ? std::optional(meaning->kind) : std::nullopt;
}

std::optional<NameFinder::Meaning> NameFinder::meaningOf(std::uint32_t token) const {
    const std::uint32_t node = tree_.nodeAt(token);
    const Node& at = tree_.nodes[node];
    const std::uint32_t parent = at.parent;
    const NodeKind around = parent == kNowhere ? NodeKind::Error : tree_.nodes[parent].kind;
    if (!isNameToken(tree_.tokens[token])) return std::nullopt;
    if (at.kind == NodeKind::CommonTable && token == at.firstToken)
        return Meaning{NameUses::Kind::CommonTable, node, {}};
    if (at.kind == NodeKind::Alias && token == aliasToken(parent)) {
        if (around == NodeKind::SelectItem) return Meaning{NameUses::Kind::Output, parent, {}};
        if (isAliasable(around)) return Meaning{NameUses::Kind::Relation, parent, {}};
        return std::nullopt;
    }
    if (at.kind == NodeKind::Star) return ofQualifier(token);
    if (at.kind != NodeKind::Name || around == NodeKind::Call || around == NodeKind::TypeName) return std::nullopt;
    const std::vector<std::uint32_t> parts = partsOf(node);
    const bool isLast = !parts.empty() && token == parts.back();
    if (isAliasable(around)) return isLast ? ofTableName(parent) : std::nullopt;
    if (isLast) return ofColumn(node);
    return parts.size() > 1 && token == parts[parts.size() - 2] ? ofQualifier(token) : std::nullopt;
}

/// The name of a table in FROM: a common table's, or its own, by which it is qualified while it has no alias.
std::optional<NameFinder::Meaning> NameFinder::ofTableName(std::uint32_t table) const {
    const std::vector<std::uint32_t> parts = partsOf(tree_.childOf(table, NodeKind::Name));
    if (parts.size() == 1) {
        const std::uint32_t common = commonTableNamed(parts[0], nameAt(parts[0]));
        if (common != kNowhere) return Meaning{NameUses::Kind::CommonTable, common, {}};
    }
    return aliasToken(table) == kNowhere ? std::optional(Meaning{NameUses::Kind::Relation, table, {}}) : std::nullopt;
}

std::optional<NameFinder::Meaning> NameFinder::ofQualifier(std::uint32_t token) const {
    const std::string name = nameAt(token);
    for (const ScopeRelation& relation : scope_.relationsAt(token)) {
        if (base::equalsIgnoringCase(relation.alias, name)) return ofRelation(relation);
    }
    return std::nullopt;
}

/// A common table without an alias is qualified by its name, so that both go together.
NameFinder::Meaning NameFinder::ofRelation(const ScopeRelation& relation) const {
    if (relation.isCommonTable && !relation.hasAlias && relation.node != kNowhere) {
        const std::uint32_t common = commonTableNamed(tree_.nodes[relation.node].firstToken, relation.name);
        if (common != kNowhere) return {NameUses::Kind::CommonTable, common, {}};
    }
    return {NameUses::Kind::Relation, relation.node, {}};
}

std::optional<NameFinder::Meaning> NameFinder::ofColumn(std::uint32_t nameNode) const {
    const Resolution found = scope_.resolve(nameNode);
    if (found.kind == Resolution::Kind::Output) {
        const std::uint32_t item = outputItem(nameNode, scope_.lastPart(nameNode));
        if (item != kNowhere) return Meaning{NameUses::Kind::Output, item, {}};
    }
    if (found.kind == Resolution::Kind::Row) return ofQualifier(tree_.nodes[nameNode].firstToken);
    if (found.relation == nullptr || found.column == nullptr) return std::nullopt;
    return Meaning{NameUses::Kind::Column, found.relation->node, base::toLower(found.column->name)};
}

/// The item of the nearest select list that makes a name, where it says so with an alias.
std::uint32_t NameFinder::outputItem(std::uint32_t nameNode, std::string_view name) const {
    for (std::uint32_t n = nameNode; n != kNowhere; n = tree_.nodes[n].parent) {
        std::uint32_t core = n;
        if (tree_.nodes[n].kind == NodeKind::Query) core = tree_.childOf(n, NodeKind::SelectCore);
        const std::uint32_t list = core == kNowhere ? kNowhere : tree_.childOf(core, NodeKind::SelectClause);
        if (list == kNowhere) continue;
        for (const std::uint32_t item : tree_.childrenOf(list)) {
            const std::uint32_t alias = aliasToken(item);
            if (alias != kNowhere && base::equalsIgnoringCase(nameAt(alias), name)) return item;
        }
        return kNowhere;
    }
    return kNowhere;
}

std::uint32_t NameFinder::commonTableNamed(std::uint32_t token, std::string_view name) const {
    for (const ScopeRelation& table : scope_.commonTablesAt(token)) {
        if (base::equalsIgnoringCase(table.name, name)) return table.node;
    }
    return kNowhere;
}

const ScopeRelation* NameFinder::relationAt(std::uint32_t token, std::uint32_t node) const {
    // Its own place is where it can be seen when the name is what makes it.
    for (const std::uint32_t place : {token, node == kNowhere ? token : tree_.nodes[node].firstToken}) {
        for (const ScopeRelation& relation : scope_.relationsAt(place)) {
            if (relation.node == node) return &relation;
        }
    }
    return nullptr;
}

/// The name behind AS, of a relation or a select item; not the names of its columns.
std::uint32_t NameFinder::aliasToken(std::uint32_t node) const {
    const std::uint32_t alias = node == kNowhere ? kNowhere : tree_.childOf(node, NodeKind::Alias);
    if (alias == kNowhere) return kNowhere;
    for (std::uint32_t i = tree_.nodes[alias].firstToken; i < tree_.nodes[alias].endToken; ++i) {
        if (isNameToken(tree_.tokens[i]) && !tree_.tokens[i].is(Keyword::As)) return i;
    }
    return kNowhere;
}

}  // namespace pantry::sql
