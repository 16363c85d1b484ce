#pragma once

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::markdown {

enum class TokenKind : std::uint8_t { Plain, Heading, Strong, Emphasis, Code, Link, Quote, Mark };

/// Bytes of a text that look alike; Plain ones are left out.
struct Token {
    std::uint32_t start = 0;
    std::uint32_t length = 0;
    TokenKind kind = TokenKind::Plain;
    friend bool operator==(const Token&, const Token&) = default;
};

/// A block between fences.
struct CodeBlock {
    std::string language;   ///< the first word behind the opening fence, in small letters; empty for none
    std::size_t start = 0;  ///< bytes of the lines between the fences
    std::size_t end = 0;
    std::size_t fenceEnd = 0;  ///< behind the closing fence; `end` where that is missing
    bool isPlain = true;       ///< its lines begin with nothing that belongs to a quote
    friend bool operator==(const CodeBlock&, const CodeBlock&) = default;

    /// Whether statements of a connection stand in it.
    [[nodiscard]] bool isSql() const { return isPlain && language == "sql"; }
};

/// Lines that can be folded away behind their first, counted from 0: what a heading stands over, and blocks of code.
struct Fold {
    std::size_t firstLine = 0;
    std::size_t lastLine = 0;
    friend bool operator==(const Fold&, const Fold&) = default;
};

/// What an editor needs to know of a Markdown text (CommonMark with GitHub's additions, read by libcmark-gfm).
struct Outline {
    std::vector<Token> tokens;  ///< in order; none overlaps another
    std::vector<CodeBlock> blocks;
    std::vector<Fold> folds;  ///< in the order in which they begin
};

/// Any bytes are taken; every text is Markdown.
/// Cost: grows with the text.
[[nodiscard]] Outline outlineOf(std::string_view text);

/// The text with nothing but its blocks of SQL: every other byte is a blank, but line ends stay, so that each byte is
/// where it was. A closing fence becomes a semicolon: no statement goes on from one block into the next.
[[nodiscard]] std::string sqlOf(std::string_view text, const std::vector<CodeBlock>& blocks);

/// Whether a file is Markdown by its name.
[[nodiscard]] bool isMarkdownName(std::string_view fileName);

}  // namespace pantry::markdown
