#pragma once

#include <cstdint>
#include <string_view>

#include "core/sql/text/keyword.h"

namespace pantry::sql {

enum class TokenKind : std::uint8_t {
    Blank,
    LineComment,
    BlockComment,
    ExecutableComment,  ///< /*! … */, which the server reads as text
    Word,               ///< an unquoted name or a keyword
    QuotedName,
    String,  ///< every quoted literal: '…', E'…', $tag$ … $tag$, B'…', X'…'
    Number,
    Parameter,  ///< :name $1 ? ?1 and the like
    Variable,   ///< @name @@name
    Operator,
    Comma,
    Dot,
    OpenParen,
    CloseParen,
    OpenBracket,
    CloseBracket,
    Semicolon,  ///< a ; that does not end a statement, since another delimiter is in force
    Invalid,    ///< a byte that no rule knows
    // From here on: what ends a statement, or is none.
    Terminator,     ///< what ends a statement: ; or the delimiter in force, or a GO line
    BackslashLine,  ///< a line that begins with \: for some other program, never sent
    DelimiterLine,  ///< DELIMITER //
    CopyData,       ///< the lines after COPY … FROM STDIN; up to and with \.
};

/// A piece of the text. Tokens follow each other without a gap: every byte is in exactly one.
struct Token {
    std::uint32_t start = 0;  ///< byte offset
    std::uint32_t length = 0;
    Keyword keyword = Keyword::None;  ///< for a Word
    TokenKind kind = TokenKind::Blank;
    bool isClosed = true;  ///< false for a string, name or comment whose end is missing

    [[nodiscard]] std::uint32_t end() const { return start + length; }
    [[nodiscard]] std::string_view textIn(std::string_view text) const { return text.substr(start, length); }
    [[nodiscard]] bool isComment() const { return kind == TokenKind::LineComment || kind == TokenKind::BlockComment; }
    /// Blanks and comments: no part of a statement.
    [[nodiscard]] bool isTrivia() const { return kind == TokenKind::Blank || isComment(); }
    /// What the grammar passes over: trivia, and executable comments, whose inside depends on the server's version.
    [[nodiscard]] bool isSilent() const { return isTrivia() || kind == TokenKind::ExecutableComment; }
    /// Ends a statement, or one of those inside a routine's body.
    [[nodiscard]] bool endsStatement() const { return kind == TokenKind::Terminator || kind == TokenKind::Semicolon; }
    [[nodiscard]] bool is(Keyword k) const { return keyword == k && k != Keyword::None; }
    friend bool operator==(const Token&, const Token&) = default;
};

}  // namespace pantry::sql
