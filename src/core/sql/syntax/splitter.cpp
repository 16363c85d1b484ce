#include "core/sql/syntax/splitter.h"

#include <algorithm>
#include <optional>

#include "core/sql/text/lexer.h"

namespace pantry::sql {

/// Follows a statement from its first token on and tells whether a terminator here would cut it in two.
struct Splitter::Body {
    Body(Dialect d, std::span<const Token> all) : dialect(d), tokens(all) {}

    Dialect dialect;
    std::span<const Token> tokens;
    std::size_t words = 0;   // significant tokens seen
    bool isCreate = false;   // CREATE …
    bool isRoutine = false;  // CREATE … TRIGGER, FUNCTION, PROCEDURE, EVENT, PACKAGE
    bool isRule = false;     // CREATE RULE … DO (a; b)
    bool isCopyIn = false;   // COPY … FROM STDIN, whose data follow the terminator
    int depth = 0;           // open BEGIN, CASE and, where a statement may stand, IF and loops
    int parens = 0;
    Keyword firstWord = Keyword::None;
    Keyword previous = Keyword::None;
    TokenKind previousKind = TokenKind::Blank;

    /// Whether a statement that begins so can hold a terminator at all; for most nothing needs to be followed.
    [[nodiscard]] bool isFollowed() const {
        return isCreate || isBlock_ || isExplained_ || firstWord == Keyword::Begin || firstWord == Keyword::Copy;
    }

    [[nodiscard]] bool isOpen() const { return depth > 0 || (isRule && parens > 0); }

    void take(std::size_t index) {
        const Token& token = tokens[index];
        if (token.kind == TokenKind::OpenParen) ++parens;
        if (token.kind == TokenKind::CloseParen) --parens;
        takeHead(token);
        if (words == 0 && dialect == Dialect::MySql) isBlock_ = beginsCompound(token);
        if (isRoutine || isAnonymousBlock(token)) takeBody(token, index);
        previous = token.keyword;
        previousKind = token.kind;
        ++words;
    }

private:
    bool isBlock_ = false;
    bool isExplained_ = false;  // only EXPLAIN [QUERY PLAN] so far: what it explains is what counts
    bool isHeadOver_ = false;   // the kind of object is known

    /// MariaDB takes IF, CASE and loops outside routines too.
    static bool beginsCompound(const Token& token) {
        switch (token.keyword) {
            case Keyword::If:
            case Keyword::Case:
            case Keyword::Loop:
            case Keyword::While:
            case Keyword::Repeat:
            case Keyword::For: return true;
            default: return false;
        }
    }

    /// BEGIN NOT ATOMIC (MariaDB), and a routine's parts.
    bool isAnonymousBlock(const Token& token) {
        const bool opens = words == 1 && previous == Keyword::Begin && token.is(Keyword::Not);
        if (opens && dialect == Dialect::MySql) {
            isBlock_ = true;
            depth = 1;
        }
        return isBlock_ && !opens;
    }

    void takeHead(const Token& token) {
        if (words == 0) {
            firstWord = token.keyword;
            isCreate = token.is(Keyword::Create);
            isExplained_ = token.is(Keyword::Explain);
        } else if (isExplained_ && !token.is(Keyword::Query) && !token.is(Keyword::Plan)) {
            isExplained_ = false;
            isCreate = token.is(Keyword::Create);
        }
        if (words > 0 && previous == Keyword::From && token.is(Keyword::Stdin)) isCopyIn = true;
        const bool isSomebody = previousKind == TokenKind::Operator;  // DEFINER = user
        if (!isCreate || isHeadOver_ || isSomebody) return;
        switch (token.keyword) {
            case Keyword::Trigger:
            case Keyword::Event:
            case Keyword::Package:
            case Keyword::Function:
            case Keyword::Procedure:
                isRoutine = true;
                isHeadOver_ = true;
                break;
            case Keyword::Rule:
                isRule = dialect == Dialect::Postgres;
                isHeadOver_ = true;
                break;
            // Any other kind of object: what comes may be called event, function or begin.
            case Keyword::Table:
            case Keyword::View:
            case Keyword::Index:
            case Keyword::Schema:
            case Keyword::Database:
            case Keyword::Sequence:
            case Keyword::Type:
            case Keyword::Domain:
            case Keyword::User:
            case Keyword::Role:
            case Keyword::Extension:
            case Keyword::Server: isHeadOver_ = true; break;
            default: break;
        }
        if (token.kind == TokenKind::OpenParen) isHeadOver_ = true;
    }

    void takeBody(const Token& token, std::size_t index) {
        switch (token.keyword) {
            case Keyword::Begin:
                if (dialect != Dialect::Postgres || depth > 0) ++depth;
                break;
            case Keyword::Atomic:
                if (dialect == Dialect::Postgres && previous == Keyword::Begin && depth == 0) depth = 1;
                break;
            case Keyword::Case:
                if ((depth > 0 || words == 0) && previous != Keyword::End) ++depth;
                break;
            case Keyword::If:
                if (dialect == Dialect::MySql && standsAsStatement() && !isCall(index)) ++depth;
                break;
            case Keyword::For:
                if (words == 0 || (dialect == Dialect::MySql && standsAsStatement())) ++depth;
                break;
            case Keyword::Loop:
            case Keyword::While:
            case Keyword::Repeat:
                if (dialect == Dialect::MySql && standsAsStatement()) ++depth;
                break;
            case Keyword::End:
                if (depth > 0) --depth;
                break;
            default: break;
        }
    }

    /// IF(a, b, c): the function rather than the statement has three arguments.
    [[nodiscard]] bool isCall(std::size_t index) const {
        int depthHere = 0;
        int commas = 0;
        for (std::size_t i = index + 1; i < tokens.size(); ++i) {
            const Token& token = tokens[i];
            if (token.isTrivia()) continue;
            if (token.kind == TokenKind::OpenParen) ++depthHere;
            if (depthHere == 0 || token.endsStatement()) return false;
            if (token.kind == TokenKind::Comma && depthHere == 1) ++commas;
            if (token.kind == TokenKind::CloseParen && --depthHere == 0) return commas == 2;
        }
        return false;
    }

    /// Whether a statement of a routine's body may begin after the token before.
    [[nodiscard]] bool standsAsStatement() const {
        if (words == 0) return true;
        if (previousKind == TokenKind::Terminator || previousKind == TokenKind::Semicolon) return depth > 0;
        if (previousKind == TokenKind::Operator) return depth > 0;  // the colon of a label
        switch (previous) {
            case Keyword::Begin:
            case Keyword::Then:
            case Keyword::Else:
            case Keyword::Do:
            case Keyword::Loop:
            case Keyword::Repeat: return depth > 0;
            default: return false;
        }
    }
};

Splitter::Splitter(std::string_view text, std::span<const Token> tokens, Language dialect, Line known)
    : text_(text), tokens_(tokens), dialect_(dialect), line_(known) {}

std::size_t Splitter::lineAt(std::size_t offset) {
    line_.number += static_cast<std::size_t>(std::count(text_.begin() + static_cast<std::ptrdiff_t>(line_.offset),
                                                        text_.begin() + static_cast<std::ptrdiff_t>(offset), '\n'));
    line_.offset = offset;
    return line_.number;
}

void Splitter::add(std::size_t firstToken, std::size_t endToken, bool isTerminated, std::size_t regionEnd) {
    StatementSpan span;
    span.start = tokens_[firstToken].start;
    span.length = tokens_[endToken - 1].end() - span.start;
    span.firstToken = firstToken;
    span.endToken = endToken;
    span.line = lineAt(span.start);
    const auto own = tokens_.subspan(firstToken, endToken - firstToken);
    span.kind = own.front().kind == TokenKind::ExecutableComment ? kindInside(own.front()) : kindOf(own);
    span.isTerminated = isTerminated;
    span.regionEnd = std::max(regionEnd, span.end());
    statements_.push_back(span);
}

/// The kind of what an executable comment holds: the server reads it as any other text.
StatementKind Splitter::kindInside(const Token& comment) const {
    std::string_view inside = comment.textIn(text_);
    inside.remove_prefix(std::min(inside.size(), inside.find('!') + 1));
    inside.remove_prefix(std::min(inside.find_first_not_of("0123456789"), inside.size()));
    return kindOf(lex(inside, dialect_));
}

std::vector<StatementSpan> Splitter::split() {
    std::optional<std::size_t> first;
    std::size_t afterLast = 0;
    Body body(dialect_, tokens_);
    const auto finish = [&](bool isTerminated, std::size_t regionEnd) {
        if (first) add(*first, afterLast, isTerminated, regionEnd);
        first.reset();
        body = Body(dialect_, tokens_);
    };
    for (std::size_t i = 0; i < tokens_.size(); ++i) {
        const Token& token = tokens_[i];
        if (token.isTrivia()) continue;
        const bool isLineOfItsOwn = token.kind == TokenKind::BackslashLine || token.kind == TokenKind::DelimiterLine;
        if (isLineOfItsOwn) {
            finish(false, 0);
            continue;
        }
        if (token.kind == TokenKind::CopyData) {  // the COPY before it was just finished: lengthen it
            StatementSpan& copy = statements_.back();
            copy.endToken = i + 1;
            copy.length = token.end() - copy.start;
            copy.regionEnd = token.end();
            continue;
        }
        // A delimiter of the text's own, or GO, ends whatever is open: only a ; may belong to a body.
        const bool isOwn = token.kind == TokenKind::Terminator && token.textIn(text_) != ";";
        const bool endsHere = isOwn || (token.kind == TokenKind::Terminator && !body.isOpen());
        if (endsHere) {
            finish(true, token.end());
            continue;
        }
        if (!first) first = i;
        body.take(i);
        afterLast = i + 1;
        if (body.isFollowed()) continue;
        for (++i; i < tokens_.size() && tokens_[i].kind < TokenKind::Terminator; ++i) {
            if (!tokens_[i].isTrivia()) afterLast = i + 1;
        }
        --i;  // what ends it is for the loop around this one
    }
    finish(false, 0);
    return std::move(statements_);
}

std::vector<StatementSpan> splitStatements(std::string_view text, Language dialect) {
    const std::vector<Token> tokens = lex(text, dialect);
    return Splitter(text, tokens, dialect).split();
}

std::optional<std::size_t> statementAt(std::string_view text, std::span<const StatementSpan> statements,
                                       std::size_t offset) {
    const auto after = std::ranges::upper_bound(statements, offset, {}, &StatementSpan::start);
    const auto index = static_cast<std::size_t>(after - statements.begin());
    if (index > 0 && offset <= statements[index - 1].regionEnd) return index - 1;
    const auto sameLine = [&](std::size_t from, std::size_t to) {
        return text.substr(from, to - from).find('\n') == std::string_view::npos;
    };
    if (index > 0 && sameLine(statements[index - 1].regionEnd, offset)) return index - 1;
    if (index < statements.size()) {
        // Comments directly above a statement belong to it.
        const std::string_view gap = text.substr(offset, statements[index].start - offset);
        if (gap.find("\n\n") == std::string_view::npos && gap.find("\n\r\n") == std::string_view::npos &&
            std::ranges::count(gap, '\n') <= 8 && gap.find_first_not_of(" \t\r\n") != std::string_view::npos) {
            return index;
        }
        if (sameLine(offset, statements[index].start)) return index;
    }
    return std::nullopt;
}

}  // namespace pantry::sql
