#include <fmt/format.h>

#include "core/base/text.h"
#include "core/sql/check/finding_rules.h"

namespace pantry::sql {

void StatementCheck::update(std::uint32_t node) {
    if (child(node, NodeKind::WhereClause) != kNone || child(node, NodeKind::LimitClause) != kNone) return;
    // A join restricts what is changed; a trigger's body works on what set it off.
    const bool isRestricted = child(node, NodeKind::Join) != kNone;
    if (isRestricted) return;
    const std::uint32_t table = first(node);
    if (table == kNone) return;
    addAt(Rule::UpdateWithoutWhere, at(node).firstToken, at(table).endToken,
          fmt::format("Without WHERE this changes every row of {}.", textOf(table)));
}

void StatementCheck::deletion(std::uint32_t node) {
    if (child(node, NodeKind::WhereClause) != kNone || child(node, NodeKind::LimitClause) != kNone) return;
    const std::uint32_t from = child(node, NodeKind::FromClause);
    if (from == kNone || first(from) == kNone) return;
    const bool isRestricted = kindOf(first(from)) == NodeKind::Join || child(node, NodeKind::UsingClause) != kNone;
    if (isRestricted) return;
    addAt(Rule::DeleteWithoutWhere, at(node).firstToken, at(from).endToken,
          fmt::format("Without WHERE this deletes every row of {}.", textOf(first(from))));
}

/// As many values as columns, in every row; and no star, whose columns may change.
void StatementCheck::insert(std::uint32_t node) {
    const std::uint32_t target = child(node, NodeKind::InsertTarget);
    const std::uint32_t list = target == kNone ? kNone : child(target, NodeKind::ColumnList);
    std::size_t wanted = 0;
    bool isListed = false;
    if (list != kNone) {
        isListed = true;
        bool afterDot = false;
        for (std::uint32_t t = at(list).firstToken; t < at(list).endToken; ++t) {
            if (tree_.tokens[t].isSilent()) continue;
            if (tree_.roles[t] == TokenRole::Column && !afterDot) ++wanted;
            afterDot = tree_.tokens[t].kind == TokenKind::Dot;
        }
    } else if (hasCatalog_ && target != kNone) {
        const auto& relations = scope_.relationsAt(at(target).firstToken);
        if (!relations.empty() && relations.front().fact != nullptr) wanted = relations.front().fact->columns.size();
    }
    std::uint32_t values = child(node, NodeKind::ValuesClause);
    const std::uint32_t query = child(node, NodeKind::Query);
    if (query != kNone) {
        starInDefinition(query, "INSERT … SELECT");
        values = child(query, NodeKind::ValuesClause);
        const auto output = scope_.outputOf(query);
        const bool hasStar = hasInside(query, [this](std::uint32_t n) {
            return kindOf(n) == NodeKind::Star && kindOf(parent(n)) == NodeKind::SelectItem;
        });
        const bool isSelect = values == kNone && child(query, NodeKind::TableCommand) == kNone;
        if (isSelect && !hasStar && isListed && wanted != output.size() && !output.empty()) {
            return add(
                Rule::ValueCount, list,
                fmt::format("{} to fill, but the query returns {}.",
                            base::counted(static_cast<std::int64_t>(wanted), "column", "columns"), output.size()));
        }
    }
    if (values == kNone) return;
    std::size_t firstCount = 0;
    for (std::uint32_t row = first(values); row != kNone; row = next(row)) {
        if (kindOf(row) != NodeKind::Paren) continue;
        std::size_t count = 0;
        for (std::uint32_t v = first(row); v != kNone; v = next(v)) ++count;
        if (count == 0 && tree_.language == Dialect::MySql) return;  // () stands for defaults
        if (wanted == 0 && firstCount == 0) firstCount = count;
        const std::size_t due = wanted > 0 ? wanted : firstCount;
        // Columns left out at the end take their defaults in PostgreSQL when no list is given.
        const bool mayBeShort = !isListed && tree_.language == Dialect::Postgres && count < due && wanted > 0;
        if (count == due || mayBeShort) continue;
        const std::string what =
            wanted > 0
                ? fmt::format("{} to fill", base::counted(static_cast<std::int64_t>(wanted), "column", "columns"))
                : fmt::format("{} in the first row", base::counted(static_cast<std::int64_t>(due), "value", "values"));
        return add(
            Rule::ValueCount, row,
            fmt::format("{}, but {} here.", what, base::counted(static_cast<std::int64_t>(count), "value", "values")));
    }
}

/// SELECT * where its columns become somebody else's.
void StatementCheck::starInDefinition(std::uint32_t query, std::string_view where) {
    const std::uint32_t core = child(query, NodeKind::SelectCore);
    const std::uint32_t select = core == kNone ? kNone : child(core, NodeKind::SelectClause);
    if (select == kNone) return;
    const std::uint32_t item = child(select, NodeKind::SelectItem);
    if (item == kNone || kindOf(first(item)) != NodeKind::Star || next(item) != kNone) return;
    std::optional<TextEdit> fix;
    const auto columns = scope_.outputOf(query);
    bool isComplete = hasCatalog_ && !columns.empty();
    for (const ScopeRelation& r : scope_.relationsAt(at(item).firstToken)) {
        if (r.level == 0) isComplete = isComplete && r.isKnown;
    }
    if (isComplete && tree_.nodes[first(item)].endToken - tree_.nodes[first(item)].firstToken == 1) {
        const auto& relations = scope_.relationsAt(at(item).firstToken);
        if (relations.size() == 1) {
            std::string list;
            for (const ScopeColumn& c : columns) list += (list.empty() ? "" : ", ") + quoted(c.name);
            fix = replaceNode(item, list);
        }
    }
    add(Rule::StarInDefinition, item,
        fmt::format("In {} * takes the columns of today; one that is added later is missed or breaks it. Name them.",
                    where),
        fix);
}

}  // namespace pantry::sql
