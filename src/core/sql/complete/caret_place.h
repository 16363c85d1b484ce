#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

#include "core/sql/syntax/next_words.h"
#include "core/sql/syntax/script.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// What the tokens before the caret ask for.
enum class Place {
    Nothing,
    StatementStart,
    Relation,
    JoinRelation,
    Expression,
    JoinCondition,
    UsingColumns,
    TargetColumns,
    AfterRelation,
    AfterExpression,
    AfterOrderItem,
    AliasName,
    TypeName,
    Procedure,
    WindowName
};

/// The surroundings of a caret, worked out once: its statement, what was typed of a name so far, the tokens before it,
/// and what they ask for.
///
/// Lifetime: views the script.
class CaretPlace {
public:
    CaretPlace(const Script& script, std::size_t caret);

    /// Whether anything can be offered: not in strings, comments and numbers.
    [[nodiscard]] bool isOpen() const { return isOpen_; }
    [[nodiscard]] std::string_view statement() const { return statement_; }
    [[nodiscard]] const SyntaxTree& tree() const { return tree_; }
    /// What was typed so far of the name at the caret, and the bytes of the text that it takes, also behind the caret.
    [[nodiscard]] const std::string& prefix() const { return prefix_; }
    [[nodiscard]] std::size_t start() const { return start_; }
    [[nodiscard]] std::size_t length() const { return length_; }
    /// The significant token before that name; nothing at the beginning of a statement.
    [[nodiscard]] const std::optional<std::size_t>& before() const { return before_; }
    /// The token that is being written, the dot before it included where nothing follows that; else as many as there
    /// are.
    [[nodiscard]] std::uint32_t written() const;

    [[nodiscard]] bool isAfterDot() const { return before_ && tree_.tokens[*before_].kind == TokenKind::Dot; }
    /// The significant token `n` places before the caret, 0 the nearest; nullptr where there is none.
    [[nodiscard]] const Token* back(std::size_t n) const;
    /// The nearest clause around the caret that matters to it; a call's arguments are one.
    [[nodiscard]] NodeKind clauseAt() const;
    [[nodiscard]] Place place() const;

    /// What the grammar takes at the caret, whatever stands behind it.
    [[nodiscard]] NextWords nextWords() const;

    /// Where FROM would go in the query around the caret; nothing when it has one, or something else behind its list.
    [[nodiscard]] std::optional<std::size_t> placeForFrom() const;
    /// Whether whoever writes here writes keywords in small letters: those before the caret, the nearest ones.
    [[nodiscard]] bool writesSmall() const { return writesSmall_; }

private:
    void locate(const Script& script, std::size_t caret);
    void notePrefix(std::size_t caret, std::size_t base);
    [[nodiscard]] bool isWrittenName(const Token& token, std::size_t caret) const;
    [[nodiscard]] Keyword wordBack(std::size_t n) const;
    [[nodiscard]] bool isInCast() const;
    [[nodiscard]] bool namesColumn() const;
    [[nodiscard]] bool isStarItem(const Token& token) const;
    [[nodiscard]] bool endsValue(const Token& token) const;

    bool isOpen_ = false;
    bool writesSmall_ = false;
    std::string_view statement_;
    std::size_t base_ = 0;  // where the statement begins in the text
    SyntaxTree tree_;
    std::string prefix_;
    std::size_t start_ = 0;
    std::size_t length_ = 0;
    std::optional<std::size_t> before_;
    std::optional<std::size_t> prefixToken_;
};

}  // namespace pantry::sql
