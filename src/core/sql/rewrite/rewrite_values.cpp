#include <algorithm>

#include "core/base/text.h"
#include "core/sql/meaning/parameters.h"
#include "core/sql/rewrite/rewritings.h"

namespace pantry::sql {

Result<Rewritten> literalToParameter(const RewritePlace& place) {
    const std::uint32_t literal = place.around({NodeKind::Literal});
    if (literal == Node::kNone) {
        return cannotRewrite("There is no value at the cursor.", "Put the cursor into a text or a number.");
    }
    const Token& token = place.tree.tokens[place.at(literal).firstToken];
    const bool isValue = token.kind == TokenKind::String || token.kind == TokenKind::Number;
    if (!isValue) return cannotRewrite("Only a text or a number becomes a parameter.");
    const std::uint32_t compared = comparedColumn(place.tree, literal);
    const std::string wanted =
        compared == Node::kNone ? "value" : base::toLower(place.scope.nameParts(compared).back());
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
