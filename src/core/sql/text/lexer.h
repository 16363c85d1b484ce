#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"
#include "core/sql/text/token.h"

namespace pantry::sql {

/// Cuts a text into tokens, one after another, and appends them to a list. Any bytes are accepted.
///
/// Lifetime: views the text and the list that it was given.
/// Cost:     linear; constant memory beside the text.
class Lexer {
public:
    /// Requires: text.size() < 4 GiB.
    Lexer(std::string_view text, const Language& language, std::vector<Token>& tokens, std::size_t startOffset = 0);

    /// Appends the next token, a word together with the space after it; false at the end of the text.
    bool next();

    /// Byte offset of the next token.
    [[nodiscard]] std::size_t position() const { return pos_; }

    /// Whether the lexer stands where a fresh one could start: at a statement's start, with no delimiter or way of
    /// quoting of the text's own in force and no COPY data due.
    [[nodiscard]] bool isAtFreshStart() const;

private:
    enum class CopyPhase : std::uint8_t { None, Copy, From, Due };
    /// SET sql_mode and SET standard_conforming_strings change how the rest of a script is read.
    enum class SetPhase : std::uint8_t { None, Set, Mode, Strings };

    void scanNext();
    void scanShortWord();
    void scan(char c);
    void scanBlank();
    void scanQuoted(TokenKind kind, char quote, bool backslash, std::size_t prefix);
    void scanWord();
    bool scanPrefixed(char c, char second);
    [[nodiscard]] bool continuesEscaped() const;
    [[nodiscard]] std::size_t placeholderEnd() const;
    void scanNumber();
    void scanOperator();
    void scanDash();
    void scanBlockComment();
    [[nodiscard]] std::size_t tclNameEnd(std::size_t offset) const;
    void scanDollar();
    void scanColon();
    void scanVariable();
    void scanQuestion();
    void scanDelimiterLine();
    void scanCopyData();
    void make(TokenKind kind, std::size_t end, bool isClosed = true, Keyword keyword = Keyword::None);

    [[nodiscard]] char at(std::size_t offset) const { return offset < text_.size() ? text_[offset] : '\0'; }
    [[nodiscard]] std::size_t lineEnd(std::size_t offset) const;
    [[nodiscard]] std::size_t wordEnd(std::size_t offset) const;
    [[nodiscard]] bool isFirstOnLine() const;
    [[nodiscard]] bool isGoLine() const;
    void noteSignificant(const Token& token);
    void noteKind(const Token& token);
    void noteWord(const Token& token);
    void noteSet(const Token& token);
    void applyMode(std::string_view mode);
    void endStatement();

    std::string_view text_;
    std::vector<Token>& tokens_;
    Dialect dialect_;
    DialectRules rules_;
    DialectRules startRules_;
    std::size_t pos_ = 0;
    std::string delimiter_ = ";";
    std::size_t bracketDepth_ = 0;
    bool hasOwnDelimiter_ = false;
    bool atStatementStart_ = true;
    bool isWatching_ = true;  // the next significant token may change how the text is read
    bool copyDataNext_ = false;
    CopyPhase copy_ = CopyPhase::None;
    SetPhase set_ = SetPhase::None;
};

/// All tokens of `text`.
[[nodiscard]] std::vector<Token> lex(std::string_view text, const Language& language);

/// `name` as it must stand in a statement of this dialect: unchanged where that is safe, else quoted.
[[nodiscard]] std::string quotedName(std::string_view name, Dialect dialect);

/// The name that a Word or QuotedName token stands for: quotes taken off, doubled quotes made single.
[[nodiscard]] std::string unquotedName(std::string_view token);

/// `value` as a string literal of this dialect.
[[nodiscard]] std::string quotedString(std::string_view value, const Language& language);

}  // namespace pantry::sql
