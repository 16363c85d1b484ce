#include "core/sql/complete/relation_choice.h"

namespace pantry::sql {
namespace {

bool pointsAt(const catalog::Relation& from, const catalog::Relation& to) {
    return std::ranges::any_of(from.foreignKeys, [&](const catalog::ForeignKey& key) {
        return base::equalsIgnoringCase(key.relation, to.name);
    });
}

}  // namespace

bool hasColumn(const catalog::Relation& relation, std::string_view name) {
    for (const catalog::Column& c : relation.columns) {
        if (c.name.size() == name.size() && base::equalsIgnoringCase(c.name, name)) return true;
    }
    return false;
}

bool hasColumn(const ScopeRelation& relation, std::string_view name) {
    return std::ranges::any_of(relation.columns,
                               [name](const ScopeColumn& c) { return base::equalsIgnoringCase(c.name, name); });
}

bool isKeyBetween(const ScopeRelation& from, std::string_view column, const ScopeRelation& to,
                  std::string_view referenced) {
    if (from.fact == nullptr || to.fact == nullptr) return false;
    return std::ranges::any_of(from.fact->foreignKeys, [&](const catalog::ForeignKey& key) {
        if (!base::equalsIgnoringCase(key.relation, to.fact->name)) return false;
        for (std::size_t i = 0; i < key.columns.size() && i < key.referencedColumns.size(); ++i) {
            if (base::equalsIgnoringCase(key.columns[i], column) &&
                base::equalsIgnoringCase(key.referencedColumns[i], referenced)) {
                return true;
            }
        }
        return false;
    });
}

RelationChoice::RelationChoice(const catalog::View& catalog, const std::vector<ScopeRelation>& relations,
                               const QueryNames& names)
    : catalog_(catalog), relations_(relations) {
    for (const NamedColumn& named : names.columns) {
        if (open_.size() < kEnough && !isAnswered(named)) open_.push_back(named);
    }
}

/// One look at all names, which lie behind each other: most of them are told apart by their length.
void RelationChoice::findOpen() const {
    hasOpen_.assign(catalog_.relations().size(), 0);
    constexpr std::size_t kLongest = 63;
    std::uint64_t lengths = 0;
    for (const NamedColumn& named : open_) lengths |= 1ULL << std::min(named.column.size(), kLongest);
    const catalog::ColumnNames& names = catalog_.columnNames();
    for (const catalog::ColumnNames::Entry& column : names.entries()) {
        if ((lengths >> std::min<std::size_t>(column.length, kLongest) & 1U) == 0) continue;
        const std::string_view name = names.nameOf(column);
        for (std::size_t i = 0; i < open_.size(); ++i) {
            const bool isIt = open_[i].column.size() == name.size() && base::equalsIgnoringCase(open_[i].column, name);
            if (isIt) hasOpen_[column.relation] |= static_cast<std::uint8_t>(1U << i);
        }
    }
}

RelationChoice::Asked RelationChoice::askedOfPlace(std::size_t place) const {
    if (open_.empty()) return {};
    if (hasOpen_.empty()) findOpen();
    return askedWith(*catalog_.relations()[place], [&](std::size_t i) { return (hasOpen_[place] >> i & 1U) != 0; });
}

bool RelationChoice::isAnswered(const NamedColumn& named) const {
    return std::ranges::any_of(relations_, [&](const ScopeRelation& r) {
        return named.qualifier.empty() ? hasColumn(r, named.column)
                                       : base::equalsIgnoringCase(r.alias, named.qualifier);
    });
}

bool RelationChoice::refersToVisible(const catalog::Relation& candidate) const {
    return std::ranges::any_of(relations_, [&](const ScopeRelation& visible) {
        if (visible.fact == nullptr || visible.fact == &candidate) return false;
        return pointsAt(*visible.fact, candidate) || pointsAt(candidate, *visible.fact);
    });
}

std::vector<int> RelationChoice::guessedWorth() const {
    constexpr std::size_t kMostUntyped = 60;
    constexpr std::size_t kFew = 12;  // where more have the name, nothing is meant
    const auto& relations = catalog_.relations();
    std::vector<int> worth(relations.size());
    std::vector<const catalog::Relation*> meant;
    for (std::size_t i = 0; i < relations.size(); ++i) {
        worth[i] = askedOfPlace(i).worth;
        if (worth[i] >= kAsked) meant.push_back(relations[i]);
    }
    std::set<const catalog::Relation*> near;
    if (meant.size() <= kFew) near = neighboursOf(meant);
    for (std::size_t i = 0; i < relations.size(); ++i) {
        if (worth[i] < kAsked && near.contains(relations[i])) worth[i] += kAsked / 2;
        if (worth[i] == 0 && i >= kMostUntyped) worth[i] = -1;
    }
    return worth;
}

/// What foreign keys lead to from these relations, and what leads to them.
std::set<const catalog::Relation*> RelationChoice::neighboursOf(
    const std::vector<const catalog::Relation*>& meant) const {
    std::set<const catalog::Relation*> near;
    for (const catalog::Relation* one : meant) {
        for (const catalog::ForeignKey& key : one->foreignKeys) near.insert(catalog_.find(key.schema, key.relation));
        for (const catalog::Catalog::Reference& reference : catalog_.referencesTo(*one)) near.insert(reference.from);
    }
    return near;
}

}  // namespace pantry::sql
