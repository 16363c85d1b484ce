#pragma once

#include <algorithm>
#include <cstdint>
#include <set>
#include <string_view>
#include <vector>

#include "core/base/text.h"
#include "core/catalog/catalog_view.h"
#include "core/sql/complete/name_match.h"
#include "core/sql/complete/query_names.h"
#include "core/sql/meaning/scope.h"

namespace pantry::sql {

/// Whether a relation has a column of this name, in whatever case. Asked of every relation of a database, most of which
/// have none.
[[nodiscard]] bool hasColumn(const catalog::Relation& relation, std::string_view name);
[[nodiscard]] bool hasColumn(const ScopeRelation& relation, std::string_view name);

/// Whether a foreign key leads from a column to another one.
[[nodiscard]] bool isKeyBetween(const ScopeRelation& from, std::string_view column, const ScopeRelation& to,
                                std::string_view referenced);

/// Which relations a query is about, judged by the columns that it names and that no relation of it answers yet, by the
/// short names that it uses, and by foreign keys.
///
/// Lifetime: views the catalog, the relations and the names. Threads: one at a time.
class RelationChoice {
public:
    static constexpr int kRelated = 90;  ///< a foreign key leads there
    static constexpr int kAsked = 60;    ///< it has a column that the query names

    RelationChoice(const catalog::View& catalog, const std::vector<ScopeRelation>& relations, const QueryNames& names);

    /// How much a relation is what the query means by names that nothing answers yet, and the alias it has there.
    struct Asked {
        int worth = 0;
        std::string_view alias;
    };
    template <class Relation>
    [[nodiscard]] Asked askedOf(const Relation& relation) const;

    /// The same of a relation of the catalog, by its place there: of all of them in turn that takes far less time.
    [[nodiscard]] Asked askedOfPlace(std::size_t place) const;

    /// How well a relation could be what the query calls so: by its name, and by the columns that the query names of
    /// it.
    template <class Relation>
    [[nodiscard]] int qualifierFit(std::string_view qualifier, const Relation& relation) const;

    /// Whether a foreign key leads from a relation of this query to `candidate`, or back.
    [[nodiscard]] bool refersToVisible(const catalog::Relation& candidate) const;

    /// How much speaks for each relation of the catalog being what the query is about, before FROM has said so: the
    /// columns that it names, and keys between those that have them. Less than nothing for those that nobody would look
    /// at where nothing was typed: there are very many, and nothing speaks for them.
    [[nodiscard]] std::vector<int> guessedWorth() const;

private:
    [[nodiscard]] bool isAnswered(const NamedColumn& named) const;
    [[nodiscard]] std::set<const catalog::Relation*> neighboursOf(
        const std::vector<const catalog::Relation*>& meant) const;

    template <class Relation, class HasOpen>
    [[nodiscard]] Asked askedWith(const Relation& relation, const HasOpen& hasOpen) const;
    template <class Relation, class HasOpen>
    [[nodiscard]] int fitWith(std::string_view qualifier, const Relation& relation, const HasOpen& hasOpen) const;
    void findOpen() const;

    static constexpr int kAskedMost = 240;
    static constexpr std::size_t kEnough = 8;  // open names tell a relation from thousands of others

    const catalog::View& catalog_;
    const std::vector<ScopeRelation>& relations_;
    std::vector<NamedColumn> open_;  // those that no relation answers yet
    /// For each relation of the catalog a bit for each open name that it has as a column; made when first asked for.
    mutable std::vector<std::uint8_t> hasOpen_;
};

template <class Relation>
RelationChoice::Asked RelationChoice::askedOf(const Relation& relation) const {
    return askedWith(relation, [&](std::size_t i) { return hasColumn(relation, open_[i].column); });
}

template <class Relation>
int RelationChoice::qualifierFit(std::string_view qualifier, const Relation& relation) const {
    return fitWith(qualifier, relation, [&](std::size_t i) { return hasColumn(relation, open_[i].column); });
}

template <class Relation, class HasOpen>
RelationChoice::Asked RelationChoice::askedWith(const Relation& relation, const HasOpen& hasOpen) const {
    Asked asked;
    int best = 0;
    for (std::size_t i = 0; i < open_.size(); ++i) {
        const NamedColumn& named = open_[i];
        if (named.qualifier.empty()) {
            if (hasOpen(i)) asked.worth += kAsked;
            continue;
        }
        const int fit = fitWith(named.qualifier, relation, hasOpen);
        if (fit <= best) continue;
        best = fit;
        const bool isItsOwn = base::equalsIgnoringCase(named.qualifier, relation.name);
        const bool isShortForIt = !isItsOwn && aliasFit(named.qualifier, relation.name) > 0;
        asked.alias = isShortForIt ? std::string_view(named.qualifier) : std::string_view();
    }
    asked.worth = std::min(asked.worth + best, kAskedMost);
    return asked;
}

template <class Relation, class HasOpen>
int RelationChoice::fitWith(std::string_view qualifier, const Relation& relation, const HasOpen& hasOpen) const {
    int columns = 0;
    for (std::size_t i = 0; i < open_.size(); ++i) {
        if (!base::equalsIgnoringCase(open_[i].qualifier, qualifier)) continue;
        if (!hasOpen(i)) return 0;
        columns += kAsked;
    }
    const int fit = aliasFit(qualifier, relation.name);
    return fit + (fit > 0 ? columns : columns / 2);
}

}  // namespace pantry::sql
