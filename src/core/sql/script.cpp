#include "core/sql/script.h"

#include <algorithm>
#include <unordered_map>

#include "core/sql/lexer.h"
#include "core/sql/parser.h"

namespace pantry::sql {

void Script::setText(std::string_view text) {
    parsedCount_ = 0;
    if (text == text_) return;
    // A statement is told by its bytes: equal bytes in the same dialect have the same tree, wherever they stand.
    std::unordered_multimap<std::string_view, std::shared_ptr<const SyntaxTree>> known;
    for (const ScriptStatement& s : statements_) {
        known.emplace(std::string_view(text_).substr(s.span.start, s.span.length), s.tree);
    }
    std::vector<Token> tokens = lex(text, dialect_);
    std::vector<ScriptStatement> fresh;
    for (const StatementSpan& span : Splitter(text, tokens, dialect_).split()) {
        const std::string_view own = text.substr(span.start, span.length);
        ScriptStatement statement{span, nullptr};
        if (const auto found = known.find(own); found != known.end()) {
            statement.tree = found->second;
        } else {
            const auto run = std::span(tokens).subspan(span.firstToken, span.endToken - span.firstToken);
            statement.tree =
                std::make_shared<const SyntaxTree>(parseStatement(own, run, span.start, span.kind, dialect_));
            ++parsedCount_;
        }
        fresh.push_back(std::move(statement));
    }
    statements_ = std::move(fresh);
    text_ = text;
    tokens_ = std::move(tokens);
}

void Script::setDialect(Dialect dialect) {
    if (dialect == dialect_) return;
    dialect_ = dialect;
    statements_.clear();
    const std::string text = std::move(text_);
    text_.clear();
    setText(text);
}

std::optional<std::size_t> Script::indexAt(std::size_t offset) const {
    std::vector<StatementSpan> spans;
    spans.reserve(statements_.size());
    for (const ScriptStatement& s : statements_) spans.push_back(s.span);
    return statementAt(text_, spans, offset);
}

}  // namespace pantry::sql
