#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

void Completer::offerWholeJoins() {
    constexpr std::size_t kMostJoins = 12;
    std::size_t offered = 0;
    for (const ScopeRelation& visible : relations_) {
        if (visible.fact == nullptr || visible.level > 0) continue;
        for (const catalog::ForeignKey& key : visible.fact->foreignKeys) {
            const catalog::Relation* there = catalog_.find(key.schema, key.relation);
            if (there == nullptr || isVisible(*there) || offered++ > kMostJoins) continue;
            const std::string alias = aliasFor(*there);
            offerJoin(*there, alias, conditionOf(visible.alias, key, alias), *visible.fact, key);
        }
        for (const auto& reference : catalog_.referencesTo(*visible.fact)) {
            if (isVisible(*reference.from) || offered++ > kMostJoins) continue;
            const std::string alias = aliasFor(*reference.from);
            offerJoin(*reference.from, alias, conditionOf(alias, *reference.key, visible.alias), *reference.from,
                      *reference.key);
            offerThrough(*reference.from, alias, conditionOf(alias, *reference.key, visible.alias), *reference.key);
        }
    }
}

std::string Completer::conditionOf(const std::string& from, const catalog::ForeignKey& key,
                                   const std::string& to) const {
    std::string condition;
    for (std::size_t i = 0; i < key.columns.size() && i < key.referencedColumns.size(); ++i) {
        condition += (i > 0 ? " " + keyword("AND") + " " : std::string()) + from + "." +
                     quotedName(key.columns[i], dialect_) + " = " +
                     (to.empty() ? quotedName(key.relation, dialect_) : to) + "." +
                     quotedName(key.referencedColumns[i], dialect_);
    }
    return condition;
}

void Completer::offerJoin(const catalog::Relation& relation, const std::string& alias, const std::string& condition,
                          const catalog::Relation& owner, const catalog::ForeignKey& key) {
    if (condition.empty() || condition.starts_with('.')) return;
    const std::string named = nameInQuery(relation) + (alias.empty() ? "" : " " + alias);
    noteKey(offer(named + " " + keyword("ON") + " " + condition, CompletionKind::Join, "foreign key",
                  bonus::kRelation + RelationChoice::kRelated - 45, relation.name),
            owner, key);
}

void Completer::offerThrough(const catalog::Relation& link, const std::string& linkAlias, const std::string& condition,
                             const catalog::ForeignKey& used) {
    constexpr std::size_t kFewColumns = 6;
    if (link.foreignKeys.size() < 2 || link.columns.size() > kFewColumns || linkAlias.empty()) return;
    for (const catalog::ForeignKey& key : link.foreignKeys) {
        const catalog::Relation* there = &key == &used ? nullptr : catalog_.find(key.schema, key.relation);
        if (there == nullptr || isVisible(*there)) continue;
        const std::string alias = aliasFor(*there);
        if (alias.empty() || alias == linkAlias) continue;
        const std::string text =
            fmt::format("{} {} {} {} {} {} {} {} {}", nameInQuery(link), linkAlias, keyword("ON"), condition,
                        keyword("JOIN"), nameInQuery(*there), alias, keyword("ON"), conditionOf(linkAlias, key, alias));
        noteKey(offer(text, CompletionKind::Join, "through " + link.name, bonus::kRelation - 20, there->name), link,
                key);
    }
}

void Completer::offerJoinConditions() {
    if (relations_.size() < 2) return;
    const ScopeRelation& joined = lastJoined();
    for (const ScopeRelation& other : relations_) {
        if (other.node == joined.node || joined.fact == nullptr || other.fact == nullptr) continue;
        offerKeys(joined, other, true);
        offerKeys(other, joined, false);
    }
}

const ScopeRelation& Completer::lastJoined() const {
    const ScopeRelation* last = &relations_.front();
    for (const ScopeRelation& r : relations_) {
        if (r.node != Node::kNone && at_.tree().nodes[r.node].firstToken <= *at_.before()) last = &r;
    }
    return *last;
}

void Completer::offerKeys(const ScopeRelation& from, const ScopeRelation& to, bool fromIsJoined) {
    for (const catalog::ForeignKey& key : from.fact->foreignKeys) {
        if (!base::equalsIgnoringCase(key.relation, to.fact->name)) continue;
        std::string condition;
        for (std::size_t i = 0; i < key.columns.size() && i < key.referencedColumns.size(); ++i) {
            const std::string left = qualified(from.alias, key.columns[i]);
            const std::string right = qualified(to.alias, key.referencedColumns[i]);
            if (i > 0) condition += " AND ";
            condition += fromIsJoined ? left + " = " + right : right + " = " + left;
        }
        noteKey(offer(condition, CompletionKind::Join, "foreign key", bonus::kJoin), *from.fact, key);
        if (key.columns.size() != 1 || key.referencedColumns.size() != 1) continue;
        const std::string::size_type middle = condition.find(" = ");
        noteKey(offer(condition.substr(middle + 3) + " = " + condition.substr(0, middle), CompletionKind::Join,
                      "foreign key", bonus::kJoin - 20),
                *from.fact, key);
    }
}

void Completer::noteKey(CompletionItem* item, const catalog::Relation& from, const catalog::ForeignKey& key) {
    if (item == nullptr) return;
    item->relation = &from;
    item->key = &key;
}

std::string Completer::qualified(std::string_view alias, std::string_view column) const {
    return quotedName(alias, dialect_) + "." + quotedName(column, dialect_);
}

bool Completer::isInJoinCondition() const {
    const Token* beforeOwner = at_.back(2);
    return beforeOwner != nullptr && (beforeOwner->is(Keyword::On) || beforeOwner->is(Keyword::And)) &&
           at_.clauseAt() == NodeKind::OnCondition;
}

void Completer::offerQualifiedKeys(const ScopeRelation& owner) {
    const auto keysBetween = [&](const ScopeRelation& from, const ScopeRelation& to, bool ownerIsFrom) {
        for (const catalog::ForeignKey& key : from.fact->foreignKeys) {
            if (!base::equalsIgnoringCase(key.relation, to.fact->name)) continue;
            if (key.columns.size() != 1 || key.referencedColumns.size() != 1) continue;
            const std::string& own = ownerIsFrom ? key.columns[0] : key.referencedColumns[0];
            const std::string& far = ownerIsFrom ? key.referencedColumns[0] : key.columns[0];
            const std::string& alias = ownerIsFrom ? to.alias : from.alias;
            noteKey(offer(quotedName(own, dialect_) + " = " + qualified(alias, far), CompletionKind::Join,
                          "foreign key", bonus::kJoin),
                    *from.fact, key);
        }
    };
    for (const ScopeRelation& other : relations_) {
        if (other.node == owner.node || owner.fact == nullptr || other.fact == nullptr) continue;
        keysBetween(owner, other, true);
        keysBetween(other, owner, false);
    }
}

}  // namespace pantry::sql
