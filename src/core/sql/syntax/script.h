#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax/splitter.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// A statement of a script with its tree; the tree is shared, since it survives edits elsewhere.
struct ScriptStatement {
    StatementSpan span;
    std::shared_ptr<const SyntaxTree> tree;
    bool isFreshAfter = false;  ///< what follows its terminator can be read without what stands before
    std::size_t textHash = 0;   ///< of its bytes; see statementHash()
};

/// What statements with the same bytes have in common, and hardly any others.
[[nodiscard]] inline std::size_t statementHash(std::string_view text) { return std::hash<std::string_view>()(text); }

/// The text of a sheet as statements. After an edit only statements that it touched are lexed and parsed again.
///
/// Threads: one at a time; a copy is a value of its own that shares the trees, so that another thread may read it while
///          this one goes on.
/// Cost:    setText() compares with the last text and reads what changed; the rest is moved, which is a matter of
///          microseconds for thousands of lines.
class Script {
public:
    explicit Script(const Language& language) : language_(language) {}

    void setText(std::string_view text);
    /// Everything is parsed again.
    void setLanguage(const Language& language);

    [[nodiscard]] Dialect dialect() const { return language_.dialect; }
    [[nodiscard]] const Language& language() const { return language_; }
    [[nodiscard]] const std::string& text() const { return text_; }
    [[nodiscard]] const std::vector<ScriptStatement>& statements() const { return statements_; }
    /// The bytes of one of them, as long as the script keeps its text.
    [[nodiscard]] std::string_view textOf(std::size_t statement) const {
        const StatementSpan& span = statements_[statement].span;
        return std::string_view(text_).substr(span.start, span.length);
    }

    /// All tokens of the text; a statement's span says which are its own.
    [[nodiscard]] const std::vector<Token>& tokens() const { return tokens_; }

    /// The statement that a caret at `offset` means; see statementAt().
    [[nodiscard]] std::optional<std::size_t> indexAt(std::size_t offset) const;

    /// How many statements the last setText() parsed; the others were kept.
    [[nodiscard]] std::size_t lastParsedCount() const { return parsedCount_; }

private:
    struct Edit;
    /// What was read anew: tokens from `start` on, the statements among them, and the old statement to go on with.
    struct Window {
        std::size_t start = 0;
        std::vector<Token> tokens;
        std::vector<StatementSpan> spans;
        std::vector<bool> isFreshAfter;
        std::size_t resume = 0;
        bool meets = false;  ///< an old statement's end was met; else the window reaches to the end of the text
    };

    [[nodiscard]] std::size_t statementsBefore(std::size_t offset) const;
    [[nodiscard]] std::size_t lineOf(std::size_t offset, std::size_t kept) const;
    [[nodiscard]] Window read(std::string_view text, const Edit& edit, std::size_t kept) const;
    void replace(std::string_view text, const Edit& edit, std::size_t kept, const Window& window);
    [[nodiscard]] std::vector<ScriptStatement> parseWindow(std::string_view text, std::size_t kept,
                                                           const Window& window, std::size_t firstToken);
    [[nodiscard]] std::size_t tokenAt(std::size_t offset) const;

    Language language_;
    std::string text_;
    std::vector<Token> tokens_;
    std::vector<ScriptStatement> statements_;
    std::size_t parsedCount_ = 0;
};

}  // namespace pantry::sql
