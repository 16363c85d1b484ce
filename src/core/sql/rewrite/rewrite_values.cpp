#include <algorithm>

#include "core/base/text.h"
#include "core/sql/meaning/parameters.h"
#include "core/sql/rewrite/rewritings.h"

namespace pantry::sql {
namespace {

/// Why no engine takes a parameter at a place where it takes a literal; empty when one is taken.
std::string_view whyNoParameter(const RewritePlace& place, std::uint32_t literal) {
    const StatementEffect effect = effectOf(place.tree.kind);
    if (effect != StatementEffect::Reads && effect != StatementEffect::Writes && place.tree.kind != StatementKind::Call)
        return "A parameter stands only in a query, a change or a call.";
    // TOP n, the precision of a type, the text of an interval: part of the statement, as its keywords are.
    if (place.kindOf(place.at(literal).parent) == NodeKind::SelectClause) return "Behind TOP stands no parameter.";
    if (place.upFrom(literal, {NodeKind::Subscript, NodeKind::ArrayLiteral}) != Node::kNone)
        return "Within square brackets a colon is part of a range, so that no parameter can stand there.";
    return {};
}

}  // namespace

Result<Rewritten> literalToParameter(const RewritePlace& place) {
    const std::uint32_t literal = place.around({NodeKind::Literal});
    if (literal == Node::kNone) {
        return cannotRewrite("There is no value at the cursor.", "Put the cursor into a text or a number.");
    }
    const Token& token = place.tree.tokens[place.at(literal).firstToken];
    const bool isValue = token.kind == TokenKind::String || token.kind == TokenKind::Number;
    if (!isValue) return cannotRewrite("Only a text or a number becomes a parameter.");
    if (const std::string_view why = whyNoParameter(place, literal); !why.empty()) {
        return cannotRewrite(std::string(why));
    }
    const std::uint32_t compared = comparedColumn(place.tree, literal);
    const std::string wanted = compared == Node::kNone ? "value" : base::toLower(place.scope.lastPart(compared));
    const bool isPlain =
        std::ranges::all_of(wanted, [](char c) { return c == '_' || base::isAsciiDigit(c) || (c >= 'a' && c <= 'z'); });
    std::string name(isPlain && !wanted.empty() && !base::isAsciiDigit(wanted[0]) ? wanted : "value");
    const auto isUsed = [&](const std::string& one) {
        return std::ranges::any_of(place.tree.tokens, [&](const Token& t) {
            return t.kind == TokenKind::Parameter && t.textIn(place.text) == ":" + one;
        });
    };
    const std::string stem = name;
    for (int i = 2; isUsed(name); ++i) name = stem + "_" + std::to_string(i);
    Rewritten out{.edits = {place.replace(literal, ":" + name)}, .places = {}, .value = {}};
    out.value = Rewritten::Value{name, valueOfLiteral(place.textOf(literal))};
    return out;
}

}  // namespace pantry::sql
