#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/dialect.h"
#include "core/sql/token.h"

namespace pantry::sql {

/// Cuts a text into tokens, one after another. Any bytes are accepted.
///
/// Lifetime: views the text it was given.
/// Cost:     linear; constant memory beside the text.
class Lexer {
public:
    /// Requires: text.size() < 4 GiB.
    Lexer(std::string_view text, Dialect dialect, std::size_t startOffset = 0);

    /// The next token, or one of length 0 at the end.
    Token next();

    /// Whether the lexer stands where a fresh one could start: no delimiter of the text's own is in force and
    /// no COPY data is due.
    [[nodiscard]] bool isAtFreshStart() const;

private:
    enum class CopyPhase { None, Copy, From, Due };

    Token scan();
    Token scanQuoted(TokenKind kind, char quote, bool backslash, std::size_t prefix);
    Token scanWord();
    Token scanNumber();
    Token scanOperator();
    Token scanBlockComment();
    Token scanDollar();
    Token scanColon();
    Token scanVariable();
    Token scanQuestion();
    Token scanDelimiterLine();
    Token scanCopyData();
    Token make(TokenKind kind, std::size_t end, bool isClosed = true);

    [[nodiscard]] char at(std::size_t offset) const { return offset < text_.size() ? text_[offset] : '\0'; }
    [[nodiscard]] std::size_t lineEnd(std::size_t offset) const;
    [[nodiscard]] std::size_t wordEnd(std::size_t offset) const;
    [[nodiscard]] bool isFirstOnLine() const;
    [[nodiscard]] bool isGoLine() const;
    [[nodiscard]] bool hasDelimiterHere() const;
    void noteSignificant(const Token& token);
    void endStatement();

    std::string_view text_;
    Dialect dialect_;
    const DialectRules& rules_;
    std::size_t pos_ = 0;
    std::string delimiter_ = ";";
    std::size_t bracketDepth_ = 0;
    bool atStatementStart_ = true;
    CopyPhase copy_ = CopyPhase::None;
    bool copyDataNext_ = false;
};

/// All tokens of `text`.
[[nodiscard]] std::vector<Token> lex(std::string_view text, Dialect dialect);

/// `name` as it must stand in a statement of this dialect: unchanged where that is safe, else quoted.
[[nodiscard]] std::string quotedName(std::string_view name, Dialect dialect);

/// The name that a Word or QuotedName token stands for: quotes taken off, doubled quotes made single.
[[nodiscard]] std::string unquotedName(std::string_view token);

/// `value` as a string literal of this dialect.
[[nodiscard]] std::string quotedString(std::string_view value, Dialect dialect);

}  // namespace pantry::sql
