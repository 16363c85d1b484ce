#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/sql/complete/column_choice.h"
#include "core/sql/complete/completer.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

void Completer::offerColumns() {
    offerSelected();
    if (relations_.empty()) return offerGuessedColumns();
    std::set<std::string> ambiguous;
    std::set<std::string> seen;
    for (const ScopeRelation& r : relations_) {
        for (const ScopeColumn& c : r.columns) {
            if (!seen.insert(base::toLower(c.name)).second) ambiguous.insert(base::toLower(c.name));
        }
    }
    const std::optional<Operand> other = operandBefore();
    int farther = 0;
    for (const ScopeRelation& r : relations_) {
        for (std::size_t i = 0; i < r.columns.size(); ++i) {
            const ScopeColumn& c = r.columns[i];
            if (c.name.empty()) continue;
            const bool isShared = ambiguous.contains(base::toLower(c.name));
            const bool needsAlias = (isQualifying_ || isShared) && !r.alias.empty();
            noteOrigin(
                offer(needsAlias ? qualified(r.alias, c.name) : quotedName(c.name, dialect_), CompletionKind::Column,
                      columnDetail(c, r.alias),
                      bonus::kColumn + likelihood(r, i) + (other ? worthBeside(*other, r, c) : 0) - farther, c.name),
                c);
        }
        farther = std::min(farther + 3, 15) + (r.level > 0 ? 30 : 0);
    }
    for (const ScopeRelation& r : relations_) {
        if (r.alias.empty()) continue;
        const bool isLikely = isQualifying_ || relations_.size() > 1;
        offer(quotedName(r.alias, dialect_), CompletionKind::Alias, r.name.empty() ? "subquery" : r.name,
              isLikely ? bonus::kAlias : bonus::kKeyword, r.alias);
    }
}

int Completer::likelihood(const ScopeRelation& relation, std::size_t place) const {
    const ScopeColumn& c = relation.columns[place];
    return columnLikelihood(
               {.name = c.name, .type = c.type, .isKey = c.isPrimaryKey, .place = place, .relation = relation.fact},
               clause_, names_) +
           habitOfColumn(c.name);
}

void Completer::offerSelected() {
    const bool isGrouping = clause_ == NodeKind::GroupByClause;
    if (!isGrouping && clause_ != NodeKind::OrderByClause) return;
    int bonus = bonus::kSelected;
    for (const SelectedItem& item : names_.items) {
        if (isGrouping && item.isAggregate) continue;
        const bool byAlias = !item.alias.empty() && !(isGrouping && item.isName);
        const std::string text = byAlias ? quotedName(item.alias, dialect_) : item.text;
        if (!byAlias && !item.isName) continue;
        const std::string name = text.substr(text.rfind('.') + 1);
        const bool isThere = names_.names(unquotedName(name), clause_);
        const int more = !isGrouping && item.isAggregate ? 30 : 0;
        offer(text, CompletionKind::Column, "select list", isThere ? bonus::kKeyword : bonus + more,
              byAlias ? std::string_view(item.alias) : std::string_view(text));
        if (!byAlias) offer(text, CompletionKind::Column, "select list", isThere ? bonus::kKeyword : bonus, name);
        bonus -= 4;
    }
}

std::string Completer::columnDetail(const ScopeColumn& column, std::string_view alias) {
    std::string detail = base::toLower(column.type);
    if (column.isPrimaryKey) detail += detail.empty() ? "key" : " · key";
    if (!alias.empty()) detail += (detail.empty() ? "" : " · ") + std::string(alias);
    return detail;
}

void Completer::offerSharedColumns() {
    if (relations_.size() < 2) return offerColumns();
    const ScopeRelation& joined = lastJoined();
    for (const ScopeColumn& c : joined.columns) {
        const bool isShared = std::ranges::any_of(relations_, [&](const ScopeRelation& r) {
            return r.node != joined.node && std::ranges::any_of(r.columns, [&](const ScopeColumn& o) {
                       return base::equalsIgnoringCase(o.name, c.name);
                   });
        });
        if (isShared) {
            offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""), bonus::kColumn, c.name);
        }
    }
}

void Completer::offerTargetColumns() {
    if (relations_.empty()) return;
    const ScopeRelation& target = relations_.front();
    for (std::size_t i = 0; i < target.columns.size(); ++i) {
        const ScopeColumn& c = target.columns[i];
        noteOrigin(offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""),
                         bonus::kColumn + likelihood(target, i), c.name),
                   c);
    }
}

void Completer::offerQualified() {
    const Token* owner = at_.back(1);
    if (owner == nullptr) return;
    const std::string name = unquotedName(owner->textIn(at_.statement()));
    bool isKnown = false;
    for (const ScopeRelation& r : relations_) {
        if (!base::equalsIgnoringCase(r.alias, name)) continue;
        isKnown = true;
        if (isInJoinCondition()) offerQualifiedKeys(r);
        const std::optional<Operand> other = operandBeforeQualified();
        for (std::size_t i = 0; i < r.columns.size(); ++i) {
            const ScopeColumn& c = r.columns[i];
            noteOrigin(offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""),
                             bonus::kColumn + likelihood(r, i) + (other ? worthBeside(*other, r, c) : 0) +
                                 worthAsSelected(name, c.name),
                             c.name),
                       c);
        }
        break;
    }
    if (isKnown) return;
    offerGuessedQualified(name);
    for (const catalog::Relation* known : catalog_.relations()) {
        const catalog::Relation& r = *known;
        if (!base::equalsIgnoringCase(r.schema, name)) continue;
        offer(quotedName(r.name, dialect_), catalog::isViewKind(r.kind) ? CompletionKind::View : CompletionKind::Table,
              catalog::isViewKind(r.kind) ? "view" : "table", bonus::kRelation, r.name);
    }
}

int Completer::worthAsSelected(std::string_view alias, std::string_view column) const {
    const bool isGrouping = clause_ == NodeKind::GroupByClause;
    if (!isGrouping && clause_ != NodeKind::OrderByClause) return 0;
    if (names_.names(column, clause_)) return 0;
    for (const NamedColumn& named : names_.columns) {
        const bool isIt = named.clause == NodeKind::SelectClause && base::equalsIgnoringCase(named.qualifier, alias) &&
                          base::equalsIgnoringCase(named.column, column);
        if (isIt) return bonus::kSelected - bonus::kColumn;
    }
    return 0;
}

}  // namespace pantry::sql
