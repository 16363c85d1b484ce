#include <fmt/format.h>

#include <algorithm>
#include <span>

#include "core/base/text.h"
#include "core/sql/rewrite/rewritings.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// The text within the brackets around the query of a subquery or common table, its comments with it.
std::string innerText(const RewritePlace& place, std::uint32_t bracketed) {
    const auto isQuery = [&](std::uint32_t child) { return place.kindOf(child) != NodeKind::ColumnList; };
    const std::vector<std::uint32_t> parts = place.tree.childrenOf(bracketed);
    const auto query = std::ranges::find_if(parts, isQuery);
    if (query == parts.end()) return {};
    std::uint32_t open = place.at(*query).firstToken;
    while (open > 0 && place.tree.tokens[open - 1].kind != TokenKind::OpenParen) --open;
    std::uint32_t close = place.at(*query).endToken;
    while (close < place.tree.tokens.size() && place.tree.tokens[close].kind != TokenKind::CloseParen) ++close;
    const std::size_t start = place.tree.tokens[open].start;
    const std::size_t end = close < place.tree.tokens.size() ? place.tree.tokens[close].start : place.text.size();
    return std::string(base::trimmed(place.text.substr(start, end - start)));
}

/// Whether a query in brackets asks for columns of the query around it, so that it cannot stand elsewhere.
bool looksOutside(const RewritePlace& place, std::uint32_t bracketed) {
    const Node& whole = place.at(bracketed);
    for (const NodeKind kind : {NodeKind::Name, NodeKind::Star}) {
        for (const std::uint32_t name : place.within(bracketed, kind)) {
            const std::vector<std::uint32_t> parts = place.names.partsOf(name);
            if (parts.empty()) continue;
            const std::optional<NameUses> uses = place.names.usesOf(parts.front());
            if (!uses || !uses->relation || uses->relation->node == Node::kNone) continue;
            const Node& relation = place.at(uses->relation->node);
            if (relation.firstToken < whole.firstToken || relation.endToken > whole.endToken) return true;
        }
    }
    return false;
}

/// The outermost query around a node, before which WITH stands.
std::uint32_t outermostQuery(const RewritePlace& place, std::uint32_t node) {
    std::uint32_t found = Node::kNone;
    for (; node != Node::kNone; node = place.at(node).parent) {
        if (place.kindOf(node) == NodeKind::Query) found = node;
        if (place.kindOf(node) == NodeKind::CommonTable) found = Node::kNone;  // what is within goes before its list
    }
    return found;
}

/// Makes a common table out of a query, as the last one before the query around it.
TextEdit addCommonTable(const RewritePlace& place, std::uint32_t query, std::uint32_t subquery, const std::string& name,
                        const std::string& inner) {
    const std::uint32_t with = place.tree.childOf(query, NodeKind::WithClause);
    const std::string made = name + " " + place.words("AS") + " (\n" + inner + "\n)";
    if (with == Node::kNone) return {place.startOf(query), 0, place.words("WITH") + " " + made + "\n"};
    // In front of the table whose query it was within, which may use it, else behind all.
    for (const std::uint32_t table : place.tree.childrenOf(with)) {
        const bool isAround =
            place.startOf(table) <= place.startOf(subquery) && place.endOf(subquery) <= place.endOf(table);
        if (isAround) return {place.startOf(table), 0, made + ",\n"};
    }
    return {place.endOf(with), 0, ",\n" + made};
}

std::vector<TextRange> rangesOf(const std::string& text, std::initializer_list<std::size_t> starts,
                                std::size_t length) {
    std::vector<TextRange> ranges;
    for (const std::size_t start : starts) {
        if (start + length <= text.size()) ranges.push_back({start, length});
    }
    return ranges;
}

/// A common table of a statement and the places that read from it.
struct CommonTableUse {
    std::uint32_t table = Node::kNone;
    std::vector<std::uint32_t> readers;  ///< TableName nodes
};

std::optional<CommonTableUse> commonTableAt(const RewritePlace& place) {
    const auto token = place.names.nameTokenAt(place.caret);
    std::optional<NameUses> uses = token ? place.names.usesOf(*token) : std::nullopt;
    if (!uses || uses->kind != NameUses::Kind::CommonTable) {
        const std::uint32_t around = place.around({NodeKind::CommonTable});
        if (around != Node::kNone) uses = place.names.usesOf(place.at(around).firstToken);
    }
    if (!uses || uses->kind != NameUses::Kind::CommonTable) return std::nullopt;
    CommonTableUse found{.table = place.tree.nodeAt(uses->madeAt)};
    for (const std::uint32_t at : uses->tokens) {
        const std::uint32_t parent = place.at(place.tree.nodeAt(at)).parent;
        if (at != uses->madeAt && place.kindOf(parent) == NodeKind::TableName) found.readers.push_back(parent);
    }
    return found;
}

/// Whether a common table asks for rows and changes none.
bool isPlainQuery(const RewritePlace& place, std::uint32_t table) {
    return place.tree.childOf(table, NodeKind::Query) != Node::kNone;
}

/// Takes a common table out of its list, and the list with it when it was the only one.
TextEdit removeCommonTable(const RewritePlace& place, std::uint32_t table) {
    const std::uint32_t with = place.at(table).parent;
    const std::vector<std::uint32_t> tables = place.tree.childrenOf(with);
    const auto at = static_cast<std::size_t>(std::ranges::find(tables, table) - tables.begin());
    if (tables.size() == 1) {
        std::size_t end = place.endOf(with);
        while (end < place.text.size() && base::isAsciiBlank(place.text[end])) ++end;
        return {place.startOf(with), end - place.startOf(with), {}};
    }
    const bool isLast = at + 1 == tables.size();
    const std::size_t start = isLast ? place.endOf(tables[at - 1]) : place.startOf(table);
    const std::size_t end = isLast ? place.endOf(table) : place.startOf(tables[at + 1]);
    return {start, end - start, {}};
}

bool isCondition(const RewritePlace& place, std::uint32_t node) {
    return place.kindOf(node) == NodeKind::OnCondition || place.kindOf(node) == NodeKind::UsingColumns;
}

/// Whether the condition of a join stands behind a later join: a JOIN b JOIN c ON … ON …
bool awaitsCondition(const RewritePlace& place, std::uint32_t join) {
    if (place.kindOf(join) != NodeKind::Join) return false;
    const Node& whole = place.at(join);
    const auto needsNone = [](const Token& t) { return t.is(Keyword::Cross) || t.is(Keyword::Natural); };
    const auto tokens = std::span(place.tree.tokens).subspan(whole.firstToken, whole.endToken - whole.firstToken);
    return !isCondition(place, place.tree.childrenOf(join).back()) && std::ranges::none_of(tokens, needsNone);
}

}  // namespace

Result<Rewritten> subqueryToCommonTable(const RewritePlace& place) {
    const std::uint32_t subquery = place.around({NodeKind::DerivedTable, NodeKind::Subquery});
    if (subquery == Node::kNone) return cannotRewrite("There is no subquery at the cursor.");
    if (looksOutside(place, subquery)) {
        return cannotRewrite("This subquery uses columns of the query around it, so that it cannot stand before it.");
    }
    const std::uint32_t query = outermostQuery(place, subquery);
    if (query == Node::kNone || place.startOf(query) >= place.startOf(subquery)) {
        return cannotRewrite("Only a subquery of a query can become a common table.");
    }
    const bool isRelation = place.kindOf(subquery) == NodeKind::DerivedTable;
    const std::uint32_t alias = isRelation ? place.tree.childOf(subquery, NodeKind::Alias) : Node::kNone;
    const std::string inner =
        innerText(place, isRelation ? place.tree.childOf(subquery, NodeKind::ParenQuery) : subquery);
    std::string name = place.freeName("part");
    std::string columns;
    if (alias != Node::kNone) {
        const std::vector<std::uint32_t> parts = place.names.partsOf(alias);
        const std::size_t at = place.tree.tokens[parts.front()].is(Keyword::As) ? 1 : 0;
        if (at < parts.size()) name = place.tokenText(parts[at]);
        const std::uint32_t list = place.tree.childOf(alias, NodeKind::ColumnList);
        if (list != Node::kNone) columns = " " + std::string(place.textOf(list));
    }
    Rewritten out;
    out.edits.push_back(addCommonTable(place, query, subquery, name + columns, inner));
    const std::string reading =
        isRelation ? name : "(" + place.words("SELECT") + " * " + place.words("FROM") + " " + name + ")";
    out.edits.push_back(place.replace(subquery, reading));
    if (alias == Node::kNone) {
        // The name is ours: it is to be replaced by a better one, in both places.
        const std::string& made = out.edits[0].text;
        const std::size_t first = out.edits[0].start + made.find(name);
        const std::size_t second = out.edits[1].start + made.size() + reading.find(name);
        out.places =
            rangesOf(std::string(place.text.size() + made.size() + reading.size(), ' '), {first, second}, name.size());
    }
    return out;
}

Result<Rewritten> commonTableToSubquery(const RewritePlace& place) {
    const auto found = commonTableAt(place);
    if (!found) return cannotRewrite("There is no common table at the cursor.", "Put the cursor on its name.");
    const std::string name(place.tokenText(place.at(found->table).firstToken));
    if (found->readers.empty()) return cannotRewrite(fmt::format("Nothing reads from {}.", name));
    const Node& table = place.at(found->table);
    const bool readsItself = std::ranges::any_of(found->readers, [&](std::uint32_t reader) {
        return table.firstToken <= place.at(reader).firstToken && place.at(reader).endToken <= table.endToken;
    });
    if (readsItself) return cannotRewrite(fmt::format("{} reads from itself; a subquery cannot.", name));
    if (!isPlainQuery(place, found->table)) {
        return cannotRewrite(fmt::format("{} changes rows; only a query can be a subquery.", name));
    }
    const std::uint32_t list = place.tree.childOf(found->table, NodeKind::ColumnList);
    const bool takesColumns = place.tree.language.dialect == Dialect::Postgres;
    if (list != Node::kNone && !takesColumns) {
        return cannotRewrite(fmt::format("{} names its columns before AS, which a subquery cannot here.", name),
                             "Name them in its select list first.");
    }
    const std::string columns = list == Node::kNone ? std::string() : " " + std::string(place.textOf(list));
    const std::string inner = "(" + innerText(place, found->table) + ")";
    Rewritten out;
    out.edits.push_back(removeCommonTable(place, found->table));
    for (const std::uint32_t reader : found->readers) {
        const std::uint32_t alias = place.tree.childOf(reader, NodeKind::Alias);
        const std::string called =
            alias == Node::kNone ? place.words("AS") + " " + name : std::string(place.textOf(alias));
        out.edits.push_back(place.replace(reader, inner + " " + called + columns));
    }
    std::ranges::sort(out.edits, {}, &TextEdit::start);
    return out;
}

Result<Rewritten> swapJoin(const RewritePlace& place) {
    std::uint32_t join = place.around({NodeKind::Join});
    const std::vector<std::uint32_t> all = place.within(0, NodeKind::Join);
    if (join == Node::kNone && all.size() == 1) join = all.front();  // no other can be meant
    if (join == Node::kNone) return cannotRewrite("There is no join at the cursor.");
    const std::vector<std::uint32_t> parts = place.tree.childrenOf(join);
    if (parts.size() < 2) return cannotRewrite("This join has only one side yet.");
    if (isCondition(place, parts[1]) || awaitsCondition(place, parts[0])) {
        return cannotRewrite("The conditions of these joins stand behind both.", "Put each behind its own join first.");
    }
    const Node& left = place.at(parts[0]);
    const Node& right = place.at(parts[1]);
    std::string text;
    for (std::uint32_t i = left.endToken; i < right.firstToken; ++i) {
        const Token& token = place.tree.tokens[i];
        if (token.is(Keyword::Lateral) || token.is(Keyword::StraightJoin)) {
            return cannotRewrite("The right side of this join depends on the left one.");
        }
        std::string word(token.textIn(place.text));
        const bool isSmall = base::toLower(word) == word;
        if (token.is(Keyword::Left)) word = isSmall ? "right" : "RIGHT";
        if (token.is(Keyword::Right)) word = isSmall ? "left" : "LEFT";
        text += word;
    }
    if (place.tree.tokens[right.firstToken].is(Keyword::Lateral)) {
        return cannotRewrite("The right side of this join depends on the left one.");
    }
    const bool isChain = place.kindOf(parts[0]) == NodeKind::Join;
    const std::string before = std::string(place.textOf(parts[0]));
    const std::string swapped = std::string(place.textOf(parts[1])) + text + (isChain ? "(" + before + ")" : before);
    const std::size_t start = place.startOf(parts[0]);
    return Rewritten{.edits = {{start, place.endOf(parts[1]) - start, swapped}}, .places = {}, .value = {}};
}

Result<Rewritten> wrapInCount(const RewritePlace& place) {
    const bool isQuery = place.tree.kind == StatementKind::Select || place.tree.kind == StatementKind::Values;
    if (!isQuery || place.tree.childOf(0, NodeKind::Query) == Node::kNone) {
        return cannotRewrite("Only a query has rows to count.");
    }
    const std::string name = place.freeName("counted");
    const std::uint32_t query = place.tree.childOf(0, NodeKind::Query);
    const std::string before = place.words("SELECT count(*) FROM (\n");
    const std::string behind = "\n) " + place.words("AS") + " " + name;
    return Rewritten{
        .edits = {{place.startOf(query), 0, before}, {place.endOf(query), 0, behind}}, .places = {}, .value = {}};
}

}  // namespace pantry::sql
