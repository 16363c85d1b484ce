#include "core/sql/findings.h"

#include <algorithm>

#include "core/sql/lexer.h"
#include "core/sql/script.h"

namespace pantry::sql {

std::string_view severityName(Severity severity) {
    switch (severity) {
        case Severity::Error: return "error";
        case Severity::Warning: return "warning";
        case Severity::Hint: break;
    }
    return "hint";
}

std::vector<Finding> checkScript(std::string_view text, Language dialect) {
    std::vector<Finding> findings;
    Script script(dialect);
    script.setText(text);
    for (const ScriptStatement& statement : script.statements()) {
        for (const SyntaxError& error : statement.tree->errors) {
            const auto& tokens = statement.tree->tokens;
            const bool isAtEnd = error.token >= tokens.size();
            const std::size_t start =
                statement.span.start + (isAtEnd ? statement.span.length : tokens[error.token].start);
            findings.push_back(
                {"syntax", Severity::Error, start, isAtEnd ? 0 : tokens[error.token].length, error.message});
        }
    }
    for (const Token& token : lex(text, dialect)) {
        if (token.kind != TokenKind::BackslashLine) continue;
        findings.push_back({"backslash-line", Severity::Warning, token.start, token.length,
                            "This line is meant for another program; it is not sent to the database."});
    }
    std::ranges::stable_sort(findings, {}, &Finding::start);
    return findings;
}

}  // namespace pantry::sql
