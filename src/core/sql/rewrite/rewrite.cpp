#include "core/sql/rewrite/rewrite.h"

#include <algorithm>
#include <array>

#include "core/sql/rewrite/rewrite_place.h"
#include "core/sql/rewrite/rewritings.h"

namespace pantry::sql {
namespace {

using Change = Result<Rewritten> (*)(const RewritePlace&);

constexpr std::array kTable{
    Rewriting{"unfold-star", "Writes the columns that * stands for", true},
    Rewriting{"fold-columns", "Writes * in place of all columns of a relation", true},
    Rewriting{"qualify-columns", "Writes before each column the relation that it is from", true},
    Rewriting{"add-as", "Writes AS before every alias"},
    Rewriting{"subquery-to-common-table", "Puts a subquery before the query, under a name"},
    Rewriting{"common-table-to-subquery", "Puts a common table where it is read"},
    Rewriting{"swap-join", "Exchanges the sides of a join"},
    Rewriting{"wrap-in-count", "Counts the rows of the query"},
    Rewriting{"literal-to-parameter", "Writes a parameter in place of a value"},
};
constexpr std::array<Change, kTable.size()> kChanges{
    unfoldStar, foldColumns, qualifyColumns,     addAs, subqueryToCommonTable, commonTableToSubquery,
    swapJoin,   wrapInCount, literalToParameter,
};

}  // namespace

std::span<const Rewriting> rewritings() { return kTable; }

Result<Rewritten> rewrite(std::string_view id, const Script& script, const catalog::View& catalog,
                          const RewriteWish& wish) {
    const auto known = std::ranges::find(kTable, id, &Rewriting::id);
    if (known == kTable.end()) {
        return Error{.kind = ErrorKind::Internal, .message = "No way of rewriting is called " + std::string(id) + "."};
    }
    const std::optional<std::size_t> statement = script.indexAt(wish.caret);
    if (!statement) return cannotRewrite("There is no statement at the cursor.");
    const RewritePlace place(script, *statement, catalog, wish);
    if (place.tree.isBeyondWalking()) return cannotRewrite("This statement is nested too deeply.");
    Result<Rewritten> out = cannotRewrite("");
    place.tree.visit([&] { out = kChanges[static_cast<std::size_t>(known - kTable.begin())](place); });
    if (!out) return out;
    const std::size_t base = script.statements()[*statement].span.start;
    for (TextEdit& edit : out->edits) edit.start += base;
    for (TextRange& range : out->places) range.start += base;
    return out;
}

}  // namespace pantry::sql
