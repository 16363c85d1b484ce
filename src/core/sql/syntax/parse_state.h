#pragma once

#include <algorithm>
#include <initializer_list>
#include <string>
#include <string_view>
#include <tuple>
#include <vector>

#include "core/sql/syntax/looked_for.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// The parser's hands: looks ahead over trivia, takes tokens, opens and closes nodes.
///
/// Nodes are kept on a stack of finished siblings; closing one adopts all since its mark, so a node can be put
/// around siblings that were parsed before it was known to be needed (a left operand, say).
///
/// Lifetime: views the statement's text.
class ParseState {
public:
    /// `watched` is told what is looked for behind the last token; nullptr when nobody wants to know.
    ParseState(std::string_view text, SyntaxTree& tree, int maxDepth, LookedFor* watched = nullptr);

    /// Whether somebody wants to know only what could come next: nobody will read what is reported.
    [[nodiscard]] bool isOnlyAsked() const { return watched_ != nullptr; }

    // Looking ahead. `n` counts significant tokens, 0 is the next one.
    [[nodiscard]] bool atEnd(std::size_t n = 0) const { return pos_ + n >= significant_.size(); }
    [[nodiscard]] TokenKind kind(std::size_t n = 0) const { return atEnd(n) ? TokenKind::Invalid : token(n).kind; }
    [[nodiscard]] Keyword keyword(std::size_t n = 0) const { return atEnd(n) ? Keyword::None : token(n).keyword; }
    [[nodiscard]] std::string_view text(std::size_t n = 0) const;
    [[nodiscard]] bool at(Keyword k, std::size_t n = 0) const {
        if (!atEnd(n)) return token(n).keyword == k;
        if (isWatched(n)) watched_->keywords.set(static_cast<std::size_t>(k));
        return false;
    }
    [[nodiscard]] bool at(TokenKind k, std::size_t n = 0) const { return !atEnd(n) && kind(n) == k; }
    [[nodiscard]] bool atAny(std::initializer_list<Keyword> keywords, std::size_t n = 0) const {
        if (atEnd(n)) {
            for (const Keyword k : keywords) std::ignore = at(k, n);  // to be noted
            return false;
        }
        const Keyword here = token(n).keyword;
        return here != Keyword::None && std::ranges::find(keywords, here) != keywords.end();
    }
    /// How many opening parentheses follow each other from the n-th token on.
    [[nodiscard]] std::size_t parensFrom(std::size_t n) const;
    /// The token behind the parenthesis that closes the n-th one; beyond the end when nothing closes it.
    [[nodiscard]] std::size_t behindParen(std::size_t n) const;
    /// At the end of the tokens, or at a ; between the statements of a body.
    [[nodiscard]] bool atStop(std::size_t n = 0) const { return atEnd(n) || token(n).endsStatement(); }
    /// Nothing more can follow in what a parenthesis or a statement encloses.
    [[nodiscard]] bool atClose() const { return atStop() || at(TokenKind::CloseParen); }
    [[nodiscard]] bool atOperator(std::string_view op, std::size_t n = 0) const;
    /// A word or quoted name that may serve as a name here.
    [[nodiscard]] bool atName(std::size_t n = 0) const;
    /// Whether blanks or comments stand before the next token.
    [[nodiscard]] bool isApart() const;
    /// At a word that is the first of its line and, with what follows it, begins a statement: where none can begin, the
    /// one before lacks its end.
    [[nodiscard]] bool atNextStatement() const;
    /// The first word of a line.
    [[nodiscard]] bool atLineStart() const;
    /// A name that is not reserved, so that it may be an alias without AS.
    [[nodiscard]] bool atBareAlias() const;

    // Taking.
    void take(TokenRole role = TokenRole::Plain);
    bool takeIf(Keyword k);
    bool takeIf(TokenKind k);
    bool takeIfOperator(std::string_view op);
    /// Takes keywords as long as each is one of these.
    void takeAll(std::initializer_list<Keyword> keywords);
    /// Takes each keyword of the phrase when all of them follow; else nothing.
    bool takePhrase(std::initializer_list<Keyword> phrase);
    /// Takes the token or records what was expected.
    bool expect(Keyword k);
    bool expect(TokenKind k, std::string_view spelled);

    // Nodes.
    using Mark = std::size_t;
    [[nodiscard]] Mark mark() const { return finished_.size(); }
    [[nodiscard]] std::size_t position() const { return pos_; }
    /// Makes a node of everything taken since `fromPosition`, adopting the siblings finished since `from`.
    void close(NodeKind kind, Mark from, std::size_t fromPosition);
    /// Position of the first token of the last finished sibling, for nodes put around it.
    [[nodiscard]] std::size_t startOfLast() const;
    /// Root node over all tokens.
    void finish();

    /// Records that something else was expected here.
    void fail(std::string_view expected);
    /// Records a message at the next token; a second one for the same place is dropped.
    void report(std::string message);
    /// Records that a statement begins here and the one before has no end; what was expected here is missing from that.
    void reportMissingTerminator();
    /// Takes tokens into an Error node up to a closing parenthesis of the outside or a token for which `stop` holds.
    template <class Stop>
    void skipUntil(Stop stop);

    Dialect dialect;
    int depth = 0;           ///< nesting of expressions and queries
    int maxDepth;            ///< how deep it may go
    bool isTooDeep = false;  ///< the nesting went beyond it

private:
    std::uint32_t adopt(std::uint32_t parent, Mark from);
    [[nodiscard]] std::uint32_t place() const;
    [[nodiscard]] bool hasErrorHere() const;
    [[nodiscard]] bool isWatched(std::size_t n) const { return watched_ != nullptr && pos_ + n == ahead_.size(); }
    [[nodiscard]] const Token& token(std::size_t n) const { return ahead_[pos_ + n]; }

    std::string_view text_;
    SyntaxTree& tree_;
    std::vector<std::uint32_t> significant_;  // indices of the tokens that are not silent
    std::vector<Token> ahead_;                // those tokens
    mutable std::vector<std::uint32_t>
        parens_;  // for each significant token, the opening parentheses in a row from it on
    mutable std::vector<std::uint32_t> closing_;  // for each opening parenthesis, the one that closes it
    std::size_t pos_ = 0;
    LookedFor* watched_;
    std::string expected_;  // by the last error
    /// A node that waits for its parent.
    struct Sibling {
        std::uint32_t node;
        std::uint32_t levels;  // that stand below it, itself included
    };
    std::vector<Sibling> finished_;
};

/// A node being parsed: remembers where it began, makes it when it goes out of scope.
class NodeScope {
public:
    NodeScope(ParseState& state, NodeKind kind)
        : state_(state), kind_(kind), mark_(state.mark()), position_(state.position()) {}
    /// Around siblings finished since `mark`, whose first token is at `position`.
    NodeScope(ParseState& state, NodeKind kind, ParseState::Mark mark, std::size_t position)
        : state_(state), kind_(kind), mark_(mark), position_(position) {}
    ~NodeScope() { state_.close(kind_, mark_, position_); }
    NodeScope(const NodeScope&) = delete;
    NodeScope& operator=(const NodeScope&) = delete;
    void become(NodeKind kind) { kind_ = kind; }

private:
    ParseState& state_;
    NodeKind kind_;
    ParseState::Mark mark_;
    std::size_t position_;
};

template <class Stop>
void ParseState::skipUntil(Stop stop) {
    if (atStop()) return;
    const NodeScope error(*this, NodeKind::Error);
    int parens = 0;
    while (!atStop()) {
        if (parens == 0 && (at(TokenKind::CloseParen) || stop() || atNextStatement())) return;
        if (at(TokenKind::OpenParen)) ++parens;
        if (at(TokenKind::CloseParen)) --parens;
        take();
    }
}

}  // namespace pantry::sql
