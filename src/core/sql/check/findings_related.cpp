#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <numeric>
#include <set>

#include "core/base/text.h"
#include "core/sql/check/finding_rules.h"

namespace pantry::sql {

/// The tables of a FROM and which of them conditions hold together.
struct StatementCheck::RelatedTables {
    struct Table {
        std::string name;  ///< or alias, in small letters
        std::uint32_t node;
        std::size_t item;  ///< of FROM; what joins hold together is one
    };
    std::vector<Table> tables;
    std::size_t items = 0;
    bool isOpen = false;             ///< one of them may be related to the others by itself, or cannot be told by name
    std::vector<std::size_t> group;  ///< of each item, then of each table around
    std::map<std::string, std::size_t> outer;  ///< tables of the queries around, which relate what is related to them

    /// Items, and tables around, that a condition names are one group from now on.
    void join(const std::set<std::size_t>& met) {
        if (met.empty()) return;
        const std::size_t target = group[*met.begin()];
        for (const std::size_t one : met) {
            const std::size_t old = group[one];
            std::ranges::replace(group, old, target);
        }
    }
};

/// Tables are related when one condition names both. A name without a qualifier may belong to any of them.
void StatementCheck::relatedTables(std::uint32_t core) {
    const std::uint32_t from = child(core, NodeKind::FromClause);
    if (from == kNone) return;
    bool hasComma = false;
    for (std::uint32_t t = at(from).firstToken; t < at(from).endToken && !hasComma; ++t) {
        hasComma = tree_.tokens[t].kind == TokenKind::Comma;
    }
    if (!hasComma) return;
    constexpr std::size_t kMaxItems = 64;
    RelatedTables all = tablesOf(from);
    if (all.isOpen || all.items < 2 || all.items > kMaxItems || hasCommonTableOfOneRow(all, core)) return;
    all.group.resize(all.items);
    std::iota(all.group.begin(), all.group.end(), 0U);
    if (const std::uint32_t where = child(core, NodeKind::WhereClause); where != kNone) relateAll(all, where);
    for (std::size_t i = 0; i < all.items; ++i) {
        if (all.group[i] == all.group[0]) continue;
        const auto odd = std::ranges::find(all.tables, i, &RelatedTables::Table::item);
        if (odd == all.tables.end()) continue;
        return add(Rule::UnrelatedTables, odd->node,
                   fmt::format("No condition relates {} to the other tables, so every row meets every row. CROSS JOIN "
                               "says that this is meant.",
                               odd->name));
    }
}

StatementCheck::RelatedTables StatementCheck::tablesOf(std::uint32_t from) const {
    RelatedTables all;
    const auto take = [&](std::uint32_t table) {
        const NodeKind kind = kindOf(table);
        if (kind != NodeKind::TableName && kind != NodeKind::DerivedTable && kind != NodeKind::FunctionTable) return;
        if (kind == NodeKind::FunctionTable) all.isOpen = true;
        if (kind == NodeKind::DerivedTable) {
            const std::uint32_t inner = child(table, NodeKind::ParenQuery);
            const std::uint32_t query = inner == kNone ? kNone : child(inner, NodeKind::Query);
            const bool isLateral = tree_.tokens[at(table).firstToken].is(Keyword::Lateral);
            if (isLateral || query == kNone || returnsOneRow(query)) all.isOpen = true;
        }
        const std::uint32_t alias = child(table, NodeKind::Alias);
        const std::uint32_t named = alias != kNone ? alias : child(table, NodeKind::Name);
        if (named == kNone) {
            all.isOpen = true;
            return;
        }
        all.tables.push_back({base::toLower(scope_.lastPart(named)), table, all.items});
    };
    for (std::uint32_t item = first(from); item != kNone; item = next(item), ++all.items) {
        take(item);
        forEachInside(item, take);
    }
    return all;
}

/// A common table of one row belongs to every row.
bool StatementCheck::hasCommonTableOfOneRow(const RelatedTables& all, std::uint32_t core) const {
    for (const RelatedTables::Table& table : all.tables) {
        const std::uint32_t name = child(table.node, NodeKind::Name);
        const std::string relation = scope_.lastPart(name == kNone ? table.node : name);
        for (const ScopeRelation& common : scope_.commonTablesAt(at(core).firstToken)) {
            if (!base::equalsIgnoringCase(common.name, relation)) continue;
            const std::uint32_t query = child(common.node, NodeKind::Query);
            if (query == kNone || returnsOneRow(query)) return true;
        }
    }
    return false;
}

/// Each part of a chain of ANDs is a condition of its own.
void StatementCheck::relateAll(RelatedTables& all, std::uint32_t where) {
    for (std::uint32_t c = first(where); c != kNone; c = next(c)) {
        const std::uint32_t inner = unwrapped(c);
        const bool isAnd = kindOf(inner) == NodeKind::LogicalChain && ownWord(inner, Keyword::And) != kNone;
        if (!isAnd) {
            relate(all, where);  // the condition itself counts too, not only what is inside it
            continue;
        }
        for (std::uint32_t part = first(inner); part != kNone; part = next(part)) relate(all, part);
    }
}

void StatementCheck::relate(RelatedTables& all, std::uint32_t condition) {
    std::set<std::size_t> met;
    bool mayBeAny = false;
    const auto meet = [&](std::string_view name) {
        bool isOwn = false;
        for (const RelatedTables::Table& table : all.tables) {
            if (!base::equalsIgnoringCase(table.name, name)) continue;
            met.insert(table.item);
            isOwn = true;
        }
        return isOwn;
    };
    const auto look = [&](std::uint32_t n) {
        if (kindOf(n) != NodeKind::Name) return;
        const auto parts = scope_.nameParts(n);
        if (parts.size() < 2) {
            const Resolution found = scope_.resolve(n);
            const bool isColumn = found.kind == Resolution::Kind::Column;
            mayBeAny = mayBeAny || !isColumn;
            if (isColumn) meet(found.relation->alias);
            return;
        }
        const std::string qualifier = base::toLower(parts[parts.size() - 2]);
        if (meet(qualifier)) return;
        const auto [place, isNew] = all.outer.try_emplace(qualifier, all.group.size());
        if (isNew) all.group.push_back(all.group.size());
        met.insert(place->second);
    };
    forEachInside(condition, look, true);
    for (std::size_t i = 0; mayBeAny && i < all.items; ++i) met.insert(i);
    all.join(met);
}

}  // namespace pantry::sql
