#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/sql/rewrite/rewritings.h"
#include "core/sql/rewrite/star_columns.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::size_t kLineWidth = 100;  // characters; a longer list goes on in the next line

/// Names with commas between them, in lines that begin where the first one does.
std::string listed(const std::vector<std::string_view>& names, std::size_t column) {
    std::string out;
    std::size_t used = column;
    for (const std::string_view name : names) {
        const std::size_t width = base::codePointCount(name) + 2;
        if (!out.empty()) {
            const bool isFull = used + width > kLineWidth;
            out += isFull ? ",\n" + std::string(column, ' ') : ", ";
            if (isFull) used = column;
        }
        out += name;
        used += width;
    }
    return out;
}

/// A select item that is a column and nothing else.
struct PlainItem {
    std::uint32_t node = Node::kNone;
    const ScopeRelation* relation = nullptr;
    std::string column;
};

std::vector<PlainItem> plainItems(const RewritePlace& place, std::uint32_t list) {
    std::vector<PlainItem> items;
    for (const std::uint32_t item : place.tree.childrenOf(list)) {
        PlainItem one{.node = item};
        const std::vector<std::uint32_t> parts = place.tree.childrenOf(item);
        if (parts.size() == 1 && place.kindOf(parts[0]) == NodeKind::Name) {
            const Resolution found = place.scope.resolve(parts[0]);
            if (found.kind == Resolution::Kind::Column && found.relation->level == 0) {
                one.relation = found.relation;
                one.column = found.column->name;
            }
        }
        items.push_back(std::move(one));
    }
    return items;
}

/// How many items from `from` on are exactly the columns of a relation; 0 when they are not.
std::size_t runOf(const std::vector<PlainItem>& items, std::size_t from, const ScopeRelation& relation) {
    if (!relation.isKnown || relation.columns.empty() || from + relation.columns.size() > items.size()) return 0;
    for (std::size_t i = 0; i < relation.columns.size(); ++i) {
        const PlainItem& item = items[from + i];
        const bool isIt = item.relation != nullptr && item.relation->node == relation.node &&
                          base::equalsIgnoringCase(item.column, relation.columns[i].name);
        if (!isIt) return 0;
    }
    return relation.columns.size();
}

TextEdit replaceItems(const RewritePlace& place, const std::vector<PlainItem>& items, std::size_t from,
                      std::size_t count, std::string with) {
    const std::size_t start = place.startOf(items[from].node);
    return {start, place.endOf(items[from + count - 1].node) - start, std::move(with)};
}

/// Whether a column may have its relation written before it here: not where a statement names what it sets.
bool takesQualifier(const RewritePlace& place, std::uint32_t name) {
    const std::uint32_t parent = place.at(name).parent;
    if (place.kindOf(parent) == NodeKind::Assignment) return place.at(parent).firstChild != name;
    return place.upFrom(name, {NodeKind::ConflictClause, NodeKind::UsingColumns, NodeKind::InsertTarget}) ==
           Node::kNone;
}

}  // namespace

Result<Rewritten> unfoldStar(const RewritePlace& place) {
    Result<StarColumns> star = starColumnsAt(place);
    if (!star) return star.error();
    std::vector<std::string_view> names;
    for (std::size_t i = 0; i < star->columns.size(); ++i) {
        const bool isWanted =
            !place.wish.columns || std::ranges::find(*place.wish.columns, i) != place.wish.columns->end();
        if (isWanted) names.push_back(star->columns[i].text);
    }
    if (names.empty()) return cannotRewrite("No column is left.", "Choose at least one.");
    const std::size_t column = place.columnOf(star->range.start);
    return Rewritten{.edits = {place.replace(star->range, listed(names, column))}, .places = {}, .value = {}};
}

Result<Rewritten> foldColumns(const RewritePlace& place) {
    const std::uint32_t core = place.around({NodeKind::SelectCore});
    const std::uint32_t list = core == Node::kNone ? core : place.tree.childOf(core, NodeKind::SelectClause);
    if (list == Node::kNone) return cannotRewrite("There is no select list at the cursor.");
    const std::vector<PlainItem> items = plainItems(place, list);
    const auto& visible = place.scope.relationsAt(place.at(list).firstToken);
    std::vector<const ScopeRelation*> relations;
    for (const ScopeRelation& relation : visible) {
        if (relation.level == 0) relations.push_back(&relation);
    }
    Rewritten out;
    for (std::size_t i = 0; i < items.size();) {
        std::size_t taken = 0;
        for (const ScopeRelation* relation : relations) {
            taken = runOf(items, i, *relation);
            if (taken == 0) continue;
            const bool isAll = relations.size() == 1;
            const std::string qualifier = quotedName(relation->alias, place.tree.language.dialect);
            out.edits.push_back(replaceItems(place, items, i, taken, isAll ? "*" : qualifier + ".*"));
            break;
        }
        i += std::max<std::size_t>(taken, 1);
    }
    if (out.edits.empty()) {
        return cannotRewrite("No relation has all of its columns in this select list, in their order.");
    }
    return out;
}

Result<Rewritten> qualifyColumns(const RewritePlace& place) {
    Rewritten out;
    for (const std::uint32_t name : place.within(0, NodeKind::Name)) {
        const std::vector<std::uint32_t> parts = place.names.partsOf(name);
        const NodeKind around = place.kindOf(place.at(name).parent);
        const bool isColumn = around != NodeKind::Call && around != NodeKind::TypeName &&
                              around != NodeKind::TableName && around != NodeKind::FunctionTable;
        if (parts.size() != 1 || !isColumn || !takesQualifier(place, name)) continue;
        const Resolution found = place.scope.resolve(name);
        const bool isOfRelation = place.names.kindAt(parts.front()) == NameUses::Kind::Column;
        if (!isOfRelation || found.relation == nullptr || found.relation->alias.empty()) continue;
        const auto& visible = place.scope.relationsAt(place.at(name).firstToken);
        const bool isShared = std::ranges::any_of(visible, [&](const ScopeRelation& r) {
            return std::ranges::any_of(r.columns, [&](const ScopeColumn& c) {
                return c.isMerged && r.level == found.relation->level &&
                       base::equalsIgnoringCase(c.name, found.column->name);
            });
        });
        if (isShared) continue;
        const std::string qualifier = quotedName(found.relation->alias, place.tree.language.dialect) + ".";
        out.edits.push_back({place.startOf(name), 0, qualifier});
    }
    if (out.edits.empty()) return cannotRewrite("Every column of this statement that is known is qualified.");
    return out;
}

Result<Rewritten> addAs(const RewritePlace& place) {
    Rewritten out;
    for (const std::uint32_t alias : place.within(0, NodeKind::Alias)) {
        const Token& first = place.tree.tokens[place.at(alias).firstToken];
        if (first.is(Keyword::As)) continue;
        out.edits.push_back({first.start, 0, place.words("AS") + " "});
    }
    if (out.edits.empty()) return cannotRewrite("Every alias of this statement has its AS.");
    return out;
}

}  // namespace pantry::sql
