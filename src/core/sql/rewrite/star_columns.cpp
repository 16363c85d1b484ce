#include "core/sql/rewrite/star_columns.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

bool isOfSelectList(const RewritePlace& place, std::uint32_t star) {
    const NodeKind around = place.kindOf(place.at(star).parent);
    return around == NodeKind::SelectItem || around == NodeKind::ReturningClause;
}

std::uint32_t starAt(const RewritePlace& place) {
    std::uint32_t nearest = place.around({NodeKind::Star});
    if (nearest != Node::kNone && isOfSelectList(place, nearest)) return nearest;
    const std::uint32_t query = place.around({NodeKind::SelectCore, NodeKind::ReturningClause});
    std::uint32_t first = Node::kNone;
    for (const std::uint32_t star : place.within(0, NodeKind::Star)) {
        if (!isOfSelectList(place, star)) continue;
        if (place.upFrom(star, {NodeKind::SelectCore, NodeKind::ReturningClause}) == query) return star;
        if (first == Node::kNone) first = star;
    }
    return first;
}

/// Whether USING or NATURAL has made one column of this name out of several.
bool isShared(const std::vector<const ScopeRelation*>& relations, std::string_view name) {
    return std::ranges::any_of(relations, [&](const ScopeRelation* relation) {
        return std::ranges::any_of(relation->columns, [&](const ScopeColumn& c) {
            return c.isMerged && base::equalsIgnoringCase(c.name, name);
        });
    });
}

}  // namespace

Result<StarColumns> starColumnsAt(const RewritePlace& place) {
    StarColumns found{.node = starAt(place)};
    if (found.node == Node::kNone) return cannotRewrite("The query at the cursor has no * in its select list.");
    const Dialect dialect = place.tree.language.dialect;
    const std::vector<std::uint32_t> qualifier = place.names.partsOf(found.node);
    const bool isBare = qualifier.empty();
    std::vector<const ScopeRelation*> meant;
    for (const ScopeRelation& relation : place.scope.relationsAt(place.at(found.node).firstToken)) {
        if (relation.level != 0) continue;
        const bool fits =
            isBare || base::equalsIgnoringCase(relation.alias, unquotedName(place.tokenText(qualifier.back())));
        if (fits) meant.push_back(&relation);
    }
    if (meant.empty())
        return cannotRewrite("Nothing is known that this * could stand for.", "Name a table in FROM first.");
    std::vector<StarColumn> shared;
    for (const ScopeRelation* relation : meant) {
        if (!relation->isKnown) {
            return cannotRewrite(fmt::format("The columns of {} are not known.", relation->alias),
                                 "Refresh the catalog (F5) if it was made a moment ago.");
        }
        for (const ScopeColumn& column : relation->columns) {
            if (column.isMerged && isBare) continue;
            const bool isOne = isBare && isShared(meant, column.name);
            const bool isPlain = isOne || (isBare && meant.size() == 1);
            const std::string name = quotedName(column.name, dialect);
            StarColumn one{isPlain ? name : quotedName(relation->alias, dialect) + "." + name, column.name, column.type,
                           relation->alias};
            (isOne ? shared : found.columns).push_back(std::move(one));
        }
    }
    // Columns that several relations share come first, as SQL has it.
    found.columns.insert(found.columns.begin(), shared.begin(), shared.end());
    found.range = {place.startOf(found.node), place.endOf(found.node) - place.startOf(found.node)};
    return found;
}

Result<StarColumns> starColumnsAt(const Script& script, const catalog::View& catalog, std::size_t caret) {
    const std::optional<std::size_t> statement = script.indexAt(caret);
    if (!statement) return cannotRewrite("There is no statement at the cursor.");
    const RewriteWish wish{.caret = caret};
    const RewritePlace place(script, *statement, catalog, wish);
    Result<StarColumns> found = starColumnsAt(place);
    if (found) found->range.start += script.statements()[*statement].span.start;
    return found;
}

}  // namespace pantry::sql
