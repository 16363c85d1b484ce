#include "core/sql/check/finding_rules.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::string_view kAggregates[] = {"count",
                                            "sum",
                                            "avg",
                                            "min",
                                            "max",
                                            "total",
                                            "group_concat",
                                            "string_agg",
                                            "array_agg",
                                            "json_agg",
                                            "jsonb_agg",
                                            "bool_and",
                                            "bool_or",
                                            "every",
                                            "stddev",
                                            "variance",
                                            "stddev_pop",
                                            "stddev_samp",
                                            "var_pop",
                                            "var_samp",
                                            "std",
                                            "corr",
                                            "covar_pop",
                                            "covar_samp",
                                            "mode",
                                            "percentile_cont",
                                            "percentile_disc",
                                            "any_value",
                                            "bit_and",
                                            "bit_or",
                                            "bit_xor",
                                            "xmlagg",
                                            "json_object_agg",
                                            "jsonb_object_agg",
                                            "json_arrayagg",
                                            "json_objectagg",
                                            "json_group_array",
                                            "json_group_object",
                                            "listagg",
                                            "regr_slope",
                                            "median"};

/// What a check without a catalog knows of the database.
const catalog::View& nothingKnown() {
    static const catalog::View kNothing;
    return kNothing;
}

}  // namespace

StatementCheck::StatementCheck(std::string_view statement, const SyntaxTree& tree, const CheckOptions& options)
    : text_(statement),
      tree_(tree),
      options_(options),
      scope_(statement, tree, options.catalog != nullptr ? *options.catalog : nothingKnown()),
      hasCatalog_(options.catalog != nullptr) {}

std::vector<Finding> StatementCheck::run() {
    syntax();
    secretInText();
    // A tree with gaps would raise alarms about what only looks missing.
    if (tree_.hasErrors()) return std::move(findings_);
    for (std::uint32_t token = 0; token < tree_.tokens.size(); ++token) {
        const TokenRole role = tree_.roles[token];
        if (role == TokenRole::AliasName || role == TokenRole::Column || role == TokenRole::Relation)
            keywordAsName(token);
    }
    for (std::uint32_t node = 1; node < tree_.nodes.size(); ++node) {
        switch (kindOf(node)) {
            case NodeKind::SelectCore: selectCore(node); break;
            case NodeKind::SelectItem: selectItem(node); break;
            case NodeKind::LimitClause: limit(node); break;
            case NodeKind::OrderByClause: orderBy(node); break;
            case NodeKind::HavingClause: having(node); break;
            case NodeKind::Join: join(node); break;
            case NodeKind::WithClause: commonTables(node); break;
            case NodeKind::TableName: tableName(node); break;
            case NodeKind::DerivedTable: shadowedAlias(node); break;
            case NodeKind::Name: columnName(node); break;
            case NodeKind::Binary: comparison(node); break;
            case NodeKind::Between: between(node); break;
            case NodeKind::InList: notIn(node); break;
            case NodeKind::UpdateStatement: update(node); break;
            case NodeKind::DeleteStatement: deletion(node); break;
            case NodeKind::InsertStatement: insert(node); break;
            case NodeKind::CreateView: {
                const std::uint32_t query = child(node, NodeKind::Query);
                if (query != kNone) starInDefinition(query, "a view");
                break;
            }
            default: break;
        }
    }
    return std::move(findings_);
}

// ---- The tree, shortly ----

std::uint32_t StatementCheck::last(std::uint32_t node) const {
    std::uint32_t found = kNone;
    for (std::uint32_t c = first(node); c != kNone; c = next(c)) found = c;
    return found;
}

/// The nearest node around `node` of one of these kinds.
std::uint32_t StatementCheck::around(std::uint32_t node, std::initializer_list<NodeKind> kinds) const {
    for (std::uint32_t n = parent(node); n != kNone; n = parent(n)) {
        if (std::ranges::find(kinds, kindOf(n)) != kinds.end()) return n;
    }
    return kNone;
}

/// A token of the node's own (in no child) that is this keyword.
std::uint32_t StatementCheck::ownWord(std::uint32_t node, Keyword word) const {
    std::uint32_t token = at(node).firstToken;
    for (std::uint32_t c = first(node);; c = next(c)) {
        const std::uint32_t end = c == kNone ? at(node).endToken : at(c).firstToken;
        for (; token < end; ++token) {
            if (tree_.tokens[token].is(word)) return token;
        }
        if (c == kNone) return kNone;
        token = std::max(token, at(c).endToken);
    }
}

std::uint32_t StatementCheck::nextSignificant(std::uint32_t token) const {
    do {
        ++token;
    } while (token < tree_.tokens.size() && tree_.tokens[token].isSilent());
    return token;
}

/// The operator between the two sides of a Binary.
std::uint32_t StatementCheck::ownOperator(std::uint32_t node) const {
    const std::uint32_t left = first(node);
    return left == kNone ? kNone : nextSignificant(at(left).endToken - 1);
}

/// The expression inside parentheses that hold just one.
std::uint32_t StatementCheck::unwrapped(std::uint32_t node) const {
    while (node != kNone && kindOf(node) == NodeKind::Paren && first(node) != kNone && next(first(node)) == kNone) {
        node = first(node);
    }
    return node;
}

// ---- What expressions are ----

bool StatementCheck::isLiteral(std::uint32_t node) const {
    if (kindOf(node) == NodeKind::Unary) return isNumber(node);
    return kindOf(node) == NodeKind::Literal;
}

bool StatementCheck::isNull(std::uint32_t node) const {
    return kindOf(node) == NodeKind::Literal && tree_.tokens[at(node).firstToken].is(Keyword::Null);
}

bool StatementCheck::isNumber(std::uint32_t node) const {
    if (node == kNone) return false;
    if (kindOf(node) == NodeKind::Unary) {
        const bool isSign = tokenText(at(node).firstToken) == "-" || tokenText(at(node).firstToken) == "+";
        return isSign && first(node) != kNone && kindOf(first(node)) == NodeKind::Literal && isNumber(first(node));
    }
    return kindOf(node) == NodeKind::Literal && tree_.tokens[at(node).firstToken].kind == TokenKind::Number;
}

bool StatementCheck::isString(std::uint32_t node) const {
    return kindOf(node) == NodeKind::Literal && tree_.tokens[at(node).firstToken].kind == TokenKind::String;
}

bool StatementCheck::isInteger(std::uint32_t node) const {
    return isNumber(node) && textOf(node).find_first_of(".eExX") == std::string_view::npos;
}

/// The function's name, without a schema.
std::string_view StatementCheck::functionText(std::uint32_t call) const {
    const std::uint32_t name = first(call);
    if (kindOf(call) != NodeKind::Call || kindOf(name) != NodeKind::Name) return {};
    return tokenText(at(name).endToken - 1);
}

/// The same in small letters.
std::string StatementCheck::functionName(std::uint32_t call) const { return base::toLower(functionText(call)); }

bool StatementCheck::isAggregate(std::uint32_t node) const {
    if (kindOf(node) != NodeKind::Call || child(node, NodeKind::OverClause) != kNone) return false;
    const std::string_view name = functionText(node);
    const auto isNamed = [&](std::string_view wanted) { return base::equalsIgnoringCase(name, wanted); };
    const bool isScalar = tree_.language == Dialect::Sqlite && (isNamed("min") || isNamed("max"));
    if (isScalar) {  // max(a, b) of SQLite takes the larger of its arguments
        const std::uint32_t arguments = child(node, NodeKind::Arguments);
        if (arguments != kNone && first(arguments) != kNone && next(first(arguments)) != kNone) return false;
    }
    return std::ranges::any_of(kAggregates, isNamed);
}

bool StatementCheck::hasAggregate(std::uint32_t node) const {
    return hasInside(node, [this](std::uint32_t n) { return isAggregate(n); });
}

/// Whether an operator compares its sides.
bool StatementCheck::isComparison(std::uint32_t operation) const {
    if (tree_.tokens[operation].kind != TokenKind::Operator) return false;
    const std::string_view text = tokenText(operation);
    return text == "=" || text == "==" || text == "<>" || text == "!=" || text == "<" || text == ">" || text == "<=" ||
           text == ">=";
}

/// Whether a query has one row at most by its form: an aggregate without groups, LIMIT 1, or no FROM.
bool StatementCheck::returnsOneRow(std::uint32_t query) const {
    const std::uint32_t core = child(query, NodeKind::SelectCore);
    if (core == kNone) {
        const std::uint32_t inner = child(query, NodeKind::Query);
        return inner != kNone && returnsOneRow(inner);
    }
    if (child(core, NodeKind::FromClause) == kNone) return true;
    for (std::uint32_t c = first(query); c != kNone; c = next(c)) {
        if (kindOf(c) == NodeKind::LimitClause && first(c) != kNone && textOf(first(c)) == "1") return true;
    }
    return child(core, NodeKind::GroupByClause) == kNone && hasAggregate(child(core, NodeKind::SelectClause));
}

std::string StatementCheck::quoted(std::string_view name) const { return quotedName(name, tree_.language); }

// ---- Finding ----

void StatementCheck::addAt(Rule rule, std::uint32_t firstToken, std::uint32_t endToken, std::string message,
                           std::optional<TextEdit> fix) {
    const FindingRule& r = findingRules()[static_cast<std::size_t>(rule)];
    const std::size_t start = tree_.tokens[firstToken].start;
    findings_.push_back(
        {r.name, r.severity, start, tree_.tokens[endToken - 1].end() - start, std::move(message), std::move(fix)});
}

void StatementCheck::add(Rule rule, std::uint32_t node, std::string message, std::optional<TextEdit> fix) {
    addAt(rule, at(node).firstToken, at(node).endToken, std::move(message), std::move(fix));
}

TextEdit StatementCheck::replaceNode(std::uint32_t node, std::string text) const {
    const std::size_t start = tree_.tokens[at(node).firstToken].start;
    return {start, tree_.tokens[at(node).endToken - 1].end() - start, std::move(text)};
}

TextEdit StatementCheck::insertAfter(std::uint32_t token, std::string text) const {
    return {tree_.tokens[token].end(), 0, std::move(text)};
}

}  // namespace pantry::sql
