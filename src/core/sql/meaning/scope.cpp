#include "core/sql/meaning/scope.h"

#include <algorithm>
#include <utility>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr int kMaxDepth = 12;  // of subqueries within subqueries whose columns are worked out

bool isSame(std::string_view a, std::string_view b) { return base::equalsIgnoringCase(a, b); }

const ScopeColumn* columnNamed(const ScopeRelation& relation, std::string_view name) {
    const auto found =
        std::ranges::find_if(relation.columns, [&](const ScopeColumn& c) { return isSame(c.name, name); });
    return found == relation.columns.end() ? nullptr : &*found;
}

bool isNamePart(TokenKind kind) {
    return kind == TokenKind::Word || kind == TokenKind::QuotedName || kind == TokenKind::String;
}

bool holdsRelations(NodeKind kind) {
    switch (kind) {
        case NodeKind::SelectCore:
        case NodeKind::UpdateStatement:
        case NodeKind::DeleteStatement:
        case NodeKind::InsertStatement:
        case NodeKind::MergeStatement:
        case NodeKind::CreateIndex:
        case NodeKind::CreateTable:
        case NodeKind::CreateTrigger: return true;
        default: return false;
    }
}

}  // namespace

ScopeFinder::ScopeFinder(std::string_view statement, const SyntaxTree& tree, const catalog::View& catalog)
    : text_(statement), tree_(tree), catalog_(catalog) {}

std::vector<std::string> ScopeFinder::nameParts(std::uint32_t node) const {
    std::vector<std::string> names;
    const Node& n = tree_.nodes[node];
    names.reserve((n.endToken - n.firstToken + 1) / 2);
    for (std::uint32_t i = n.firstToken; i < n.endToken; ++i) {
        if (isNamePart(tree_.tokens[i].kind)) names.push_back(unquotedName(tree_.tokens[i].textIn(text_)));
    }
    return names;
}

std::string ScopeFinder::lastPart(std::uint32_t node) const {
    const Node& n = tree_.nodes[node];
    for (std::uint32_t i = n.endToken; i-- > n.firstToken;) {
        if (isNamePart(tree_.tokens[i].kind)) return unquotedName(tree_.tokens[i].textIn(text_));
    }
    return {};
}

/// The innermost node around a token; past the last token, the one the last token ends.
std::uint32_t ScopeFinder::innermostAt(std::uint32_t token) const {
    if (tree_.tokens.empty()) return 0;
    const auto last = static_cast<std::uint32_t>(tree_.tokens.size() - 1);
    return tree_.nodeAt(std::min(token, last));
}

/// Whether what can be seen changes at this node.
bool ScopeFinder::isScope(std::uint32_t node) const {
    const NodeKind kind = tree_.nodes[node].kind;
    return kind == NodeKind::DerivedTable || kind == NodeKind::Query || holdsRelations(kind);
}

/// All places in the same part of a query (its WHERE, say) see the same relations.
const std::vector<ScopeRelation>& ScopeFinder::relationsAt(std::uint32_t token) const& {
    std::uint32_t from = Node::kNone;
    std::uint32_t node = innermostAt(token);
    while (node != Node::kNone && !isScope(node)) from = std::exchange(node, tree_.nodes[node].parent);
    const std::uint32_t part = from == Node::kNone ? node : from;
    if (const auto found = visible_.find(part); found != visible_.end()) return found->second;
    std::vector<ScopeRelation> visible = visibleFrom(node, from);  // may ask for others on its way
    return visible_[part] = std::move(visible);
}

/// Climbs outwards from a node and its child. What stands in FROM does not see its neighbours, unless it says LATERAL.
std::vector<ScopeRelation> ScopeFinder::visibleFrom(std::uint32_t node, std::uint32_t from) const {
    std::vector<ScopeRelation> out;
    int level = 0;
    bool seesNeighbours = true;
    const auto add = [&](std::uint32_t holder) {
        if (!seesNeighbours) {
            seesNeighbours = true;
            return;
        }
        const std::vector<ScopeRelation>& relations = relationsOf(holder, 0);
        out.reserve(out.size() + relations.size());
        for (const ScopeRelation& relation : relations) out.emplace_back(relation).level = level;
        ++level;
    };
    for (std::uint32_t n = node; n != Node::kNone; from = n, n = tree_.nodes[n].parent) {
        const NodeKind kind = tree_.nodes[n].kind;
        const NodeKind fromKind = from == Node::kNone ? NodeKind::Error : tree_.nodes[from].kind;
        if (kind == NodeKind::DerivedTable) {
            seesNeighbours = tree_.tokens[tree_.nodes[n].firstToken].is(Keyword::Lateral);
        } else if (kind == NodeKind::InsertStatement && fromKind == NodeKind::Query) {
            continue;  // the query of an INSERT does not see its target
        } else if (holdsRelations(kind)) {
            add(n);
        } else if (kind == NodeKind::Query && fromKind != NodeKind::SelectCore && fromKind != NodeKind::WithClause &&
                   fromKind != NodeKind::SetOperation) {
            // ORDER BY stands beside the core whose columns it sees.
            const std::uint32_t core = tree_.childOf(n, NodeKind::SelectCore);
            if (core != Node::kNone) add(core);
        }
    }
    return out;
}

const std::vector<ScopeRelation>& ScopeFinder::relationsOf(std::uint32_t parent, int depth) const {
    // The entry is made before it is filled: a query that refers to itself finds nothing instead of going on for ever.
    const auto [entry, isNew] = known_.try_emplace(parent);
    if (!isNew) return entry->second;
    std::vector<ScopeRelation> relations;
    relations.reserve(4);  // as many as most queries have
    for (std::uint32_t c = tree_.nodes[parent].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
        switch (tree_.nodes[c].kind) {
            case NodeKind::FromClause:
            case NodeKind::UsingClause:
            case NodeKind::InsertTarget:
            case NodeKind::MergeTarget:
                for (std::uint32_t r = tree_.nodes[c].firstChild; r != Node::kNone; r = tree_.nodes[r].nextSibling) {
                    collect(r, relations, depth);
                }
                break;
            case NodeKind::TableName:
            case NodeKind::Join: collect(c, relations, depth); break;  // UPDATE a JOIN b SET …
            default: break;
        }
    }
    if (tree_.nodes[parent].kind == NodeKind::InsertStatement) addExcluded(parent, relations);
    if (tree_.nodes[parent].kind == NodeKind::CreateTrigger) addRowsOfTrigger(parent, relations);
    return known_[parent] = std::move(relations);
}

/// EXCLUDED: the row that ON CONFLICT kept out.
void ScopeFinder::addExcluded(std::uint32_t insert, std::vector<ScopeRelation>& out) const {
    if (out.empty() || tree_.childOf(insert, NodeKind::ConflictClause) == Node::kNone) return;
    ScopeRelation row = out.front();
    row.alias = row.name = "excluded";
    row.hasAlias = true;
    for (ScopeColumn& c : row.columns) c.isMerged = true;  // only qualified names mean it
    out.push_back(std::move(row));
}

/// NEW and OLD instead of the table itself, which a trigger's condition cannot see.
void ScopeFinder::addRowsOfTrigger(std::uint32_t /*trigger*/, std::vector<ScopeRelation>& out) const {
    if (out.empty()) return;
    const ScopeRelation table = out.front();
    out.clear();
    for (const char* name : {"new", "old"}) {
        ScopeRelation row = table;
        row.alias = name;
        row.hasAlias = true;
        for (ScopeColumn& c : row.columns) c.isMerged = true;
        out.push_back(std::move(row));
    }
}

void ScopeFinder::collect(std::uint32_t node, std::vector<ScopeRelation>& out, int depth) const {
    switch (tree_.nodes[node].kind) {
        case NodeKind::TableName:
        case NodeKind::FunctionTable: out.push_back(named(node, depth)); break;
        case NodeKind::DerivedTable: out.push_back(derived(node, depth)); break;
        case NodeKind::Join: {
            const std::size_t left = out.size();
            std::size_t right = left;
            bool isFirst = true;
            for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
                collect(c, out, depth);
                if (isFirst) right = out.size();
                isFirst = false;
            }
            mergeJoined(node, left, right, out);
            break;
        }
        case NodeKind::ParenTable:
            for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
                collect(c, out, depth);
            }
            break;
        default: break;
    }
}

/// USING (a) and NATURAL make one column of two.
void ScopeFinder::mergeJoined(std::uint32_t join, std::size_t left, std::size_t right,
                              std::vector<ScopeRelation>& out) const {
    std::vector<std::string> shared;
    bool isNatural = false;
    const Node& n = tree_.nodes[join];
    if (n.firstChild == Node::kNone) return;
    const std::uint32_t second = tree_.nodes[n.firstChild].nextSibling;
    for (std::uint32_t i = tree_.nodes[n.firstChild].endToken; i < n.endToken; ++i) {
        if (second != Node::kNone && i >= tree_.nodes[second].firstToken) break;
        isNatural = isNatural || tree_.tokens[i].is(Keyword::Natural);
    }
    const std::uint32_t columns = tree_.childOf(join, NodeKind::UsingColumns);
    if (columns != Node::kNone) {
        const std::uint32_t list = tree_.childOf(columns, NodeKind::ColumnList);
        if (list != Node::kNone) shared = nameParts(list);
    }
    for (std::size_t r = right; r < out.size(); ++r) {
        for (ScopeColumn& column : out[r].columns) {
            const bool isListed =
                std::ranges::any_of(shared, [&](const std::string& name) { return isSame(name, column.name); });
            if (!isListed && !isNatural) continue;
            for (std::size_t l = left; l < right; ++l) {
                if (columnNamed(out[l], column.name) != nullptr) column.isMerged = true;
            }
        }
    }
}

void ScopeFinder::applyAlias(std::uint32_t node, ScopeRelation& relation) const {
    const std::uint32_t alias = tree_.childOf(node, NodeKind::Alias);
    if (alias == Node::kNone) return;
    const std::vector<std::string> names = nameParts(alias);
    if (names.empty()) return;
    const bool isOnlyAs = names.size() == 1 && isSame(names[0], "as");
    if (isOnlyAs) return;
    relation.alias = names.back();
    relation.hasAlias = true;
    const std::uint32_t list = tree_.childOf(node, NodeKind::ColumnList);
    if (list != Node::kNone) nameColumns(list, relation);
}

/// The names that a list gives to a relation's columns, the first one first.
void ScopeFinder::nameColumns(std::uint32_t list, ScopeRelation& relation) const {
    std::size_t i = 0;
    const Node& n = tree_.nodes[list];
    for (std::uint32_t t = n.firstToken; t < n.endToken; ++t) {
        if (tree_.roles[t] != TokenRole::Column) continue;
        if (i >= relation.columns.size()) relation.columns.emplace_back();
        relation.columns[i++].name = unquotedName(tree_.tokens[t].textIn(text_));
    }
}

ScopeRelation ScopeFinder::named(std::uint32_t node, int depth) const {
    ScopeRelation relation{.node = node};
    const std::uint32_t name = tree_.childOf(node, NodeKind::Name);
    const std::vector<std::string> parts = name == Node::kNone ? std::vector<std::string>{} : nameParts(name);
    if (parts.empty()) return relation;
    relation.name = relation.alias = parts.back();
    if (parts.size() > 1) relation.schema = parts[parts.size() - 2];
    const bool isFunction = tree_.nodes[node].kind == NodeKind::FunctionTable;
    const std::uint32_t common =
        relation.schema.empty() && !isFunction ? commonTableNamed(node, relation.name) : Node::kNone;
    if (common != Node::kNone) {
        relation.isCommonTable = true;
        if (depth < kMaxDepth) {
            ScopeRelation table = commonTable(common, depth + 1);
            relation.columns = std::move(table.columns);
            relation.isKnown = table.isKnown;
        }
    } else if (const catalog::Relation* fact = isFunction ? nullptr : catalog_.find(relation.schema, relation.name)) {
        relation.fact = fact;
        relation.isKnown = true;
        for (const catalog::Column& c : fact->columns) {
            relation.columns.push_back({c.name, c.typeName, c.keyPosition > 0, c.isNullable, false, fact, c.name});
        }
    }
    applyAlias(node, relation);
    return relation;
}

ScopeRelation ScopeFinder::derived(std::uint32_t node, int depth) const {
    ScopeRelation relation{.node = node};
    const std::uint32_t query = tree_.childOf(node, NodeKind::ParenQuery);
    if (query != Node::kNone && depth < kMaxDepth) {
        Output out = output(query, depth + 1);
        relation.columns = std::move(out.columns);
        relation.isKnown = out.isKnown;
    }
    applyAlias(node, relation);
    return relation;
}

ScopeRelation ScopeFinder::commonTable(std::uint32_t node, int depth) const {
    ScopeRelation relation{.node = node};
    relation.isCommonTable = true;
    const Node& n = tree_.nodes[node];
    relation.name = relation.alias = unquotedName(tree_.tokens[n.firstToken].textIn(text_));
    for (std::uint32_t c = n.firstChild; c != Node::kNone && depth < kMaxDepth; c = tree_.nodes[c].nextSibling) {
        if (tree_.nodes[c].kind == NodeKind::ColumnList) continue;
        Output out = output(c, depth + 1);
        relation.columns = std::move(out.columns);
        relation.isKnown = out.isKnown;
        break;
    }
    const std::uint32_t list = tree_.childOf(node, NodeKind::ColumnList);
    if (list != Node::kNone) nameColumns(list, relation);
    return relation;
}

std::vector<ScopeRelation> ScopeFinder::commonTablesAt(std::uint32_t token) const {
    std::vector<ScopeRelation> out;
    for (std::uint32_t n = innermostAt(token); n != Node::kNone; n = tree_.nodes[n].parent) {
        std::uint32_t with = tree_.childOf(n, NodeKind::WithClause);
        if (tree_.nodes[n].kind == NodeKind::WithClause) with = n;
        if (with == Node::kNone) continue;
        for (std::uint32_t c = tree_.nodes[with].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
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
        for (std::uint32_t c = tree_.nodes[with].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
            if (tree_.nodes[c].kind != NodeKind::CommonTable) continue;
            if (isSame(unquotedName(tree_.tokens[tree_.nodes[c].firstToken].textIn(text_)), name)) return c;
        }
    }
    return Node::kNone;
}

std::vector<ScopeColumn> ScopeFinder::outputOf(std::uint32_t node, int depth) const {
    return output(node, depth).columns;
}

/// Goes down to the first SELECT of the query: the one that names the columns of a set operation.
ScopeFinder::Output ScopeFinder::output(std::uint32_t node, int depth) const {
    Output out{.isKnown = false};
    if (depth > kMaxDepth) return out;
    for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
        switch (tree_.nodes[c].kind) {
            case NodeKind::SelectClause:
            case NodeKind::ReturningClause:
                out.isKnown = true;
                selectItems(c, relationsOf(node, depth + 1), out);
                return out;
            case NodeKind::ValuesClause: {
                const std::uint32_t row = tree_.nodes[c].firstChild;
                if (row == Node::kNone) return out;
                out.isKnown = true;
                for (std::uint32_t v = tree_.nodes[row].firstChild; v != Node::kNone; v = tree_.nodes[v].nextSibling) {
                    out.columns.push_back({.name = "column" + std::to_string(out.columns.size() + 1)});
                }
                return out;
            }
            case NodeKind::Query:
            case NodeKind::ParenQuery:
            case NodeKind::SetOperation:
            case NodeKind::SelectCore: return output(c, depth);
            default: break;
        }
    }
    return out;
}

void ScopeFinder::selectItems(std::uint32_t clause, const std::vector<ScopeRelation>& visible, Output& out) const {
    for (std::uint32_t item = tree_.nodes[clause].firstChild; item != Node::kNone;
         item = tree_.nodes[item].nextSibling) {
        if (tree_.nodes[item].kind != NodeKind::SelectItem) continue;
        const std::uint32_t expression = tree_.nodes[item].firstChild;
        if (expression == Node::kNone) continue;
        const NodeKind kind = tree_.nodes[expression].kind;
        const bool isNamed = kind == NodeKind::Name || kind == NodeKind::Star;
        const std::vector<std::string> names = isNamed ? nameParts(expression) : std::vector<std::string>{};
        if (kind == NodeKind::Star) {
            unfoldStar(names, visible, out);
            continue;
        }
        ScopeColumn column;
        if (!names.empty()) {
            for (const ScopeRelation& relation : visible) {
                if (names.size() > 1 && !isSame(relation.alias, names[names.size() - 2])) continue;
                if (const ScopeColumn* c = columnNamed(relation, names.back()); c != nullptr && column.type.empty()) {
                    column = *c;
                }
            }
            column.name = names.back();
            column.isMerged = false;
        } else if (kind == NodeKind::Call) {
            const std::uint32_t name = tree_.childOf(expression, NodeKind::Name);
            if (name != Node::kNone && tree_.language == Dialect::Postgres) column.name = lastPart(name);
        }
        const std::uint32_t alias = tree_.childOf(item, NodeKind::Alias);
        if (alias != Node::kNone && !nameParts(alias).empty()) column.name = lastPart(alias);
        out.columns.push_back(std::move(column));
    }
}

/// * stands for every column once, merged ones first; a.* for those of one relation.
void ScopeFinder::unfoldStar(const std::vector<std::string>& names, const std::vector<ScopeRelation>& visible,
                             Output& out) const {
    if (visible.empty()) out.isKnown = false;
    for (const ScopeRelation& relation : visible) {
        const bool isMeant = names.empty() || isSame(relation.alias, names.back());
        if (!isMeant) continue;
        if (!relation.isKnown) out.isKnown = false;
        for (ScopeColumn column : relation.columns) {
            if (column.isMerged && names.empty()) continue;
            column.isMerged = false;
            out.columns.push_back(std::move(column));
        }
    }
}

/// Whether the name stands in ORDER BY, GROUP BY or HAVING of a query whose select list gives it to an item.
bool ScopeFinder::isOutputName(std::uint32_t nameNode, std::string_view name) const {
    std::uint32_t clause = Node::kNone;
    for (std::uint32_t n = nameNode; n != Node::kNone; n = tree_.nodes[n].parent) {
        const NodeKind kind = tree_.nodes[n].kind;
        if (kind == NodeKind::OrderByClause || kind == NodeKind::GroupByClause || kind == NodeKind::HavingClause)
            clause = n;
        if (kind == NodeKind::WindowSpec || kind == NodeKind::Arguments) clause = Node::kNone;
        const bool isQuery = kind == NodeKind::SelectCore || kind == NodeKind::Query;
        if (!isQuery || clause == Node::kNone) continue;
        const auto columns = output(n, 0).columns;
        return std::ranges::any_of(columns, [&](const ScopeColumn& c) { return isSame(c.name, name); });
    }
    return false;
}

Resolution ScopeFinder::resolve(std::uint32_t nameNode) const& {
    Resolution out;
    const std::vector<std::string> parts = nameParts(nameNode);
    if (parts.empty()) return out;
    const std::string& name = parts.back();
    const std::vector<ScopeRelation>& visible = relationsAt(tree_.nodes[nameNode].firstToken);
    if (parts.size() > 1) {
        const std::string& qualifier = parts[parts.size() - 2];
        const auto relation =
            std::ranges::find_if(visible, [&](const ScopeRelation& r) { return isSame(r.alias, qualifier); });
        if (relation == visible.end()) {
            // schema.table.column, or a composite's field: only a plain qualifier can be called unknown.
            const bool isKnownPlace = std::ranges::all_of(visible, [](const ScopeRelation& r) { return r.isKnown; });
            if (parts.size() == 2 && isKnownPlace) out.kind = Resolution::Kind::UnknownQualifier;
            return out;
        }
        out.relation = &*relation;
        if (const ScopeColumn* column = columnNamed(*relation, name)) {
            out.kind = Resolution::Kind::Column;
            out.column = column;
        } else if (relation->isKnown) {
            out.kind = Resolution::Kind::UnknownColumn;
        }
        return out;
    }
    bool allKnown = true;
    std::optional<int> foundAt;
    for (const ScopeRelation& relation : visible) {
        if (foundAt && relation.level != *foundAt) break;  // the nearer query's column hides those further out
        allKnown = allKnown && relation.isKnown;
        const ScopeColumn* column = columnNamed(relation, name);
        if (column == nullptr || column->isMerged) continue;
        if (foundAt) {
            out.kind = Resolution::Kind::Ambiguous;
            out.other = &relation;
            continue;
        }
        foundAt = relation.level;
        out.kind = Resolution::Kind::Column;
        out.relation = &relation;
        out.column = column;
    }
    if (isOutputName(nameNode, name)) {
        out.kind = Resolution::Kind::Output;
    } else if (!foundAt) {
        const bool isRow = std::ranges::any_of(visible, [&](const ScopeRelation& r) { return isSame(r.alias, name); });
        if (isRow) {
            out.kind = Resolution::Kind::Row;
        } else if (allKnown && !visible.empty()) {
            out.kind = Resolution::Kind::UnknownColumn;
        }
    }
    return out;
}

}  // namespace pantry::sql
