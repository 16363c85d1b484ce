#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/text.h"
#include "core/sql/check/finding_rules.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

std::optional<double> numberIn(std::string_view text) {
    const bool isNegative = text.starts_with("-");
    if (isNegative || text.starts_with("+")) text.remove_prefix(1);
    text = base::trimmed(text);
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
    return isNegative ? -value : value;
}

}  // namespace

void StatementCheck::comparison(std::uint32_t node) {
    const std::uint32_t operation = ownOperator(node);
    if (operation >= tree_.tokens.size()) return;
    like(node, operation);
    division(node, operation);
    if (!isComparison(operation)) return;
    const std::uint32_t left = first(node);
    const std::uint32_t right = next(left);
    if (right == kNone) return;
    // f(name = value) and SET @a = … are no comparisons.
    if (kindOf(left) == NodeKind::ParameterRef && textOf(left).starts_with('@')) return;
    const std::string_view op = tokenText(operation);
    nullComparison(node, left, right, op);
    constantCondition(node, unwrapped(left), unwrapped(right), op);
    numberAsText(node, unwrapped(left), unwrapped(right));
    typesOf(node, unwrapped(left), unwrapped(right));
}

void StatementCheck::nullComparison(std::uint32_t node, std::uint32_t left, std::uint32_t right, std::string_view op) {
    const bool isEquality = op == "=" || op == "==";
    const bool isInequality = op == "<>" || op == "!=";
    if (!isNull(right) && !isNull(left)) return;
    if (isNull(right) && (isEquality || isInequality)) {
        const std::uint32_t op1 = ownOperator(node);
        const std::size_t start = tree_.tokens[op1].start;
        const std::string wanted = isEquality ? "IS NULL" : "IS NOT NULL";
        const std::string_view null = tokenText(at(right).endToken - 1);
        const bool isSmall = null == base::toLower(null);  // as somebody writes, so it is mended
        const TextEdit fix{start, tree_.tokens[at(right).endToken - 1].end() - start,
                           isSmall ? base::toLower(wanted) : wanted};
        return add(Rule::NullComparison, node,
                   fmt::format("A comparison with NULL is never true; {} asks for it.",
                               isEquality ? "IS NULL" : "IS NOT NULL"),
                   fix);
    }
    add(Rule::NullComparison, node, "A comparison with NULL is never true; IS NULL asks for it.");
}

/// 1 = 2, a.x = a.x; that 1 = 1 stands in generated conditions is known and let pass.
void StatementCheck::constantCondition(std::uint32_t node, std::uint32_t left, std::uint32_t right,
                                       std::string_view op) {
    if (isNull(left) || isNull(right)) return;
    if (kindOf(left) == NodeKind::Name && kindOf(right) == NodeKind::Name) {
        if (!base::equalsIgnoringCase(textOf(left), textOf(right))) return;
        const bool holds = op == "=" || op == "==" || op == "<=" || op == ">=";
        return add(Rule::ConstantCondition, node,
                   fmt::format("{} is compared with itself, which is {} in every row that has a value.", textOf(left),
                               holds ? "true" : "false"));
    }
    if (!isLiteral(left) || !isLiteral(right)) return;
    const bool isIdiom = isInteger(left) && isInteger(right) && op == "=" &&
                         (textOf(left) == textOf(right) || textOf(left) == "0" || textOf(right) == "0");
    if (isIdiom) return;
    add(Rule::ConstantCondition, node, "Both sides are constants, so this is the same for every row.");
}

/// A number beside a text: the server converts one of them in every row, or refuses.
void StatementCheck::numberAsText(std::uint32_t node, std::uint32_t left, std::uint32_t right) {
    if (!isLiteral(left) && !isLiteral(right)) return;
    const auto isTextColumn = [this](std::uint32_t n) {
        return kindOf(n) == NodeKind::Name && familyOf(typeOf(n)) == TypeFamily::Text;
    };
    const auto isNumberColumn = [this](std::uint32_t n) {
        return (kindOf(n) == NodeKind::Name && familyOf(typeOf(n)) == TypeFamily::Number) ||
               (isAggregate(n) && functionName(n) == "count");
    };
    const auto looksLikeNumber = [this](std::uint32_t n) {
        std::string_view text = textOf(n);
        if (text.size() < 2) return false;
        text = text.substr(1, text.size() - 2);
        return numberIn(text).has_value();
    };
    for (const auto& [a, b] : {std::pair(left, right), std::pair(right, left)}) {
        if (isNumber(a) && isString(b)) {
            return add(Rule::NumberAsText, node, "A number is compared with a text; take the quotes away.");
        }
        if (isTextColumn(a) && isNumber(b)) {
            return add(Rule::NumberAsText, node,
                       fmt::format("{} is text and {} a number: every value is converted, or the server refuses.",
                                   textOf(a), textOf(b)),
                       replaceNode(b, fmt::format("'{}'", textOf(b))));
        }
        if (isNumberColumn(a) && isString(b) && !looksLikeNumber(b)) {
            return add(Rule::NumberAsText, node,
                       fmt::format("{} is a number and {} is not one.", textOf(a), textOf(b)));
        }
        if (isAggregate(a) && functionName(a) == "count" && isString(b)) {
            return add(Rule::NumberAsText, node, "A count is compared with a text; take the quotes away.",
                       replaceNode(b, std::string(textOf(b).substr(1, textOf(b).size() - 2))));
        }
    }
}

void StatementCheck::like(std::uint32_t node, std::uint32_t operation) {
    const std::uint32_t left = first(node);
    if (left == kNone || next(left) == kNone) return;
    const std::uint32_t word = tree_.tokens[operation].is(Keyword::Not) ? nextSignificant(operation) : operation;
    if (word >= tree_.tokens.size()) return;
    const bool isLike = tree_.tokens[word].is(Keyword::Like);
    if (!isLike && !tree_.tokens[word].is(Keyword::Ilike)) return;
    const std::uint32_t pattern = next(left);
    if (!isString(pattern)) return;
    const std::string_view text = textOf(pattern);
    if (text.size() < 2 || text.front() != '\'') return;
    const std::string_view inside = text.substr(1, text.size() - 2);
    if (inside.starts_with('%') && inside.size() > 1) {
        return add(Rule::LeadingWildcard, pattern,
                   "A pattern that begins with % is looked for in every row; an ordinary index does not help.");
    }
    if (!isLike || inside.find_first_of("%_\\") != std::string_view::npos) return;
    add(Rule::LikeWithoutWildcard, pattern, "Without % or _ this is an equality; is a wildcard missing?");
}

/// 7 / 2 is 3 where both are integers; MariaDB and MySQL divide with a fraction.
void StatementCheck::division(std::uint32_t node, std::uint32_t operation) {
    if (tree_.language == Dialect::MySql || tokenText(operation) != "/") return;
    const std::uint32_t left = unwrapped(first(node));
    if (left == kNone) return;
    const std::uint32_t right = next(first(node));
    if (right == kNone || !isInteger(right)) return;
    const bool isWhole = isInteger(left) || (isAggregate(left) && functionName(left) == "count") ||
                         (kindOf(left) == NodeKind::TypeCast && last(left) != kNone && [&] {
                             const std::string type = base::toLower(textOf(last(left)));
                             return type.starts_with("int") || type == "bigint" || type == "smallint";
                         }());
    const std::string type = kindOf(left) == NodeKind::Name ? base::toLower(typeOf(left)) : std::string();
    const bool isWholeColumn = type.starts_with("int") || type.starts_with("bigint") || type.starts_with("smallint");
    if (!isWhole && !isWholeColumn) return;
    add(Rule::IntegerDivision, node,
        fmt::format("Both sides are integers, so the fraction is dropped; divide by {}.0 to keep it.", textOf(right)),
        replaceNode(right, std::string(textOf(right)) + ".0"));
}

void StatementCheck::between(std::uint32_t node) {
    const std::uint32_t value = first(node);
    const std::uint32_t low = value == kNone ? kNone : next(value);
    const std::uint32_t high = low == kNone ? kNone : next(low);
    if (high == kNone || ownWord(node, Keyword::Symmetric) != kNone) return;
    bool isSwapped = false;
    if (isNumber(low) && isNumber(high)) {
        const auto a = numberIn(textOf(low));
        const auto b = numberIn(textOf(high));
        isSwapped = a && b && *a > *b;
    } else if (isString(low) && isString(high)) {
        // Texts are ordered by the database's collation; digits and their dates are ordered the same everywhere.
        const auto isPlain = [](std::string_view t) {
            return t.size() > 2 && t.find_first_not_of("0123456789-:. '") == std::string_view::npos;
        };
        isSwapped = isPlain(textOf(low)) && isPlain(textOf(high)) && textOf(low).size() == textOf(high).size() &&
                    textOf(low) > textOf(high);
    }
    if (!isSwapped) return;
    const TextEdit fix{tree_.tokens[at(low).firstToken].start,
                       tree_.tokens[at(high).endToken - 1].end() - tree_.tokens[at(low).firstToken].start,
                       fmt::format("{} AND {}", textOf(high), textOf(low))};
    add(Rule::BetweenSwapped, node, "The first bound is larger than the second, so this is never true.", fix);
}

void StatementCheck::notIn(std::uint32_t node) {
    if (ownWord(node, Keyword::Not) == kNone || first(node) == kNone) return;
    const std::uint32_t list = next(first(node));
    if (kindOf(list) == NodeKind::Paren) {
        for (std::uint32_t item = first(list); item != kNone; item = next(item)) {
            if (isNull(item)) {
                return add(Rule::NotInNull, node, "NOT IN a list with NULL is never true.");
            }
        }
        return;
    }
    if (kindOf(list) != NodeKind::Subquery) return;
    const std::uint32_t query = child(list, NodeKind::Query);
    const auto mayBeNull = query == kNone ? std::optional(false) : mayReturnNull(query);
    if (!mayBeNull.value_or(!hasCatalog_)) return;
    add(Rule::NotInNull, node,
        "Should the subquery return one NULL, NOT IN is true for no row; NOT EXISTS has no such trap, or leave NULL "
        "out with IS NOT NULL.");
    if (!mayBeNull) findings_.back().severity = Severity::Hint;  // nothing is known of the column
}

/// Whether the only column of a query may be NULL; nullopt when nobody can tell.
std::optional<bool> StatementCheck::mayReturnNull(std::uint32_t query) const {
    const std::uint32_t core = child(query, NodeKind::SelectCore);
    if (core == kNone) return std::nullopt;
    const std::uint32_t item = child(child(core, NodeKind::SelectClause), NodeKind::SelectItem);
    const std::uint32_t expression = item == kNone ? kNone : unwrapped(first(item));
    if (expression == kNone) return false;
    if (isLiteral(expression)) return isNull(expression);
    if (kindOf(expression) == NodeKind::Call) {
        const std::string name = functionName(expression);
        if (name == "count" || name == "coalesce" || name == "ifnull") return false;
        return std::nullopt;
    }
    if (kindOf(expression) != NodeKind::Name) return std::nullopt;
    const std::uint32_t where = child(core, NodeKind::WhereClause);
    const std::string column = base::toLower(scope_.lastPart(expression));
    const bool isExcluded = where != kNone && hasInside(where, [&](std::uint32_t n) {
                                // The column IS NOT NULL, or compared with something: rows where it is NULL do not
                                // come.
                                if (kindOf(n) != NodeKind::Binary && kindOf(n) != NodeKind::Unary &&
                                    kindOf(n) != NodeKind::Between && kindOf(n) != NodeKind::InList) {
                                    return false;
                                }
                                const std::uint32_t side = first(n);
                                if (kindOf(side) != NodeKind::Name || base::toLower(scope_.lastPart(side)) != column)
                                    return false;
                                const bool isIs =
                                    ownWord(n, Keyword::Is) != kNone || ownWord(n, Keyword::Isnull) != kNone;
                                return !isIs || ownWord(n, Keyword::Not) != kNone;
                            });
    if (isExcluded) return false;
    const Resolution found = scope_.resolve(expression);
    if (found.kind != Resolution::Kind::Column || found.column->origin == nullptr) return std::nullopt;
    return found.column->isNullable && !found.column->isPrimaryKey;
}

}  // namespace pantry::sql
