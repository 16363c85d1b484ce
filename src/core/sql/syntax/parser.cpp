#include "core/sql/syntax/parser.h"

#include "core/base/deep_stack.h"
#include "core/sql/syntax/grammar.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr int kOrdinaryDepth = 400;
constexpr int kDeepest = 60'000;  // some four levels a parenthesis

/// An end that is missing is an error of the whole statement, wherever the token stands.
void noteUnclosed(SyntaxTree& tree, std::string_view text) {
    for (std::size_t i = 0; i < tree.tokens.size(); ++i) {
        const Token& token = tree.tokens[i];
        if (token.isClosed) continue;
        const char open = token.textIn(text).front();
        std::string message =
            token.isComment() || token.kind == TokenKind::ExecutableComment ? "The comment that begins here has no end."
            : token.kind == TokenKind::CopyData
                ? "The data that begin here have no end: a line with \\. alone."
                : std::string("The text that begins here has no closing ") + (open == '[' ? ']' : open) + ".";
        tree.errors.push_back({static_cast<std::uint32_t>(i), std::move(message)});
    }
}

SyntaxTree parseWithin(int maxDepth, std::string_view statement, std::span<const Token> tokens, std::size_t base,
                       StatementKind kind, Language dialect, bool& isTooDeep, LookedFor* watched = nullptr) {
    SyntaxTree tree;
    tree.language = dialect;
    tree.kind = kind;
    tree.tokens.assign(tokens.begin(), tokens.end());
    for (Token& token : tree.tokens) token.start -= static_cast<std::uint32_t>(base);
    tree.roles.resize(tokens.size(), TokenRole::Plain);
    tree.nodes.reserve(tokens.size());
    tree.nodes.emplace_back();
    ParseState state(statement, tree, maxDepth, watched);
    Grammar(state).statement();
    state.finish();
    noteUnclosed(tree, statement);
    isTooDeep = state.isTooDeep;
    return tree;
}

}  // namespace

SyntaxTree parseStatement(std::string_view statement, std::span<const Token> tokens, std::size_t base,
                          StatementKind kind, Language dialect) {
    bool isTooDeep = false;
    SyntaxTree tree = parseWithin(kOrdinaryDepth, statement, tokens, base, kind, dialect, isTooDeep);
    if (!isTooDeep) return tree;
    // More levels than an ordinary stack bears: once more on one that is large.
    base::onDeepStack([&] { tree = parseWithin(kDeepest, statement, tokens, base, kind, dialect, isTooDeep); });
    return tree;
}

SyntaxTree parseBeginning(std::string_view statement, std::span<const Token> tokens, Language dialect,
                          LookedFor& lookedFor) {
    bool isTooDeep = false;
    return parseWithin(kOrdinaryDepth, statement, tokens, 0, kindOf(tokens), dialect, isTooDeep, &lookedFor);
}

SyntaxTree parseSingle(std::string_view text, Language dialect) {
    return parseFirst(text, lex(text, dialect), dialect);
}

SyntaxTree parseFirst(std::string_view text, std::span<const Token> tokens, Language dialect) {
    const std::vector<StatementSpan> spans = Splitter(text, tokens, dialect).split();
    if (spans.empty()) return parseStatement({}, {}, 0, StatementKind::Other, dialect);
    const StatementSpan& span = spans.front();
    return parseStatement(text.substr(span.start, span.length),
                          tokens.subspan(span.firstToken, span.endToken - span.firstToken), span.start, span.kind,
                          dialect);
}

void Grammar::statement() {
    anyStatement();
    while (s_.at(TokenKind::Semicolon) || atMissingTerminator()) {
        if (s_.at(TokenKind::Semicolon)) {  // another delimiter is in force, so several may go to the server at once
            s_.take();
        } else {
            s_.reportMissingTerminator();
        }
        isAltering_ = false;
        anyStatement();
    }
    trailing();
}

/// At the first word of a line, which begins a statement, where the one before is over or cannot go on.
bool Grammar::atMissingTerminator() const {
    if (s_.atEnd() || !s_.atLineStart()) return false;
    return s_.atNextStatement() ||
           s_.atAny({Keyword::Values,   Keyword::Insert,   Keyword::Replace,  Keyword::Update, Keyword::Delete,
                     Keyword::Merge,    Keyword::Truncate, Keyword::Create,   Keyword::Alter,  Keyword::Drop,
                     Keyword::With,     Keyword::Comment,  Keyword::Grant,    Keyword::Revoke, Keyword::Explain,
                     Keyword::Describe, Keyword::Set,      Keyword::Show,     Keyword::Call,   Keyword::Do,
                     Keyword::Prepare,  Keyword::Execute,  Keyword::Copy,     Keyword::Pragma, Keyword::Attach,
                     Keyword::Begin,    Keyword::Commit,   Keyword::Rollback, Keyword::Use,    Keyword::Vacuum,
                     Keyword::Analyze});
}

void Grammar::withStatement() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    withClause();
    if (s_.atAny({Keyword::Insert, Keyword::Replace, Keyword::Update, Keyword::Delete, Keyword::Merge})) {
        return changeStatement();
    }
    queryAfterWith(mark, position);
}

void Grammar::trailing() {
    while (!s_.atEnd()) {
        s_.fail(s_.at(TokenKind::CloseParen) ? "no closing parenthesis" : "the end of the statement");
        const NodeScope error(s_, NodeKind::Error);
        while (!s_.atEnd()) s_.take();
    }
}

bool Grammar::tooDeep() {
    if (s_.depth <= s_.maxDepth) return false;
    s_.isTooDeep = true;
    s_.fail("fewer levels of nesting");
    s_.skipUntil([] { return false; });
    return true;
}

}  // namespace pantry::sql
