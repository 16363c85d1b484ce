#include "core/sql/findings.h"

#include <algorithm>
#include <array>
#include <utility>

#include "core/base/text.h"
#include "core/sql/finding_rules.h"
#include "core/sql/lexer.h"
#include "core/sql/script.h"

namespace pantry::sql {
namespace {

using enum Severity;

constexpr auto kRules = std::to_array<FindingRule>({
    {"syntax", Error, false, "What the grammar does not allow here, and what it expects"},
    {"unterminated", Error, false, "A text, name or comment whose end is missing"},
    {"backslash-line", Warning, false, "A line for another program; it is not sent"},
    {"missing-comma", Warning, false, "Two columns without a comma: the second becomes a name for the first"},
    {"update-without-where", Warning, false, "UPDATE of all rows"},
    {"delete-without-where", Warning, false, "DELETE of all rows"},
    {"join-without-condition", Warning, false, "JOIN without ON or USING"},
    {"unrelated-tables", Warning, false, "Tables in FROM that no condition relates"},
    {"null-comparison", Warning, false, "= NULL, which is never true"},
    {"not-in-null", Warning, false, "NOT IN a list that may hold NULL, which is never true then"},
    {"limit-without-order", Hint, false, "LIMIT without ORDER BY: which rows come is left to chance"},
    {"order-by-constant", Warning, false, "ORDER BY something that is the same in every row"},
    {"having-without-aggregate", Warning, false, "HAVING without an aggregate, where WHERE is meant"},
    {"ungrouped-column", Warning, false, "A column beside an aggregate that GROUP BY does not name"},
    {"between-swapped", Warning, false, "BETWEEN with the larger bound first, which is never true"},
    {"like-without-wildcard", Hint, false, "LIKE without % or _, which is an equality"},
    {"leading-wildcard", Hint, false, "LIKE '%…', which no ordinary index serves"},
    {"constant-condition", Hint, false, "A comparison that is the same for every row"},
    {"integer-division", Hint, false, "A division of integers, which drops the fraction"},
    {"duplicate-alias", Error, false, "The same name for two relations, or for two columns of a result"},
    {"unused-cte", Warning, false, "WITH a query that nothing uses"},
    {"shadowed-alias", Hint, false, "A name that hides the same name of the query around"},
    {"star-in-definition", Hint, false, "SELECT * in INSERT … SELECT or in a view, whose columns then depend on others"},
    {"number-as-text", Warning, false, "A number compared with a text"},
    {"keyword-as-name", Warning, false, "A reserved word as a name, which needs quotes"},
    {"value-count", Error, false, "INSERT with more or fewer values than columns"},
    {"unknown-table", Error, true, "A table that the database does not have"},
    {"unknown-column", Error, true, "A column that no table of the query has"},
    {"ambiguous-column", Error, true, "A column that several tables of the query have"},
    {"type-mismatch", Warning, true, "A comparison of types that never match"},
    {"join-beside-key", Hint, true, "A join on other columns than the foreign key"},
    {"whole-large-table", Hint, true, "A large table read without a condition"},
});
static_assert(kRules.size() == static_cast<std::size_t>(Rule::WholeLargeTable) + 1);

/// The rules that comments between two offsets allow to be broken; "all" for all of them.
std::vector<std::string> allowedIn(std::string_view text, std::span<const Token> tokens) {
    std::vector<std::string> names;
    for (const Token& token : tokens) {
        if (!token.isComment()) continue;
        const std::string_view comment = token.textIn(text);
        constexpr std::string_view kMark = "pantry: allow ";
        const std::size_t at = comment.find(kMark);
        if (at == std::string_view::npos) continue;
        std::string name;
        for (const char c : comment.substr(at + kMark.size())) {
            const bool isPart = ((c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z')) || c == '-';
            if (isPart) {
                name += c;
            } else if (!name.empty()) {
                names.push_back(std::exchange(name, {}));
            }
        }
        if (!name.empty()) names.push_back(name);
    }
    return names;
}

/// The tokens whose comments speak about a statement: its own, those directly above it, and the rest of its last line.
std::span<const Token> tokensAbout(const Script& script, std::size_t index) {
    const auto& tokens = script.tokens();
    const StatementSpan& span = script.statements()[index].span;
    std::size_t first = span.firstToken;
    while (first > 0 && tokens[first - 1].isTrivia()) {
        const bool isGap = tokens[first - 1].kind == TokenKind::Blank &&
                           std::ranges::count(tokens[first - 1].textIn(script.text()), '\n') > 1;
        if (isGap) break;
        --first;
    }
    std::size_t end = span.endToken;
    while (end < tokens.size() && (tokens[end].isTrivia() || tokens[end].endsStatement())) {
        if (tokens[end].kind == TokenKind::Blank &&
            tokens[end].textIn(script.text()).find('\n') != std::string_view::npos) {
            break;
        }
        ++end;
    }
    return std::span(tokens).subspan(first, end - first);
}

bool isAllowed(const std::vector<std::string>& allowed, std::string_view rule) {
    return std::ranges::any_of(allowed, [&](const std::string& name) { return name == rule || name == "all"; });
}

/// The tables and views that a script makes: later statements may use them before any database has them.
void addDefined(const Script& script, std::set<std::string, std::less<>>& names) {
    for (const ScriptStatement& statement : script.statements()) {
        const SyntaxTree& tree = *statement.tree;
        for (const Node& node : tree.nodes) {
            const bool defines = node.kind == NodeKind::CreateTable || node.kind == NodeKind::CreateView;
            if (!defines) continue;
            const std::uint32_t name = tree.childOf(static_cast<std::uint32_t>(&node - tree.nodes.data()), NodeKind::Name);
            if (name == Node::kNone) continue;
            const Token& last = tree.tokens[tree.nodes[name].endToken - 1];
            const std::string_view own = std::string_view(script.text()).substr(statement.span.start, statement.span.length);
            names.insert(base::toLower(unquotedName(last.textIn(own))));
        }
    }
}

void addBackslashLines(const Script& script, std::vector<Finding>& findings) {
    for (const Token& token : script.tokens()) {
        if (token.kind != TokenKind::BackslashLine) continue;
        const FindingRule& rule = kRules[static_cast<std::size_t>(Rule::BackslashLine)];
        findings.push_back({rule.name, rule.severity, token.start, token.length,
                            "This line is meant for another program; it is not sent to the database.", {}});
    }
}

}  // namespace

std::span<const FindingRule> findingRules() { return kRules; }

std::string_view severityName(Severity severity) {
    switch (severity) {
        case Error: return "error";
        case Warning: return "warning";
        case Hint: break;
    }
    return "hint";
}

std::vector<Finding> checkStatement(std::string_view script, const ScriptStatement& statement,
                                    const CheckOptions& options) {
    const StatementSpan& span = statement.span;
    std::vector<Finding> findings;
    statement.tree->visit([&] {
        findings = StatementCheck(script.substr(span.start, span.length), *statement.tree, options).run();
    });
    for (Finding& finding : findings) {
        finding.start += span.start;
        if (finding.fix) finding.fix->start += span.start;
    }
    return findings;
}

std::vector<Finding> checkScript(std::string_view text, const Language& language, const CheckOptions& given) {
    Script script(language);
    script.setText(text);
    CheckOptions options = given;
    if (options.catalog != nullptr) addDefined(script, options.definedInScript);
    std::vector<Finding> findings;
    for (std::size_t i = 0; i < script.statements().size(); ++i) {
        std::vector<Finding> own = checkStatement(text, script.statements()[i], options);
        if (own.empty()) continue;
        const auto allowed = allowedIn(text, tokensAbout(script, i));
        std::erase_if(own, [&](const Finding& f) { return isAllowed(allowed, f.rule); });
        std::ranges::move(own, std::back_inserter(findings));
    }
    addBackslashLines(script, findings);
    std::erase_if(findings, [&](const Finding& f) { return options.off.contains(f.rule); });
    std::ranges::stable_sort(findings, {}, &Finding::start);
    return findings;
}

}  // namespace pantry::sql
