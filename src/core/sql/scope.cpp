#include "core/sql/scope.h"

#include "core/base/text.h"
#include "core/sql/lexer.h"

namespace pantry::sql {
namespace {

constexpr int kMaxDepth = 12;  // of subqueries within subqueries whose columns are worked out

}  // namespace

ScopeFinder::ScopeFinder(std::string_view statement, const SyntaxTree& tree, const CatalogView& catalog)
    : text_(statement), tree_(tree), catalog_(catalog) {}

std::vector<std::string> ScopeFinder::nameParts(std::uint32_t node) const {
    std::vector<std::string> names;
    const Node& n = tree_.nodes[node];
    for (std::uint32_t i = n.firstToken; i < n.endToken; ++i) {
        const TokenKind kind = tree_.tokens[i].kind;
        if (kind == TokenKind::Word || kind == TokenKind::QuotedName || kind == TokenKind::String) {
            names.push_back(unquotedName(tree_.tokens[i].textIn(text_)));
        }
    }
    return names;
}

/// The innermost node around a token; past the last token, the one the last token ends.
std::uint32_t ScopeFinder::outermostAt(std::uint32_t token) const {
    if (tree_.tokens.empty()) return 0;
    const auto last = static_cast<std::uint32_t>(tree_.tokens.size() - 1);
    return tree_.nodeAt(std::min(token, last));
}

std::vector<ScopeRelation> ScopeFinder::relationsAt(std::uint32_t token) const {
    std::vector<ScopeRelation> out;
    for (std::uint32_t n = outermostAt(token); n != Node::kNone; n = tree_.nodes[n].parent) {
        switch (tree_.nodes[n].kind) {
            case NodeKind::SelectCore:
            case NodeKind::UpdateStatement:
            case NodeKind::DeleteStatement:
            case NodeKind::InsertStatement: collectFrom(n, out, 0); break;
            case NodeKind::Query: {  // ORDER BY stands beside the core whose columns it sees
                const std::uint32_t core = tree_.childOf(n, NodeKind::SelectCore);
                const bool isInCore =
                    core != Node::kNone && tree_.nodes[core].firstToken <= token && token < tree_.nodes[core].endToken;
                if (core != Node::kNone && !isInCore) collectFrom(core, out, 0);
                break;
            }
            default: break;
        }
    }
    return out;
}

void ScopeFinder::collectFrom(std::uint32_t parent, std::vector<ScopeRelation>& out, int depth) const {
    for (std::uint32_t c = tree_.nodes[parent].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
        switch (tree_.nodes[c].kind) {
            case NodeKind::FromClause:
            case NodeKind::UsingClause:
            case NodeKind::InsertTarget:
                for (const std::uint32_t r : tree_.childrenOf(c)) collect(r, out, depth);
                break;
            case NodeKind::TableName:
            case NodeKind::Join: collect(c, out, depth); break;  // UPDATE a JOIN b SET …
            default: break;
        }
    }
}

void ScopeFinder::collect(std::uint32_t node, std::vector<ScopeRelation>& out, int depth) const {
    switch (tree_.nodes[node].kind) {
        case NodeKind::TableName:
        case NodeKind::FunctionTable: out.push_back(named(node, depth)); break;
        case NodeKind::DerivedTable: out.push_back(derived(node, depth)); break;
        case NodeKind::Join:
        case NodeKind::ParenTable:
            for (const std::uint32_t c : tree_.childrenOf(node)) collect(c, out, depth);
            break;
        default: break;
    }
}

void ScopeFinder::applyAlias(std::uint32_t node, ScopeRelation& relation) const {
    const std::uint32_t alias = tree_.childOf(node, NodeKind::Alias);
    if (alias == Node::kNone) return;
    const std::vector<std::string> names = nameParts(alias);
    if (names.empty()) return;
    const bool isOnlyAs = names.size() == 1 && base::equalsIgnoringCase(names[0], "as");
    if (isOnlyAs) return;
    relation.alias = names.back();
    relation.hasAlias = true;
    const std::uint32_t list = tree_.childOf(node, NodeKind::ColumnList);
    if (list == Node::kNone) return;
    std::size_t i = 0;
    for (const std::string& name : nameParts(list)) {
        if (i >= relation.columns.size()) relation.columns.emplace_back();
        relation.columns[i++].name = name;
    }
}

ScopeRelation ScopeFinder::named(std::uint32_t node, int depth) const {
    ScopeRelation relation{.node = node};
    const std::uint32_t name = tree_.childOf(node, NodeKind::Name);
    const std::vector<std::string> parts = name == Node::kNone ? std::vector<std::string>{} : nameParts(name);
    if (parts.empty()) return relation;
    relation.name = relation.alias = parts.back();
    const std::string schema = parts.size() > 1 ? parts[parts.size() - 2] : std::string();
    const std::uint32_t common = schema.empty() ? commonTableNamed(node, relation.name) : Node::kNone;
    if (common != Node::kNone && depth < kMaxDepth) {
        relation.columns = commonTable(common, depth + 1).columns;
    } else if (const RelationFact* fact = catalog_.find(schema, relation.name)) {
        relation.fact = fact;
        for (const ColumnFact& c : fact->columns) relation.columns.push_back({c.name, c.type, c.isPrimaryKey});
    }
    applyAlias(node, relation);
    return relation;
}

ScopeRelation ScopeFinder::derived(std::uint32_t node, int depth) const {
    ScopeRelation relation{.node = node};
    const std::uint32_t query = tree_.childOf(node, NodeKind::ParenQuery);
    if (query != Node::kNone && depth < kMaxDepth) relation.columns = outputOf(query, depth + 1);
    applyAlias(node, relation);
    return relation;
}

ScopeRelation ScopeFinder::commonTable(std::uint32_t node, int depth) const {
    ScopeRelation relation{.node = node};
    const Node& n = tree_.nodes[node];
    relation.name = relation.alias = unquotedName(tree_.tokens[n.firstToken].textIn(text_));
    const std::uint32_t query = tree_.childOf(node, NodeKind::Query);
    if (query != Node::kNone && depth < kMaxDepth) relation.columns = outputOf(query, depth + 1);
    const std::uint32_t list = tree_.childOf(node, NodeKind::ColumnList);
    if (list != Node::kNone) {
        std::size_t i = 0;
        for (const std::string& name : nameParts(list)) {
            if (i >= relation.columns.size()) relation.columns.emplace_back();
            relation.columns[i++].name = name;
        }
    }
    return relation;
}

std::vector<ScopeRelation> ScopeFinder::commonTablesAt(std::uint32_t token) const {
    std::vector<ScopeRelation> out;
    for (std::uint32_t n = outermostAt(token); n != Node::kNone; n = tree_.nodes[n].parent) {
        std::uint32_t with = tree_.childOf(n, NodeKind::WithClause);
        if (tree_.nodes[n].kind == NodeKind::WithClause) with = n;
        if (with == Node::kNone) continue;
        for (const std::uint32_t c : tree_.childrenOf(with)) {
            if (tree_.nodes[c].kind == NodeKind::CommonTable) out.push_back(commonTable(c, 0));
        }
    }
    return out;
}

std::uint32_t ScopeFinder::commonTableNamed(std::uint32_t from, std::string_view name) const {
    for (std::uint32_t n = tree_.nodes[from].parent; n != Node::kNone; n = tree_.nodes[n].parent) {
        std::uint32_t with = tree_.childOf(n, NodeKind::WithClause);
        if (tree_.nodes[n].kind == NodeKind::WithClause) with = n;
        if (with == Node::kNone) continue;
        for (const std::uint32_t c : tree_.childrenOf(with)) {
            if (tree_.nodes[c].kind != NodeKind::CommonTable) continue;
            const std::string own = unquotedName(tree_.tokens[tree_.nodes[c].firstToken].textIn(text_));
            if (base::equalsIgnoringCase(own, name)) return c;
        }
    }
    return Node::kNone;
}

/// Goes down to the first SELECT of the query: the one that names the columns of a set operation.
std::vector<ScopeColumn> ScopeFinder::outputOf(std::uint32_t node, int depth) const {
    std::vector<ScopeColumn> out;
    if (depth > kMaxDepth) return out;
    for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
        switch (tree_.nodes[c].kind) {
            case NodeKind::SelectClause: {
                std::vector<ScopeRelation> visible;
                collectFrom(node, visible, depth + 1);
                selectItems(c, visible, out);
                return out;
            }
            case NodeKind::Query:
            case NodeKind::ParenQuery:
            case NodeKind::SetOperation:
            case NodeKind::SelectCore: return outputOf(c, depth);
            default: break;
        }
    }
    return out;
}

void ScopeFinder::selectItems(std::uint32_t clause, const std::vector<ScopeRelation>& visible,
                              std::vector<ScopeColumn>& out) const {
    for (const std::uint32_t item : tree_.childrenOf(clause)) {
        if (tree_.nodes[item].kind != NodeKind::SelectItem) continue;
        const std::uint32_t expression = tree_.nodes[item].firstChild;
        if (expression == Node::kNone) continue;
        const NodeKind kind = tree_.nodes[expression].kind;
        const std::vector<std::string> names =
            kind == NodeKind::Name || kind == NodeKind::Star ? nameParts(expression) : std::vector<std::string>{};
        if (kind == NodeKind::Star) {
            for (const ScopeRelation& relation : visible) {
                if (!names.empty() && !base::equalsIgnoringCase(relation.alias, names.back())) continue;
                out.insert(out.end(), relation.columns.begin(), relation.columns.end());
            }
            continue;
        }
        ScopeColumn column;
        if (!names.empty()) {
            column.name = names.back();
            for (const ScopeRelation& relation : visible) {
                if (names.size() > 1 && !base::equalsIgnoringCase(relation.alias, names[names.size() - 2])) continue;
                for (const ScopeColumn& c : relation.columns) {
                    if (base::equalsIgnoringCase(c.name, column.name)) column.type = c.type;
                }
            }
        }
        const std::uint32_t alias = tree_.childOf(item, NodeKind::Alias);
        if (alias != Node::kNone && !nameParts(alias).empty()) column.name = nameParts(alias).back();
        out.push_back(std::move(column));
    }
}

}  // namespace pantry::sql
