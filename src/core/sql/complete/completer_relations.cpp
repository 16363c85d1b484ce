#include <algorithm>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/complete/name_match.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

std::string Completer::freeAlias(std::string_view relation) const {
    std::string initials;
    for (std::size_t i = 0; i < relation.size(); ++i) {
        const bool begins =
            i == 0 || relation[i - 1] == '_' ||
            (relation[i] >= 'A' && relation[i] <= 'Z' && !(relation[i - 1] >= 'A' && relation[i - 1] <= 'Z'));
        const char letter = base::asciiLower(relation[i]);
        if (begins && letter >= 'a' && letter <= 'z') initials += letter;
    }
    const auto isTaken = [&](const std::string& name) {
        return std::ranges::any_of(relations_,
                                   [&](const ScopeRelation& r) { return base::equalsIgnoringCase(r.alias, name); });
    };
    const auto isFree = [&](const std::string& name) {
        return !name.empty() && !isTaken(name) && quotedName(name, dialect_) == name;
    };
    if (isFree(initials)) return initials;
    const std::string letters = base::toLower(relation);
    for (std::size_t length = 2; length <= std::min<std::size_t>(letters.size(), 4); ++length) {
        if (isFree(letters.substr(0, length))) return letters.substr(0, length);
    }
    for (int number = 2; !initials.empty() && number < 10; ++number) {
        if (isFree(initials + std::to_string(number))) return initials + std::to_string(number);
    }
    return {};
}

void Completer::offerAlias() {
    if (clause_ != NodeKind::FromClause || relations_.empty()) return;
    const ScopeRelation& last = lastJoined();
    if (last.hasAlias || last.name.empty() || last.node == Node::kNone) return;
    const Node& node = at_.tree().nodes[last.node];
    if (*at_.before() + 1 != node.endToken) return;
    const std::string alias = freeAlias(last.name);
    if (!alias.empty()) offer(alias, CompletionKind::Alias, "for " + last.name, bonus::kKeyword + 8);
}

bool Completer::isVisible(const catalog::Relation& relation) const {
    return std::ranges::any_of(relations_, [&](const ScopeRelation& r) { return r.fact == &relation; });
}

std::string Completer::aliasFor(const catalog::Relation& relation) const {
    const RelationChoice::Asked asked = choice_->askedOf(relation);
    if (!asked.alias.empty()) return quotedName(asked.alias, dialect_);
    const bool usesAliases = std::ranges::any_of(relations_, &ScopeRelation::hasAlias);
    return usesAliases ? freeAlias(relation.name) : std::string();
}

void Completer::offerRelations(bool isJoin) {
    if (isJoin) offerWholeJoins();
    for (const ScopeRelation& c : commonTables_) {
        const bool isUsed = std::ranges::any_of(
            relations_, [&](const ScopeRelation& r) { return base::equalsIgnoringCase(r.name, c.name); });
        const RelationChoice::Asked asked = choice_->askedOf(c);
        offerRelation(quotedName(c.name, dialect_), c.name, CompletionKind::CommonTable, "common table",
                      bonus::kRelation + asked.worth + (isUsed ? 0 : RelationChoice::kRelated), asked.alias);
    }
    for (const ScoredRelation& one : bestRelations(isJoin)) {
        const catalog::Relation& r = *one.relation;
        const std::string name = nameInQuery(r);
        std::string detail = catalog::isViewKind(r.kind) ? "view" : "table";
        if (r.rowEstimate) detail += " · about " + base::counted(*r.rowEstimate, "row", "rows");
        if (isJoin && choice_->refersToVisible(r)) detail = "foreign key";
        offerRelation(name, r.name, catalog::isViewKind(r.kind) ? CompletionKind::View : CompletionKind::Table, detail,
                      one.bonus, one.alias, &r);
    }
    for (const std::string& schema : catalog_.schemas()) {
        if (catalog_.schemas().size() > 1) offer(quotedName(schema, dialect_), CompletionKind::Schema, "schema", 0);
    }
}

void Completer::offerRelation(const std::string& text, std::string_view name, CompletionKind kind,
                              const std::string& detail, int bonus, std::string_view alias,
                              const catalog::Relation* relation) {
    const auto note = [&](CompletionItem* item) {
        if (item != nullptr) item->relation = relation;
    };
    if (!alias.empty()) note(offer(text + " " + quotedName(alias, dialect_), kind, detail, bonus + 1, name));
    note(offer(text, kind, detail, bonus, name));
}

std::vector<Completer::ScoredRelation> Completer::bestRelations(bool isJoin) const {
    std::vector<ScoredRelation> scored;
    const auto& relations = catalog_.relations();
    for (std::size_t i = 0; i < relations.size(); ++i) {
        const catalog::Relation& r = *relations[i];
        const auto fit = nameMatch(result_.prefix, r.name);
        if (!fit) continue;
        const RelationChoice::Asked asked = choice_->askedOfPlace(i);
        const int bonus = bonus::kRelation + asked.worth + habitOfRelation(r.name) +
                          (isJoin && choice_->refersToVisible(r) ? RelationChoice::kRelated : 0);
        scored.push_back({*fit + bonus, bonus, &r, asked.alias});
    }
    const auto isBetter = [](const ScoredRelation& a, const ScoredRelation& b) {
        return a.score != b.score ? a.score > b.score : a.relation < b.relation;
    };
    const std::size_t wanted = std::min(scored.size(), wish_.maxItems);
    std::ranges::partial_sort(scored, scored.begin() + static_cast<std::ptrdiff_t>(wanted), isBetter);
    scored.resize(wanted);
    return scored;
}

std::string Completer::nameInQuery(const catalog::Relation& r) const {
    const std::string name = quotedName(r.name, dialect_);
    return catalog_.isOnSearchPath(r.schema) ? name : quotedName(r.schema, dialect_) + "." + name;
}

}  // namespace pantry::sql
