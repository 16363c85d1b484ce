#include <fmt/format.h>

#include "core/base/text.h"
#include "core/sql/finding_rules.h"
#include "core/sql/lexer.h"

namespace pantry::sql {

void StatementCheck::syntax() {
    for (const SyntaxError& error : tree_.errors) {
        const bool isAtEnd = error.token >= tree_.tokens.size();
        const bool isUnterminated = !isAtEnd && !tree_.tokens[error.token].isClosed;
        const FindingRule& rule = findingRules()[static_cast<std::size_t>(isUnterminated ? Rule::Unterminated : Rule::Syntax)];
        const std::size_t start = isAtEnd ? text_.size() : tree_.tokens[error.token].start;
        // An end that is missing is shown at its beginning: the rest of the text is not the mistake.
        const std::size_t length = isAtEnd ? 0 : isUnterminated ? 1 : tree_.tokens[error.token].length;
        findings_.push_back({rule.name, rule.severity, start, length, error.message, {}});
    }
}

/// A reserved word where a name stands: this server, or the next, will not take it without quotes.
void StatementCheck::keywordAsName(std::uint32_t token) {
    const Token& t = tree_.tokens[token];
    if (t.kind != TokenKind::Word || !isReserved(t.keyword, tree_.language)) return;
    if (token > 0 && tree_.tokens[token - 1].kind == TokenKind::Dot) return;  // behind a dot every word is a name
    if (t.is(Keyword::Dual) || t.is(Keyword::Values) || t.is(Keyword::Default)) return;
    const std::string_view word = tokenText(token);
    addAt(Rule::KeywordAsName, token, token + 1,
          fmt::format("“{}” is a reserved word; as a name it needs quotes.", word),
          TextEdit{t.start, t.length, quotedName(word, tree_.language)});
}

}  // namespace pantry::sql
