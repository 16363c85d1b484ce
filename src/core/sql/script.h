#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/splitter.h"
#include "core/sql/syntax_tree.h"

namespace pantry::sql {

/// A statement of a script with its tree; the tree is shared, since it survives edits elsewhere.
struct ScriptStatement {
    StatementSpan span;
    std::shared_ptr<const SyntaxTree> tree;
};

/// The text of a sheet as statements. After an edit only statements that it touched are parsed again.
///
/// Threads: one at a time.
/// Cost:    setText() compares with the last text, lexes what changed and parses what is new.
class Script {
public:
    explicit Script(Dialect dialect) : dialect_(dialect) {}

    void setText(std::string_view text);
    /// Everything is parsed again.
    void setDialect(Dialect dialect);

    [[nodiscard]] Dialect dialect() const { return dialect_; }
    [[nodiscard]] const std::string& text() const { return text_; }
    [[nodiscard]] const std::vector<ScriptStatement>& statements() const { return statements_; }

    /// All tokens of the text; a statement's span says which are its own.
    [[nodiscard]] const std::vector<Token>& tokens() const { return tokens_; }

    /// The statement that a caret at `offset` means; see statementAt().
    [[nodiscard]] std::optional<std::size_t> indexAt(std::size_t offset) const;

    /// How many statements the last setText() parsed; the others were kept.
    [[nodiscard]] std::size_t lastParsedCount() const { return parsedCount_; }

private:
    Dialect dialect_;
    std::string text_;
    std::vector<Token> tokens_;
    std::vector<ScriptStatement> statements_;
    std::size_t parsedCount_ = 0;
};

}  // namespace pantry::sql
