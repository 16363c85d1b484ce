#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax/syntax_tree.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

enum class KeywordCase { Upper, Lower, Keep };
enum class CommaPlace { Trailing, Leading };      ///< at the end of a line, or at the beginning of the next
enum class LogicPlace { LineStart, LineEnd };     ///< of AND and OR in conditions over several lines
enum class SelectItems { OnePerLine, Filled };    ///< when a list does not fit on a line
enum class Alignment { Definitions, All, None };  ///< in columns: CREATE TABLE, names in select lists too, nothing

struct FormatOptions {
    std::size_t width = 88;       ///< columns to fill before a line breaks
    std::size_t indentWidth = 4;  ///< spaces
    KeywordCase keywords = KeywordCase::Upper;
    CommaPlace commas = CommaPlace::Trailing;
    LogicPlace logic = LogicPlace::LineStart;
    SelectItems selectItems = SelectItems::OnePerLine;
    Alignment alignment = Alignment::Definitions;
    friend bool operator==(const FormatOptions&, const FormatOptions&) = default;
};

/// A statement that formatting left as it is, since it could not be read. Offsets are bytes.
struct UnreadStatement {
    std::size_t start = 0;            ///< where the statement begins
    std::size_t offset = 0;           ///< where it could not be read
    std::size_t formattedOffset = 0;  ///< the same place in the formatted text
    std::string message;
    friend bool operator==(const UnreadStatement&, const UnreadStatement&) = default;
};

/// Whether a statement can be laid out: without errors, of a kind that has a grammar, without data of COPY.
[[nodiscard]] bool canFormat(const SyntaxTree& tree);

/// What keeps a statement that begins at `start` of a text from being read; nothing when it can be.
[[nodiscard]] std::optional<UnreadStatement> unreadStatement(const SyntaxTree& tree, std::size_t start);

/// Lays out a text of statements. No token changes but for the case of keywords, every comment stays, formatting
/// twice changes nothing; a statement with a syntax error, or of a kind without a grammar, stays as it is, and so
/// do backslash lines and COPY data. At most one blank line is kept between statements.
/// Those with errors are told in `unread`, in their order.
[[nodiscard]] std::string formatScript(std::string_view text, Language dialect, const FormatOptions& options = {},
                                       std::vector<UnreadStatement>* unread = nullptr);

/// One statement's text laid out from column 0, without its terminator; the text itself when it cannot be.
[[nodiscard]] std::string formatStatement(std::string_view statement, const SyntaxTree& tree,
                                          const FormatOptions& options = {});

/// A formatted text with the caret carried along on its token.
struct FormattedText {
    std::string text;
    std::size_t caret = 0;                ///< byte offset
    std::vector<UnreadStatement> unread;  ///< with places of the text as it was
};
[[nodiscard]] FormattedText formatKeepingCaret(std::string_view text, std::size_t caret, Language dialect,
                                               const FormatOptions& options = {});

/// Whether two texts have the same tokens in the same order, and the same comments in the same order, apart from the
/// case of unquoted words.
[[nodiscard]] bool haveSameTokens(std::string_view a, std::string_view b, Language dialect);

}  // namespace pantry::sql
