#include "core/work/query_proposal.h"

#include <algorithm>

#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/sql/meaning/parameters.h"
#include "core/sql/meaning/statement_title.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"
#include "core/store/grid_choices_file.h"

namespace pantry::work {
namespace {

using sql::NodeKind;

std::uint32_t firstOfKind(const sql::SyntaxTree& tree, NodeKind kind) {
    for (std::uint32_t n = 0; n < tree.nodes.size(); ++n) {
        if (tree.nodes[n].kind == kind) return n;
    }
    return sql::Node::kNone;
}

/// The last part of a name without quotes, an alias without AS; empty for what is neither.
std::string plainName(std::string_view text) {
    if (base::startsWithIgnoringCase(text, "as ")) text = base::trimmed(text.substr(3));
    if (const std::size_t dot = text.rfind('.'); dot != std::string_view::npos) text.remove_prefix(dot + 1);
    const std::string name = sql::unquotedName(text);
    const auto isNameByte = [](char c) {
        return c == '_' || c == ' ' || base::isAsciiDigit(c) ||
               (base::asciiLower(c) >= 'a' && base::asciiLower(c) <= 'z') ||
               (static_cast<unsigned char>(c) & 0x80U) != 0;
    };
    const bool isNumber = std::ranges::all_of(name, base::isAsciiDigit);
    return !isNumber && std::ranges::all_of(name, isNameByte) ? name : std::string();
}

std::string nameOfItem(const sql::SyntaxTree& tree, std::uint32_t item, std::string_view statement) {
    const std::uint32_t alias = tree.childOf(item, NodeKind::Alias);
    return plainName(tree.textOf(tree.nodes[alias == sql::Node::kNone ? item : alias], statement));
}

/// “visits by plot”; empty for a query that does not group.
std::string groupedTitle(std::string_view statement, const sql::SyntaxTree& tree) {
    const std::uint32_t groups = firstOfKind(tree, NodeKind::GroupByClause);
    const std::uint32_t select = firstOfKind(tree, NodeKind::SelectClause);
    if (groups == sql::Node::kNone || select == sql::Node::kNone) return {};
    std::string by;
    for (const std::uint32_t child : tree.childrenOf(groups)) {
        if (by.empty()) by = plainName(tree.textOf(tree.nodes[child], statement));
    }
    std::string what;
    for (const std::uint32_t item : tree.childrenOf(select)) {
        if (tree.nodes[item].kind != NodeKind::SelectItem) continue;
        const std::uint32_t value = tree.nodes[item].firstChild;
        const bool isCounted = value != sql::Node::kNone && tree.nodes[value].kind != NodeKind::Name;
        const std::string name = nameOfItem(tree, item, statement);
        if (isCounted && what.empty()) what = name;
        if (!isCounted && by.empty()) by = name;
    }
    return what.empty() || by.empty() ? std::string() : what + " by " + by;
}

}  // namespace

std::string proposedTitle(std::string_view text, const sql::Language& language) {
    sql::Script script(language);
    script.setText(text);
    std::string title;
    if (!script.statements().empty()) {
        const std::string_view statement = script.textOf(0);
        const sql::SyntaxTree& tree = *script.statements().front().tree;
        if (!tree.isBeyondWalking()) title = groupedTitle(statement, tree);
        if (title.empty()) title = sql::titleOf(statement, tree);
    }
    title = base::oneLine(title, 60);
    std::ranges::replace(title, '_', ' ');
    if (title.empty()) return "Query";
    title[0] = base::asciiUpper(title[0]);
    return title;
}

std::vector<shelf::QueryParameter> headParameters(std::string_view text, const sql::Language& language,
                                                  const catalog::View& catalog, const GivenValue& given) {
    sql::Script script(language);
    script.setText(text);
    std::vector<shelf::QueryParameter> all;
    for (std::size_t i = 0; i < script.statements().size(); ++i) {
        const std::string_view statement = script.textOf(i);
        const sql::SyntaxTree& tree = *script.statements()[i].tree;
        if (tree.isBeyondWalking()) continue;
        for (const sql::StatementParameter& one :
             sql::parametersOf(statement, tree, sql::ScopeFinder(statement, tree, catalog))) {
            const auto isSame = [&](const shelf::QueryParameter& other) { return other.name == one.key; };
            if (std::ranges::any_of(all, isSame)) continue;
            const auto value = base::isSecretName(one.key) ? std::nullopt : given(one.key);
            all.push_back({one.key, one.type, value.value_or(""), value.has_value()});
        }
    }
    return all;
}

std::string firstGridKey(std::string_view text, std::string_view connectionId, const sql::Language& language) {
    constexpr std::size_t kLongestText = 64 * 1024;
    if (text.size() > kLongestText) return {};
    sql::Script script(language);
    script.setText(text);
    return script.statements().empty() ? std::string()
                                       : store::gridKey(connectionId, script.textOf(0), language.dialect);
}

std::string contentToSave(std::string_view text, std::string_view before, const shelf::QueryHead& told) {
    shelf::SavedQuery query = shelf::readQuery(text);
    const shelf::QueryHead older = query.hasHead ? query.head : shelf::readQuery(before).head;
    query.hasHead = true;
    query.head = told;
    const auto orElse = [](std::string& now, const std::string& then) {
        if (now.empty()) now = then;
    };
    orElse(query.head.title, older.title);
    orElse(query.head.note, older.note);
    orElse(query.head.connection, older.connection);
    orElse(query.head.grid, older.grid);
    if (query.head.others.empty()) query.head.others = older.others;
    for (shelf::QueryParameter& one : query.head.parameters) {
        const auto old =
            std::ranges::find_if(older.parameters, [&](const auto& other) { return other.name == one.name; });
        if (old == older.parameters.end()) continue;
        orElse(one.type, old->type);
        if (one.hasValue || !old->hasValue) continue;
        one.value = old->value;
        one.hasValue = true;
    }
    if (!query.text.empty() && !query.text.ends_with('\n')) query.text += '\n';
    return shelf::writeQuery(query);
}

}  // namespace pantry::work
