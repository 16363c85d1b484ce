#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/dialect.h"
#include "core/sql/text/token.h"

namespace pantry::sql {

/// A statement's place in a text: from its first significant token to its last, comments between them
/// included; the terminator and what surrounds it are not.
struct StatementSpan {
    std::size_t start = 0;       ///< byte offset
    std::size_t length = 0;      ///< in bytes, never 0
    std::size_t firstToken = 0;  ///< index of its first token
    std::size_t endToken = 0;    ///< index after its last token
    std::size_t line = 1;        ///< line of its first byte, from 1
    StatementKind kind = StatementKind::Other;
    bool isTerminated = false;  ///< a terminator follows
    std::size_t regionEnd = 0;  ///< byte offset after the terminator, or after the last token without one

    [[nodiscard]] std::size_t end() const { return start + length; }
    friend bool operator==(const StatementSpan&, const StatementSpan&) = default;
};

/// Cuts a token sequence into statements. Bodies of routines and triggers (BEGIN … END) stay whole, COPY data
/// belongs to its COPY.
///
/// Lifetime: views tokens and text.
class Splitter {
public:
    /// A place in the text, and the line (from 1) that it is on.
    struct Line {
        std::size_t offset = 0;
        std::size_t number = 1;
    };
    /// Lines are counted from `known`, which must not lie behind the first token.
    Splitter(std::string_view text, std::span<const Token> tokens, Language dialect, Line known);
    Splitter(std::string_view text, std::span<const Token> tokens, Language dialect)
        : Splitter(text, tokens, dialect, Line()) {}

    /// All statements in order.
    [[nodiscard]] std::vector<StatementSpan> split();

private:
    struct Body;
    void add(std::size_t firstToken, std::size_t endToken, bool isTerminated, std::size_t regionEnd);
    [[nodiscard]] StatementKind kindInside(const Token& comment) const;
    [[nodiscard]] std::size_t lineAt(std::size_t offset);

    std::string_view text_;
    std::span<const Token> tokens_;
    Language dialect_;
    std::vector<StatementSpan> statements_;
    Line line_;  // counted so far
};

[[nodiscard]] std::vector<StatementSpan> splitStatements(std::string_view text, Language dialect);

/// Index of the statement that a caret at `offset` means: the one it stands in or touches; else the one on whose
/// line it stands behind; nullopt on an empty place.
[[nodiscard]] std::optional<std::size_t> statementAt(std::string_view text, std::span<const StatementSpan> statements,
                                                     std::size_t offset);

}  // namespace pantry::sql
