#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <map>
#include <set>

#include "core/base/text.h"
#include "core/sql/check/finding_rules.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

void StatementCheck::selectCore(std::uint32_t node) {
    duplicateAliases(node);
    relatedTables(node);
    grouping(node);
    wholeTable(node);
}

/// a b over two lines, or b where a table of the query has a column of that name: a comma is missing.
void StatementCheck::selectItem(std::uint32_t node) {
    const std::uint32_t expression = first(node);
    const std::uint32_t alias = child(node, NodeKind::Alias);
    if (alias == kNone || kindOf(expression) != NodeKind::Name || kindOf(parent(node)) != NodeKind::SelectClause)
        return;
    if (tree_.tokens[at(alias).firstToken].is(Keyword::As)) return;
    const std::uint32_t before = at(expression).endToken - 1;
    const std::uint32_t name = at(alias).firstToken;
    const std::size_t from = tree_.tokens[before].end();
    const bool isOnNextLine = text_.substr(from, tree_.tokens[name].start - from).find('\n') != std::string_view::npos;
    bool isColumn = false;
    if (hasCatalog_) {
        const std::string word = unquotedName(tokenText(name));
        for (const ScopeRelation& r : scope_.relationsAt(at(node).firstToken)) {
            if (r.level > 0) break;
            isColumn = isColumn || std::ranges::any_of(r.columns, [&](const ScopeColumn& c) {
                           return base::equalsIgnoringCase(c.name, word);
                       });
        }
    }
    if (!isOnNextLine && !isColumn) return;
    addAt(Rule::MissingComma, at(expression).firstToken, at(alias).endToken,
          fmt::format("Without a comma “{}” becomes the name of “{}”, and a column is missing. If a name is meant, AS "
                      "says so.",
                      tokenText(name), textOf(expression)),
          insertAfter(before, ","));
}

void StatementCheck::limit(std::uint32_t node) {
    const std::uint32_t query = parent(node);
    if (kindOf(query) != NodeKind::Query) return;
    if (tree_.tokens[at(node).firstToken].is(Keyword::Offset) && child(query, NodeKind::LimitClause) != node) return;
    if (child(query, NodeKind::OrderByClause) != kNone) return;
    const std::uint32_t core = child(query, NodeKind::SelectCore);
    if (core == kNone || child(core, NodeKind::FromClause) == kNone) return;
    const bool onlyAsksWhether = around(node, {NodeKind::Exists}) != kNone;
    const std::uint32_t count = first(node);
    const bool isNone = count != kNone && textOf(count) == "0";
    const bool hasOneRow =
        child(core, NodeKind::GroupByClause) == kNone && hasAggregate(child(core, NodeKind::SelectClause));
    // One row for a value, or one to lock: any will do.
    const bool anyWillDo = (count != kNone && textOf(count) == "1" && around(node, {NodeKind::Subquery}) != kNone) ||
                           child(query, NodeKind::LockClause) != kNone;
    if (onlyAsksWhether || isNone || hasOneRow || anyWillDo) return;
    add(Rule::LimitWithoutOrder, node, "Without ORDER BY it is left to chance which rows come.");
}

void StatementCheck::orderBy(std::uint32_t node) {
    const bool ofQuery = kindOf(parent(node)) == NodeKind::Query;
    const std::uint32_t core = ofQuery ? child(parent(node), NodeKind::SelectCore) : kNone;
    for (std::uint32_t item = first(node); item != kNone; item = next(item)) {
        const std::uint32_t expression = unwrapped(first(item));
        if (expression == kNone || isNull(expression)) continue;
        if (isString(expression)) {
            add(Rule::OrderByConstant, expression,
                fmt::format("{} is a text, the same for every row; a column's name stands without quotes, or in the "
                            "quotes of names.",
                            textOf(expression)));
        } else if (ofQuery && core != kNone && isInteger(expression)) {
            const std::uint32_t select = child(core, NodeKind::SelectClause);
            std::size_t columns = 0;
            bool hasStar = false;
            for (std::uint32_t c = first(select); c != kNone; c = next(c)) {
                if (kindOf(c) == NodeKind::SelectItem) ++columns;
                hasStar = hasStar || (first(c) != kNone && kindOf(first(c)) == NodeKind::Star);
            }
            std::size_t position = 0;
            const std::string_view digits = textOf(expression);
            std::from_chars(digits.data(), digits.data() + digits.size(), position);
            if (!hasStar && (position == 0 || position > columns)) {
                add(Rule::OrderByConstant, expression,
                    fmt::format("There is no column {}: the query has {}.", digits,
                                base::counted(static_cast<std::int64_t>(columns), "column", "columns")));
            }
        }
    }
}

void StatementCheck::having(std::uint32_t node) {
    const std::uint32_t condition = first(node);
    if (condition == kNone || hasAggregate(condition)) return;
    const std::uint32_t core = parent(node);
    // A name in HAVING may be that of an aggregate in the select list.
    std::set<std::string> aggregateNames;
    for (const std::uint32_t item : tree_.childrenOf(child(core, NodeKind::SelectClause))) {
        const std::uint32_t alias = child(item, NodeKind::Alias);
        if (alias != kNone && first(item) != kNone && hasAggregate(first(item))) {
            aggregateNames.insert(base::toLower(scope_.lastPart(alias)));
        }
    }
    const bool usesOne = hasInside(condition, [&](std::uint32_t n) {
        return kindOf(n) == NodeKind::Name && aggregateNames.contains(base::toLower(scope_.lastPart(n)));
    });
    const bool asksElsewhere = hasInside(condition, [&](std::uint32_t n) {
        return kindOf(n) == NodeKind::Subquery || (kindOf(n) == NodeKind::Call && functionName(n) == "grouping");
    });
    if (usesOne || asksElsewhere) return;
    add(Rule::HavingWithoutAggregate, node,
        "Nothing here looks at a whole group; WHERE says the same before the rows are grouped.");
}

/// Whether other columns of its relation may depend on a column: it is the key, as far as anybody knows.
bool StatementCheck::mayBeKey(std::uint32_t name) const {
    if (!hasCatalog_) return true;
    const Resolution found = scope_.resolve(name);
    const bool isKnown = found.kind == Resolution::Kind::Column && found.column->origin != nullptr;
    return !isKnown || found.column->isPrimaryKey;
}

/// A column beside an aggregate has to be one of the group's, or depend on its key.
void StatementCheck::grouping(std::uint32_t core) {
    const std::uint32_t select = child(core, NodeKind::SelectClause);
    const std::uint32_t groupBy = child(core, NodeKind::GroupByClause);
    std::string onlyAggregate;
    bool hasAny = false;
    for (std::uint32_t item = first(select); item != kNone; item = next(item)) {
        if (kindOf(item) != NodeKind::SelectItem) continue;
        forEachInside(item, [&](std::uint32_t n) {
            if (!isAggregate(n)) return;
            onlyAggregate = hasAny ? "" : functionName(n);
            hasAny = true;
        });
    }
    // SQLite takes the row that has the smallest or largest value.
    if (tree_.language == Dialect::Sqlite && (onlyAggregate == "min" || onlyAggregate == "max")) return;
    if (!hasAny) return;
    std::set<std::string> grouped;      // texts and last parts of what GROUP BY names
    std::set<std::string> groupedFrom;  // relations of which a column that may be a key is named
    bool isOpen = false;                // something that cannot be compared by its text
    if (groupBy != kNone) {
        isOpen = ownWord(groupBy, Keyword::All) != kNone;
        for (std::uint32_t g = first(groupBy); g != kNone; g = next(g)) {
            const auto take = [&](std::uint32_t n) {
                if (kindOf(n) != NodeKind::Name) return;
                const auto parts = scope_.nameParts(n);
                grouped.insert(base::toLower(parts.back()));
                if (mayBeKey(n)) groupedFrom.insert(parts.size() > 1 ? base::toLower(parts[parts.size() - 2]) : "");
            };
            take(g);
            forEachInside(g, take);
            grouped.insert(base::toLower(textOf(g)));
        }
    }
    if (isOpen) return;
    for (std::uint32_t item = first(select); item != kNone; item = next(item)) {
        if (kindOf(item) != NodeKind::SelectItem) continue;
        const std::uint32_t expression = first(item);
        if (kindOf(expression) != NodeKind::Name) continue;
        const auto parts = scope_.nameParts(expression);
        const std::uint32_t alias = child(item, NodeKind::Alias);
        const bool isNamedInGroup = alias != kNone && grouped.contains(base::toLower(scope_.lastPart(alias)));
        if (grouped.contains(base::toLower(parts.back())) || isNamedInGroup) continue;
        const std::string qualifier = parts.size() > 1 ? base::toLower(parts[parts.size() - 2]) : "";
        // By number, or by a column that may be the key the others depend on.
        const bool isByNumber = std::ranges::any_of(grouped, [](const std::string& g) {
            return !g.empty() && g.find_first_not_of("0123456789") == std::string::npos;
        });
        const bool mayDepend = groupedFrom.contains(qualifier) || qualifier.empty() != groupedFrom.contains("") ||
                               (qualifier.empty() && !groupedFrom.empty());
        if (groupBy != kNone && (isByNumber || mayDepend)) continue;
        const Resolution found = scope_.resolve(expression);
        if (found.kind == Resolution::Kind::Column && found.relation->level > 0) continue;  // of the query around
        if (around(core, {NodeKind::Subquery}) != kNone && found.kind != Resolution::Kind::Column) continue;
        add(Rule::UngroupedColumn, expression,
            fmt::format("{} is neither in GROUP BY nor inside an aggregate: of which row should it be?",
                        textOf(expression)));
    }
}

void StatementCheck::join(std::uint32_t node) {
    joinBesideKey(node);
    const bool hasCondition =
        child(node, NodeKind::OnCondition) != kNone || child(node, NodeKind::UsingColumns) != kNone;
    if (hasCondition) return;
    for (const Keyword word : {Keyword::Cross, Keyword::Natural, Keyword::Apply}) {
        if (ownWord(node, word) != kNone) return;
    }
    const std::uint32_t right = next(first(node));
    if (right == kNone) return;
    const bool isLateral =
        tree_.tokens[at(right).firstToken].is(Keyword::Lateral) || kindOf(right) == NodeKind::FunctionTable;
    if (isLateral) return;
    // a JOIN b JOIN c ON … ON …: the condition comes with the join around.
    if (kindOf(parent(node)) == NodeKind::Join && first(parent(node)) != node) return;
    const std::uint32_t core =
        around(node, {NodeKind::SelectCore, NodeKind::UpdateStatement, NodeKind::DeleteStatement});
    if (core != kNone && child(core, NodeKind::WhereClause) != kNone)
        return;  // related there, or told by unrelated-tables
    if (kindOf(parent(node)) == NodeKind::Join && (child(parent(node), NodeKind::OnCondition) != kNone)) return;
    add(Rule::JoinWithoutCondition, right,
        "This join has no condition, so every row meets every row; ON or USING says which belong together, CROSS JOIN "
        "that all are meant.");
}

void StatementCheck::duplicateAliases(std::uint32_t core) {
    std::map<std::string, std::string> seen;
    const std::uint32_t from = child(core, NodeKind::FromClause);
    const auto take = [&](std::uint32_t table) {
        const std::uint32_t alias = child(table, NodeKind::Alias);
        const std::uint32_t name = child(table, NodeKind::Name);
        const std::uint32_t named = alias != kNone ? alias : name;
        if (named == kNone || kindOf(table) == NodeKind::FunctionTable) return;
        const std::string key = base::toLower(scope_.lastPart(named));
        const std::string full = alias != kNone ? std::string() : base::toLower(textOf(name));
        const auto [place, isNew] = seen.try_emplace(key, full);
        const bool differsBySchema = !isNew && !full.empty() && !place->second.empty() && full != place->second;
        if (isNew || differsBySchema) return;
        add(Rule::DuplicateAlias, named,
            fmt::format("Two tables of this query are called {}; give one of them another name.",
                        scope_.lastPart(named)));
    };
    const bool hasOne = from != kNone && kindOf(first(from)) == NodeKind::TableName && next(first(from)) == kNone;
    if (from != kNone && !hasOne) {
        forEachInside(from, [&](std::uint32_t n) {
            const NodeKind kind = kindOf(n);
            if (kind == NodeKind::TableName || kind == NodeKind::DerivedTable) take(n);
        });
    }
    std::set<std::string> outputs;
    const std::uint32_t select = child(core, NodeKind::SelectClause);
    for (std::uint32_t item = first(select); item != kNone; item = next(item)) {
        const std::uint32_t alias = kindOf(item) == NodeKind::SelectItem ? child(item, NodeKind::Alias) : kNone;
        if (alias == kNone) continue;
        const auto parts = scope_.nameParts(alias);
        if (parts.empty() || outputs.insert(base::toLower(parts.back())).second) continue;
        add(Rule::DuplicateAlias, alias, fmt::format("Two columns of this result are called {}.", parts.back()));
        findings_.back().severity = Severity::Warning;
    }
}

void StatementCheck::commonTables(std::uint32_t with) {
    for (std::uint32_t table = first(with); table != kNone; table = next(table)) {
        if (kindOf(table) != NodeKind::CommonTable) continue;
        const std::uint32_t query = child(table, NodeKind::Query);
        if (query == kNone) continue;  // what changes rows does so whether used or not
        const std::uint32_t nameToken = at(table).firstToken;
        const std::string name = unquotedName(tokenText(nameToken));
        bool isUsed = false;
        for (std::uint32_t n = 1; n < tree_.nodes.size() && !isUsed; ++n) {
            const bool mayName = kindOf(n) == NodeKind::TableName || kindOf(n) == NodeKind::TableCommand ||
                                 kindOf(n) == NodeKind::InList || kindOf(n) == NodeKind::FunctionTable;
            if (!mayName) continue;
            for (std::uint32_t t = at(n).firstToken; t < at(n).endToken && !isUsed; ++t) {
                isUsed = t != nameToken &&
                         (tree_.tokens[t].kind == TokenKind::Word || tree_.tokens[t].kind == TokenKind::QuotedName) &&
                         base::equalsIgnoringCase(unquotedName(tokenText(t)), name);
                if (kindOf(n) == NodeKind::TableName && tree_.roles[t] == TokenRole::AliasName) isUsed = false;
            }
        }
        if (isUsed) continue;
        addAt(Rule::UnusedCommonTable, nameToken, nameToken + 1, fmt::format("Nothing uses {}.", name));
    }
}

/// The alias of an outer table given to another table further in.
void StatementCheck::shadowedAlias(std::uint32_t table) {
    const std::uint32_t alias = child(table, NodeKind::Alias);
    const std::uint32_t core = around(table, {NodeKind::SelectCore});
    const bool isInside = core != kNone && around(core, {NodeKind::SelectCore, NodeKind::UpdateStatement,
                                                         NodeKind::DeleteStatement}) != kNone;
    if (alias == kNone || !isInside) return;
    const std::string own = scope_.lastPart(alias);
    const std::uint32_t name = child(table, NodeKind::Name);
    const std::string ownTable = name == kNone ? std::string() : scope_.lastPart(name);
    for (const ScopeRelation& r : scope_.relationsAt(at(alias).firstToken)) {
        if (r.level == 0 || !r.hasAlias || !base::equalsIgnoringCase(r.alias, own)) continue;
        if (base::equalsIgnoringCase(r.name, ownTable)) continue;
        return add(Rule::ShadowedAlias, alias,
                   fmt::format("{} already names {} in the query around, which cannot be reached from here.", own,
                               r.name.empty() ? "a subquery" : r.name));
    }
}

}  // namespace pantry::sql
