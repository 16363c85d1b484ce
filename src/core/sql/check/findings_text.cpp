#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/check/finding_rules.h"
#include "core/sql/meaning/secrets.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

namespace {

/// Reserved since MySQL 8 and not in MariaDB.
bool isReservedByMySqlOnly(Keyword keyword) {
    switch (keyword) {
        case Keyword::Groups:
        case Keyword::Rank:
        case Keyword::System:
        case Keyword::Function:
        case Keyword::Empty:
        case Keyword::Lead:
        case Keyword::Lag:
        case Keyword::Of:
        case Keyword::Cube:
        case Keyword::Ntile:
        case Keyword::RowNumber:
        case Keyword::DenseRank:
        case Keyword::PercentRank:
        case Keyword::CumeDist:
        case Keyword::FirstValue:
        case Keyword::LastValue:
        case Keyword::NthValue:
        case Keyword::JsonTable:
        case Keyword::Lateral:
        case Keyword::Grouping: return true;
        default: return false;
    }
}

}  // namespace

void StatementCheck::syntax() {
    for (const SyntaxError& error : tree_.errors) {
        if (error.lacksTerminator) {
            missingTerminator(error);
            continue;
        }
        const bool isAtEnd = error.token >= tree_.tokens.size();
        const bool isUnterminated = !isAtEnd && !tree_.tokens[error.token].isClosed;
        const FindingRule& rule =
            findingRules()[static_cast<std::size_t>(isUnterminated ? Rule::Unterminated : Rule::Syntax)];
        const std::size_t start = isAtEnd ? text_.size() : tree_.tokens[error.token].start;
        // An end that is missing is shown at its beginning: the rest of the text is not the mistake.
        const std::size_t length = isAtEnd ? 0 : isUnterminated ? 1 : tree_.tokens[error.token].length;
        findings_.push_back({rule.name, rule.severity, start, length, error.message, {}});
    }
}

void StatementCheck::missingTerminator(const SyntaxError& error) {
    std::uint32_t before = error.token;
    while (before > 0 && tree_.tokens[before - 1].isSilent()) --before;
    const TextEdit mend{before == 0 ? 0 : tree_.tokens[before - 1].end(), 0, ";"};
    addAt(Rule::MissingTerminator, error.token, error.token + 1, error.message, mend);
}

/// What was typed is kept as it was typed, in sheets and files; ledger and log hide what is found here.
void StatementCheck::secretInText() {
    for (const std::string& secret : secretsIn(text_, tree_.tokens, tree_.language)) {
        const std::size_t start = secret.empty() ? std::string_view::npos : text_.find(secret);
        if (start == std::string_view::npos) continue;
        const FindingRule& rule = findingRules()[static_cast<std::size_t>(Rule::SecretInText)];
        findings_.push_back(
            {rule.name,
             rule.severity,
             start,
             secret.size(),
             "This looks like a password, and it is kept in the text. Use a parameter in its place, or remove it when "
             "the statement has run.",
             {}});
    }
}

std::vector<Finding> missingTerminators(const Script& script) {
    std::vector<Finding> found;
    for (std::size_t i = 0; i < script.statements().size(); ++i) {
        if (std::ranges::none_of(script.statements()[i].tree->errors, &SyntaxError::lacksTerminator)) continue;
        for (Finding& finding : checkStatement(script, i)) {
            if (finding.rule == findingRules()[static_cast<std::size_t>(Rule::MissingTerminator)].name) {
                found.push_back(std::move(finding));
            }
        }
    }
    return found;
}

/// A reserved word where a name stands: this server, or the next, will not take it without quotes.
void StatementCheck::keywordAsName(std::uint32_t token) {
    const Token& t = tree_.tokens[token];
    if (t.kind != TokenKind::Word || !isReserved(t.keyword, tree_.language)) return;
    if (token > 0 && tree_.tokens[token - 1].kind == TokenKind::Dot) return;  // behind a dot every word is a name
    if (t.is(Keyword::Dual) || t.is(Keyword::Values) || t.is(Keyword::Default) || isReservedByMySqlOnly(t.keyword))
        return;
    const std::uint32_t node = tree_.nodeAt(token);
    // Names of routines and their parameters are freer, and so are names behind AS where it is written.
    const std::uint32_t freer =
        around(node, {NodeKind::RoutineParameter, NodeKind::DropStatement, NodeKind::CommentStatement,
                      NodeKind::GrantStatement, NodeKind::CreateRoutine});
    const bool isBehindAs = kindOf(node) == NodeKind::Alias && tree_.tokens[at(node).firstToken].is(Keyword::As) &&
                            tree_.language != Dialect::MySql;
    if (freer != kNone || isBehindAs || kindOf(node) == NodeKind::RoutineParameter) return;
    const std::string_view word = tokenText(token);
    addAt(Rule::KeywordAsName, token, token + 1,
          fmt::format("“{}” is a reserved word; as a name it needs quotes.", word),
          TextEdit{t.start, t.length, quotedName(word, tree_.language)});
}

}  // namespace pantry::sql
