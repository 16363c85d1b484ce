#include "core/sql/define/same_parts.h"

#include <string>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// The tokens of an expression as they mean: names without quotes, words in small letters, no outer brackets.
std::vector<std::string> meaningOf(std::string_view expression, Dialect dialect) {
    std::vector<std::string> tokens;
    for (const Token& token : lex(expression, dialect)) {
        if (token.isTrivia()) continue;
        const std::string_view text = token.textIn(expression);
        const bool isName = token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName;
        tokens.push_back(isName ? base::toLower(unquotedName(text)) : std::string(text));
    }
    const auto isWrapped = [&] {
        if (tokens.size() < 2 || tokens.front() != "(" || tokens.back() != ")") return false;
        std::size_t depth = 0;
        for (std::size_t i = 0; i + 1 < tokens.size(); ++i) {
            if (tokens[i] == "(") ++depth;
            if (tokens[i] == ")" && --depth == 0) return false;
        }
        return true;
    };
    while (isWrapped()) {
        tokens.pop_back();
        tokens.erase(tokens.begin());
    }
    return tokens;
}

/// 'new'::text says what 'new' says.
std::vector<std::string> withoutCast(std::vector<std::string> tokens) {
    const auto cast = std::ranges::find(tokens, "::");
    if (cast != tokens.end() && std::distance(tokens.begin(), cast) == 1) tokens.erase(cast, tokens.end());
    return tokens;
}

}  // namespace

bool SameParts::expressions(std::string_view a, std::string_view b) const {
    return a == b || withoutCast(meaningOf(a, dialect_)) == withoutCast(meaningOf(b, dialect_));
}

bool SameParts::columns(const catalog::Column& a, const catalog::Column& b) const {
    return base::equalsIgnoringCase(a.typeName, b.typeName) && a.isNullable == b.isNullable &&
           a.isGenerated == b.isGenerated && a.defaultValue.has_value() == b.defaultValue.has_value() &&
           expressions(a.defaultValue.value_or(""), b.defaultValue.value_or("")) && a.identity == b.identity &&
           expressions(a.generation, b.generation) && a.isStored == b.isStored && a.collation == b.collation &&
           base::equalsIgnoringCase(a.attributes, b.attributes);
}

bool SameParts::operator()(const catalog::ForeignKey& a, const catalog::ForeignKey& b) const {
    const auto action = [this](const std::string& text) {
        const bool isUsual = text == "NO ACTION" || (dialect_ == Dialect::MySql && text == "RESTRICT");
        return isUsual ? std::string() : text;
    };
    const bool isSameSchema = a.schema.empty() || b.schema.empty() || a.schema == b.schema;
    return a.name == b.name && a.columns == b.columns && isSameSchema && a.relation == b.relation &&
           a.referencedColumns == b.referencedColumns && action(a.onDelete) == action(b.onDelete) &&
           action(a.onUpdate) == action(b.onUpdate) && a.deferral == b.deferral;
}

bool SameParts::operator()(const CheckDesign& a, const CheckDesign& b) const {
    return a.name == b.name && a.column == b.column && expressions(a.expression, b.expression);
}

bool SameParts::operator()(const catalog::Index& a, const catalog::Index& b) const {
    const bool haveSameParts = std::ranges::equal(a.columns, b.columns, [this](const auto& one, const auto& other) {
        return isIndexedExpression(one) ? expressions(one, other) : one == other;
    });
    return a.name == b.name && haveSameParts && a.isUnique == b.isUnique && a.isPartial == b.isPartial &&
           expressions(a.predicate, b.predicate) && a.method == b.method && a.prefixes == b.prefixes;
}

}  // namespace pantry::sql
