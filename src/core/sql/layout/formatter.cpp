#include "core/sql/layout/formatter.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/layout/statement_layout.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Whether `formatted` reads as the tokens of `text` again, but for blanks and the case of words. It is read piece by
/// piece, so that the check takes no memory. Comments are compared by themselves: one may change places with a comma.
class TokenComparison {
public:
    TokenComparison(std::span<const Token> tokens, std::string_view text) : tokens_(tokens), text_(text) {}

    bool matches(std::string_view formatted, const Language& language) {
        constexpr std::size_t kPiece = 512;
        std::vector<Token> piece;
        piece.reserve(kPiece + 1);
        Lexer lexer(formatted, language, piece);
        for (bool hasMore = true; hasMore;) {
            piece.clear();
            while (hasMore && piece.size() < kPiece) hasMore = lexer.next();
            for (const Token& token : piece) {
                if (token.kind == TokenKind::Blank) continue;
                const Token* other = token.isComment() ? nextComment() : nextSignificant();
                if (other == nullptr || !isSame(*other, token, formatted)) return false;
            }
        }
        return nextComment() == nullptr && nextSignificant() == nullptr;
    }

private:
    const Token* nextSignificant() {
        while (significant_ < tokens_.size() && tokens_[significant_].isTrivia()) ++significant_;
        return significant_ < tokens_.size() ? &tokens_[significant_++] : nullptr;
    }
    const Token* nextComment() {
        while (comment_ < tokens_.size() && !tokens_[comment_].isComment()) ++comment_;
        return comment_ < tokens_.size() ? &tokens_[comment_++] : nullptr;
    }
    [[nodiscard]] bool isSame(const Token& own, const Token& other, std::string_view formatted) const {
        if (own.kind != other.kind || own.length != other.length) return false;
        const std::string_view s = own.textIn(text_);
        const std::string_view t = other.textIn(formatted);
        return s == t || (own.kind == TokenKind::Word && base::equalsIgnoringCase(s, t));
    }

    std::span<const Token> tokens_;
    std::string_view text_;
    std::size_t significant_ = 0;
    std::size_t comment_ = 0;
};

/// A statement laid out, or itself when it cannot be.
std::string laidOut(std::string_view statement, const SyntaxTree& tree, const FormatOptions& options) {
    if (!canFormat(tree)) return std::string(statement);
    std::string formatted;
    tree.visit([&] { formatted = StatementLayout(statement, tree, options).print(); });
    return formatted;
}

/// Builds the script's new text piece by piece: statements laid out, what lies between them tidied.
class ScriptFormatter {
public:
    ScriptFormatter(std::string_view text, Language dialect, const FormatOptions& options)
        : text_(text), dialect_(dialect), options_(options), tokens_(lex(text, dialect)) {}

    /// The text laid out. People run this on what they cannot test: whatever the rules did, the tokens must be the
    /// same. That is seen on the whole; only where it fails, statement by statement.
    std::string format() {
        std::string formatted = pass();
        if (isSame(formatted)) return formatted;
        checksEach_ = true;
        formatted = pass();
        return isSame(formatted) ? formatted : std::string(text_);
    }

    /// What the last pass could not read.
    [[nodiscard]] std::vector<UnreadStatement> takeUnread() { return std::move(unread_); }

private:
    [[nodiscard]] bool isSame(std::string_view formatted) const {
        return TokenComparison(tokens_, text_).matches(formatted, dialect_);
    }

    std::string pass() {
        out_.clear();
        unread_.clear();
        out_.reserve(text_.size() * 5 / 4);
        std::size_t token = 0;
        for (const StatementSpan& span : Splitter(text_, tokens_, dialect_).split()) {
            between(token, span.firstToken);
            statement(span);
            token = span.endToken;
        }
        between(token, tokens_.size());
        return std::move(out_);
    }

    /// Comments, terminators and lines of their own between statements: kept, blank lines at most one.
    void between(std::size_t from, std::size_t to) {
        for (std::size_t i = from; i < to; ++i) {
            const Token& token = tokens_[i];
            const std::string_view piece = token.textIn(text_);
            if (token.kind == TokenKind::Blank) {
                blank(piece, i == 0, i + 1 == tokens_.size());
            } else {
                out_ += piece;
            }
        }
    }

    void blank(std::string_view piece, bool isFirst, bool isLast) {
        const auto breaks = std::ranges::count(piece, '\n');
        if (isFirst) return;
        if (breaks > 0) {
            const std::string_view lineBreak = piece.find("\r\n") != std::string_view::npos ? "\r\n" : "\n";
            const std::ptrdiff_t most = isLast ? 1 : 2;
            for (std::ptrdiff_t n = 0; n < std::min(breaks, most); ++n) out_ += lineBreak;
        } else if (!isLast) {
            out_ += ' ';
        }
    }

    [[nodiscard]] char lastByte() const { return out_.empty() ? '\n' : out_.back(); }

    void statement(const StatementSpan& span) {
        const std::string_view original = text_.substr(span.start, span.length);
        const auto own = std::span(tokens_).subspan(span.firstToken, span.endToken - span.firstToken);
        const SyntaxTree tree = parseStatement(original, own, span.start, span.kind, dialect_);
        auto unread = unreadStatement(tree, span.start);
        const bool startsLine = lastByte() == '\n';
        const bool afterTerminator = !startsLine && span.firstToken > 0 && canFormat(tree);
        if (afterTerminator) {  // two statements on a line get a line each
            while (!out_.empty() && out_.back() == ' ') out_.pop_back();
            if (endsStatement(span.firstToken)) {
                out_ += '\n';
            } else {
                out_ += ' ';
            }
        }
        if (unread) {
            unread->formattedOffset = out_.size() + unread->offset - span.start;
            unread_.push_back(std::move(*unread));
        }
        out_ += checksEach_ ? formatStatement(original, tree, options_) : laidOut(original, tree, options_);
    }

    /// Whether the last token before this one that is not blank ends a statement.
    [[nodiscard]] bool endsStatement(std::size_t token) const {
        while (token > 0) {
            const Token& before = tokens_[--token];
            if (before.kind == TokenKind::Blank) continue;
            return before.kind == TokenKind::Terminator;
        }
        return false;
    }

    std::string_view text_;
    Language dialect_;
    const FormatOptions& options_;
    std::vector<Token> tokens_;
    std::string out_;
    bool checksEach_ = false;
    std::vector<UnreadStatement> unread_;
};

/// Tokens that are no blanks.
std::vector<Token> withoutBlanks(std::string_view text, Language dialect) {
    std::vector<Token> tokens = lex(text, dialect);
    std::erase_if(tokens, [](const Token& token) { return token.kind == TokenKind::Blank; });
    return tokens;
}

}  // namespace

bool canFormat(const SyntaxTree& tree) {
    if (tree.hasErrors() || tree.isBeyondWalking()) return false;
    const bool hasData = std::ranges::any_of(tree.tokens, [](const Token& t) { return t.kind == TokenKind::CopyData; });
    if (hasData) return false;
    return std::ranges::none_of(
        tree.nodes, [](const Node& node) { return node.kind == NodeKind::Error || node.kind == NodeKind::Opaque; });
}

std::optional<UnreadStatement> unreadStatement(const SyntaxTree& tree, std::size_t start) {
    if (!tree.hasErrors()) return std::nullopt;
    const SyntaxError& error = tree.errors.front();
    std::size_t offset = start;
    if (error.token < tree.tokens.size()) {
        offset += tree.tokens[error.token].start;
    } else if (!tree.tokens.empty()) {
        offset += tree.tokens.back().end();
    }
    return UnreadStatement{start, offset, offset, error.message};
}

bool haveSameTokens(std::string_view a, std::string_view b, Language dialect) {
    return TokenComparison(lex(a, dialect), a).matches(b, dialect);
}

std::string formatStatement(std::string_view statement, const SyntaxTree& tree, const FormatOptions& options) {
    std::string formatted = laidOut(statement, tree, options);
    const bool isSame = TokenComparison(tree.tokens, statement).matches(formatted, tree.language);
    return isSame ? formatted : std::string(statement);
}

std::string formatScript(std::string_view text, Language dialect, const FormatOptions& options,
                         std::vector<UnreadStatement>* unread) {
    ScriptFormatter formatter(text, dialect, options);
    std::string formatted = formatter.format();
    if (unread != nullptr) *unread = formatter.takeUnread();
    return formatted;
}

FormattedText formatKeepingCaret(std::string_view text, std::size_t caret, Language dialect,
                                 const FormatOptions& options) {
    FormattedText result;
    result.text = formatScript(text, dialect, options, &result.unread);
    const std::vector<Token> before = withoutBlanks(text, dialect);
    const std::vector<Token> after = withoutBlanks(result.text, dialect);
    // The token the caret is in or stands behind; tokens are the same on both sides.
    std::size_t index = 0;
    while (index < before.size() && before[index].end() < caret) ++index;
    if (index >= before.size() || index >= after.size()) {
        result.caret = result.text.size();
    } else {
        const std::size_t within = caret > before[index].start ? caret - before[index].start : 0;
        result.caret = after[index].start + std::min<std::size_t>(within, after[index].length);
    }
    return result;
}

}  // namespace pantry::sql
