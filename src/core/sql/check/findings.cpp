#include "core/sql/check/findings.h"

#include <algorithm>
#include <array>
#include <utility>

#include "core/base/text.h"
#include "core/sql/check/finding_rules.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/script.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr auto kRules = [] {
    using enum Severity;
    return std::to_array<FindingRule>({
        {kSyntaxRule, Error, false, "What the grammar does not allow here, and what it expects"},
        {"unterminated", Error, false, "A text, name or comment whose end is missing"},
        {"missing-terminator", Error, false, "A line that begins a statement while the one before has no ; at its end"},
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
        {"star-in-definition", Hint, false,
         "SELECT * in INSERT … SELECT or in a view, whose columns then depend on others"},
        {"number-as-text", Warning, false, "A number compared with a text"},
        {"keyword-as-name", Warning, false, "A reserved word as a name, which needs quotes"},
        {"secret-in-text", Hint, false, "A password in the text, which is kept and handed on with it"},
        {"value-count", Error, false, "INSERT with more or fewer values than columns"},
        {"unknown-table", Error, true, "A table that the database does not have"},
        {"unknown-column", Error, true, "A column that no table of the query has"},
        {"ambiguous-column", Error, true, "A column that several tables of the query have"},
        {"type-mismatch", Warning, true, "A comparison of types that never match"},
        {"join-beside-key", Hint, true, "A join on other columns than the foreign key"},
        {"whole-large-table", Hint, true, "A large table read without a condition"},
    });
}();
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

bool isAllowed(const std::vector<std::string>& allowed, std::string_view rule) {
    return std::ranges::any_of(allowed, [&](const std::string& name) { return name == rule || name == "all"; });
}

/// A script as its checks see it.
struct CheckedText {
    std::string_view text;
    std::span<const Token> tokens;

    [[nodiscard]] std::span<const Token> tokensOf(const StatementSpan& span) const {
        return tokens.subspan(span.firstToken, span.endToken - span.firstToken);
    }

    /// The tokens whose comments speak about a statement: its own, those directly above it, and the rest of its last
    /// line.
    [[nodiscard]] std::span<const Token> tokensAbout(const StatementSpan& span) const {
        const auto lineBreaks = [this](const Token& t) {
            return t.kind == TokenKind::Blank ? std::ranges::count(t.textIn(text), '\n') : 0;
        };
        std::size_t first = span.firstToken;
        while (first > 0 && tokens[first - 1].isTrivia() && lineBreaks(tokens[first - 1]) <= 1) --first;
        std::size_t end = span.endToken;
        while (end < tokens.size() && (tokens[end].isTrivia() || tokens[end].endsStatement()) &&
               lineBreaks(tokens[end]) == 0) {
            ++end;
        }
        return tokens.subspan(first, end - first);
    }
};

/// The one path on which every finding of a statement comes about: the rules, less those that are off and those that a
/// comment about the statement allows.
std::vector<Finding> findingsOf(const CheckedText& script, const StatementSpan& span, const SyntaxTree& tree,
                                const CheckOptions& options) {
    std::vector<Finding> findings;
    tree.visit([&] { findings = StatementCheck(script.text.substr(span.start, span.length), tree, options).run(); });
    if (findings.empty()) return findings;
    const auto allowed = allowedIn(script.text, script.tokensAbout(span));
    std::erase_if(findings,
                  [&](const Finding& f) { return options.off.contains(f.rule) || isAllowed(allowed, f.rule); });
    for (Finding& finding : findings) {
        finding.start += span.start;
        if (finding.fix) finding.fix->start += span.start;
    }
    std::ranges::stable_sort(findings, {}, &Finding::start);
    return findings;
}

[[nodiscard]] bool mayDefine(const CheckedText& script, const StatementSpan& span) {
    return std::ranges::any_of(script.tokensOf(span), [](const Token& t) { return t.is(Keyword::Create); });
}

/// The tables and views that a statement makes: later ones may use them before any database has them.
void addDefined(std::string_view statement, const SyntaxTree& tree, DefinedNames& names) {
    for (std::uint32_t i = 0; i < tree.nodes.size(); ++i) {
        const NodeKind kind = tree.nodes[i].kind;
        if (kind != NodeKind::CreateTable && kind != NodeKind::CreateView) continue;
        const std::uint32_t name = tree.childOf(i, NodeKind::Name);
        if (name == Node::kNone) continue;
        const Token& last = tree.tokens[tree.nodes[name].endToken - 1];
        names.insert(base::toLower(unquotedName(last.textIn(statement))));
    }
}

/// A script while it is checked: one tree at a time, so that a long script takes no more memory than its tokens.
class ScriptCheck {
public:
    ScriptCheck(std::string_view text, const Language& language, const CheckOptions& options)
        : language_(language), options_(options), tokens_(lex(text, language)), script_{text, tokens_} {
        spans_ = Splitter(text, tokens_, language).split();
    }

    std::vector<Finding> run() {
        if (options_.catalog != nullptr) {
            for (const StatementSpan& span : spans_) {
                if (!mayDefine(script_, span)) continue;
                addDefined(script_.text.substr(span.start, span.length), treeOf(span), options_.definedInScript);
            }
        }
        for (const StatementSpan& span : spans_) {
            std::ranges::move(findingsOf(script_, span, treeOf(span), options_), std::back_inserter(findings_));
        }
        addBackslashLines();
        std::ranges::stable_sort(findings_, {}, &Finding::start);
        return std::move(findings_);
    }

private:
    [[nodiscard]] SyntaxTree treeOf(const StatementSpan& span) const {
        return parseStatement(script_.text.substr(span.start, span.length), script_.tokensOf(span), span.start,
                              span.kind, language_);
    }

    void addBackslashLines() {
        const FindingRule& rule = kRules[static_cast<std::size_t>(Rule::BackslashLine)];
        if (options_.off.contains(rule.name)) return;
        for (const Token& token : tokens_) {
            if (token.kind != TokenKind::BackslashLine) continue;
            findings_.push_back({rule.name,
                                 rule.severity,
                                 token.start,
                                 token.length,
                                 "This line is meant for another program; it is not sent to the database.",
                                 {}});
        }
    }

    Language language_;
    CheckOptions options_;
    std::vector<Token> tokens_;
    CheckedText script_;
    std::vector<StatementSpan> spans_;
    std::vector<Finding> findings_;
};

}  // namespace

std::span<const FindingRule> findingRules() { return kRules; }

std::string_view severityName(Severity severity) {
    switch (severity) {
        case Severity::Error: return "error";
        case Severity::Warning: return "warning";
        case Severity::Hint: break;
    }
    return "hint";
}

DefinedNames definedIn(const Script& script) {
    DefinedNames names;
    const CheckedText text{script.text(), script.tokens()};
    for (const ScriptStatement& statement : script.statements()) {
        if (!mayDefine(text, statement.span)) continue;
        addDefined(text.text.substr(statement.span.start, statement.span.length), *statement.tree, names);
    }
    return names;
}

std::vector<Finding> checkStatement(const Script& script, std::size_t statement, const CheckOptions& options) {
    const ScriptStatement& one = script.statements()[statement];
    return findingsOf({script.text(), script.tokens()}, one.span, *one.tree, options);
}

std::vector<Finding> checkScript(std::string_view text, const Language& language, const CheckOptions& options) {
    return ScriptCheck(text, language, options).run();
}

}  // namespace pantry::sql
